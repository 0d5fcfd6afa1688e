// The same log and pool in every dialect give the same answer; every kind of broken file gives its line and no output.
#include "temporary.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include <cmath>
#include <cstdlib>
#include <sys/wait.h>

using ingot::tests::Temporary;
using Json = nlohmann::json;

namespace {

struct DialectRun {
    int exit = 0;
    std::string out, err;
};

DialectRun run(const std::string& verb, const std::string& options, const std::string& input) {
    static const Temporary folder;
    const std::string in = folder.write("input.csv", input);
    const int status = std::system((std::string(INGOT_BINARY_DIR) + "/ingot-cli " + verb + " " + in + " " + options +
                                    " >" + folder.file("out") + " 2>" + folder.file("err"))
                                       .c_str());
    std::string err = Temporary::read(folder.file("err"));
    if (err.compare(0, in.size(), in) == 0)
        err = "FILE" + err.substr(in.size());
    return {WEXITSTATUS(status), Temporary::read(folder.file("out")), err};
}

struct Dialect {
    std::string separator = ",";
    bool decimal_comma = false;
    std::string end = "\n";
    bool mark = false;
    double volt = 1, ampere = 1, second = 1;
    std::vector<std::string> header{"Test Time / s", "Voltage / V", "Current / A"};
    std::vector<int> order{0, 1, 2};
    bool extra = false;
};

std::string number(double v, bool comma) {
    std::string text = Json(v).dump();
    if (const auto at = text.find('.'); comma && at != std::string::npos)
        text[at] = ',';
    return text;
}

std::string log_in(const Dialect& d) {
    std::string text = d.mark ? "\xEF\xBB\xBF" : "";
    const auto row = [&](const std::vector<std::string>& cells) {
        for (std::size_t i = 0; i < cells.size(); ++i)
            text += (i > 0 ? d.separator : "") + cells[static_cast<std::size_t>(d.order[i])];
        text += (d.extra ? d.separator + "x" : "") + d.end;
    };
    row(d.header);
    for (int i = 0; i <= 360; ++i) {
        const double amps = i < 120 ? 1.0 : (i < 150 ? 0.0 : -0.5);
        const double volts = i < 120 ? 3.3 + i * 0.0075 : (i < 150 ? 4.15 : 4.1 - (i - 150) * 0.00525);
        row({number(i * 60 / d.second, d.decimal_comma),
             number(std::round(volts / d.volt * 1e6) / 1e6, d.decimal_comma),
             number(amps / d.ampere, d.decimal_comma)});
    }
    return text;
}

} // namespace

TEST_CASE("One log, many dialects, one result") {
    Dialect plain;
    const Json expected = Json::parse(run("capacity", "--cutoff 3.0 --json", log_in(plain)).out);
    CHECK(expected["discharge_capacity_ah"].get<double>() == Approx(0.5 * 210 * 60 / 3600.0));
    std::vector<Dialect> dialects(8);
    dialects[0].separator = ";";
    dialects[0].decimal_comma = true;
    dialects[1].separator = "\t";
    dialects[1].end = "\r\n";
    dialects[2].mark = true;
    dialects[2].extra = true;
    dialects[3].header = {"Test Time [s]", "Voltage (mV)", "Current_mA"};
    dialects[3].volt = dialects[3].ampere = 1e-3;
    dialects[4].order = {2, 0, 1};
    dialects[5].header = {"Time / min", "voltage/V", "CURRENT / A"};
    dialects[5].second = 60;
    dialects[6].separator = ";";
    dialects[6].decimal_comma = true;
    dialects[6].mark = true;
    dialects[6].end = "\r\n";
    dialects[6].header = {"Test Time_s", "Voltage [V]", "Current [mA]"};
    dialects[6].ampere = 1e-3;
    dialects[7].ampere = -1; // discharge counted positive
    for (std::size_t i = 0; i < dialects.size(); ++i) {
        CAPTURE(i);
        const DialectRun r = run("capacity", "--cutoff 3.0 --json", log_in(dialects[i]));
        INFO(r.err);
        REQUIRE(r.exit == 0);
        const Json j = Json::parse(r.out);
        CHECK(j["discharge_capacity_ah"].get<double>() ==
              Approx(expected["discharge_capacity_ah"].get<double>()).epsilon(1e-6));
        CHECK(j["discharge_energy_wh"].get<double>() ==
              Approx(expected["discharge_energy_wh"].get<double>()).epsilon(1e-6));
        CHECK(j["charge_capacity_ah"].get<double>() ==
              Approx(expected["charge_capacity_ah"].get<double>()).epsilon(1e-6));
        CHECK(j["steps"].size() == expected["steps"].size());
        CHECK(j["warnings"].size() == (i == 7 ? 1 : 0));
    }
}

TEST_CASE("Every kind of broken log: exit 3, FILE:LINE, a remedy, nothing on standard output") {
    const std::string head = "Test Time / s,Voltage / V,Current / A\n";
    const std::string row = "0,3.7,0.5\n";
    struct Broken {
        const char* what;
        std::string text;
        std::string where;
    };
    const Broken broken[] = {
        {"empty", "", "FILE:1:"},
        {"blank lines only", "\n\n\n", "FILE:"},
        {"header only", head, "FILE:1:"},
        {"no voltage column", "Test Time / s,Current / A\n0,1\n", "FILE:1:"},
        {"unknown unit", "Test Time / s,Voltage / furlong,Current / A\n0,1,2\n", "FILE:1:"},
        {"column twice", "Test Time / s,Voltage / V,Voltage / V,Current / A\n0,1,1,2\n", "FILE:1:"},
        {"a word for a number", head + row + "10,oops,0.5\n" + row, "FILE:3:"},
        {"two decimal signs", head + row + "10,\"1.234,5\",0.5\n", "FILE:3:"},
        {"a blank voltage", head + row + "10,,0.5\n", "FILE:3:"},
        {"too few columns in the middle", head + row + "10,3.7\n20,3.7,0.5\n", "FILE:3:"},
        {"too many columns", head + row + "10,3.7,0.5,9,9\n", "FILE:3:"},
        {"time runs backwards", head + "10,3.7,0.5\n5,3.7,0.5\n", "FILE:3:"},
        {"not a number", head + row + "10,nan,0.5\n", "FILE:3:"},
        {"infinite", head + row + "10,3.7,inf\n", "FILE:3:"},
        {"an open quote", head + row + "10,\"3.7,0.5\n20,3.7,0.5\n", "FILE:3:"},
        {"binary", std::string("\x1f\x8b\0\0\0\0", 6), "FILE:1:"},
        {"sixteen-bit text", std::string("\xff\xfeT\0e\0s\0t\0", 10), "FILE:1:"},
    };
    for (const Broken& b : broken) {
        INFO(b.what);
        const DialectRun r = run("capacity", "--json", b.text);
        INFO(r.err);
        CHECK(r.exit == 3);
        CHECK(r.out.empty());
        CHECK(r.err.compare(0, b.where.size(), b.where) == 0);
        CHECK(r.err.size() > b.where.size() + 20); // a sentence, not a code
        CHECK(std::count(r.err.begin(), r.err.end(), '\n') == 1);
    }
}

TEST_CASE("Every kind of broken pool, for both verbs that read one") {
    const std::string broken[] = {"",
                                  "Cell ID\n",
                                  "Capacity / Ah\n2\n",
                                  "Cell ID,Capacity / Ah\na,2\na,3\n",
                                  "Cell ID,Capacity / Ah\na,two\n",
                                  "Cell ID,Capacity / V\na,2\n",
                                  "Cell ID,DC Resistance / Ohm\na,-1\n",
                                  "Cell ID,Capacity / Ah\na,2,3\n"};
    for (const std::string& text : broken)
        for (const auto& [verb, options] :
             {std::pair<std::string, std::string>{"sort", "--rules capacity-tested --json"},
              {"match", "--series 1 --parallel 1 --json"}}) {
            INFO(verb << ": " << text);
            const DialectRun r = run(verb, options, text);
            CHECK(r.exit == 3);
            CHECK(r.out.empty());
            CHECK(r.err.compare(0, 5, "FILE:") == 0);
        }
}

TEST_CASE("A cut last line is dropped with a warning, by every verb") {
    const Json log = Json::parse(
        run("capacity", "--json", "Test Time / s,Voltage / V,Current / A\n0,4.1,-0.5\n10,3.0,-0.5\n20,3.").out);
    CHECK(log["warnings"].back().get<std::string>().find("cut off") != std::string::npos);
    const Json pool =
        Json::parse(run("match", "--series 1 --parallel 2 --json", "Cell ID,Capacity / Ah\na,2\nb,2.1\nc").out);
    CHECK(pool["warnings"].back().get<std::string>().find("cut off") != std::string::npos);
    CHECK(pool["groups"][0]["cells"].size() == 2);
}

TEST_CASE("Units without this or that are counted in the warnings, not invented") {
    std::string pool = "Cell ID,Capacity / Ah,DC Resistance / Ohm,Self-discharge / mAh/day\n";
    for (int i = 0; i < 12; ++i)
        pool += "u" + std::to_string(i) + "," + (i == 0 ? "" : std::to_string(2.0 + 0.01 * i)) + "," +
                (i % 3 == 1 ? "" : "0.05") + "," + (i % 4 == 1 ? "" : "0.6") + "\n";
    const Json j = Json::parse(run("match", "--series 2 --parallel 3 --json", pool).out);
    CHECK(j["warnings"].size() == 3);
    for (const Json& g : j["groups"])
        for (const Json& id : g["cells"])
            CHECK(id != "u0");
    CHECK(j["conductance_spread"].is_number());
    const Json none = Json::parse(
        run("match", "--series 2 --parallel 3 --json", "Cell ID,Capacity / Ah\na,2\nb,2\nc,2\nd,2\ne,2\nf,2\n").out);
    CHECK(none["conductance_spread"].is_null());
    CHECK(none["leak_spread_mah_per_day"].is_null());
    CHECK(none["proved"] == true);
    CHECK(none["usable_capacity_ah"].get<double>() == Approx(6.0));
}
