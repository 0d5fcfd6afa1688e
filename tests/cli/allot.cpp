// allot from a shell.
#include "command.h"

#include <catch2/catch.hpp>

#include <set>

using ingot::tests::Ran;
using ingot::tests::run;
using ingot::tests::Temporary;
using Json = nlohmann::json;

namespace {
const std::string pools = std::string(INGOT_SOURCE_DIR) + "/tests/reference/";
}

TEST_CASE("allot: the keys and values of the contract") {
    const Temporary folder;
    (void)folder.write("survivors.csv", "Cell ID,Capacity / Ah,Model\ns1,1.90,M25\ns2,1.92,M25\ns3,1.86,M25\n");
    const std::string builds = folder.write(
        "builds.csv", "Build,Series,Parallel,Priority,Usable Capacity / Ah,Give Up / %,Like\n"
                      "mower,7,4,1,,0,\nlantern,4,2,2,4.0,,\nrefill,2,3,2,,,survivors.csv\nhuge,90,9,3,,,\n");
    const std::string out = folder.file("assign.csv");
    const Ran r = run("allot " + pools + "c501.csv " + builds + " --json --out " + out);
    REQUIRE(r.exit == 0);
    const Json j = r.json();
    REQUIRE(j["builds"].size() == 4);
    for (const Json& build : j["builds"])
        for (const char* key : {"build", "filled", "usable_capacity_ah", "bound_ah", "capacity_spread",
                                "conductance_spread", "leak_spread_mah_per_day", "stranded_ah", "groups"})
            CHECK(build.contains(key));
    CHECK(j["builds"][0]["usable_capacity_ah"] <= j["builds"][0]["bound_ah"]);
    CHECK(j["builds"][0]["usable_capacity_ah"] >= j["builds"][0]["bound_ah"].get<double>() * 0.99);
    CHECK(j["builds"][1]["usable_capacity_ah"] >= 4.0);
    CHECK(j["builds"][1]["usable_capacity_ah"] < 4.1);
    CHECK(j["builds"][2]["usable_capacity_ah"].get<double>() == Approx(3 * 1.90).epsilon(0.02));
    CHECK(j["builds"][3]["filled"] == false);
    CHECK(j["builds"][3]["usable_capacity_ah"].is_null());
    CHECK(j["warnings"][0].get<std::string>().find("huge cannot be filled: 7") == 0);
    int left = 0;
    for (const Json& model : j["left"])
        left += model["count"].get<int>();
    CHECK(left == 120 - 28 - 8 - 6);
    // Every unit of the file once, groups from 1.
    std::set<std::string> units;
    std::istringstream in(Temporary::read(out));
    std::string line;
    std::getline(in, line);
    CHECK(line == "Cell ID,Build,Group");
    while (std::getline(in, line))
        CHECK(units.insert(line.substr(0, line.find(','))).second);
    CHECK(units.size() == 28 + 8 + 6);
    // Numbers are written to the digits that mean something.
    CHECK(r.out.find("99999999") == std::string::npos);
    CHECK(r.out.find("00000000") == std::string::npos);
    const auto refused = [&](const std::string& text, const std::string& what) {
        const Ran bad = run("allot " + pools + "c501.csv -", text);
        CHECK(bad.exit == 3);
        INFO(bad.err);
        CHECK(bad.err.find(what) != std::string::npos);
    };
    refused("Build,Series,Parallel\na,0,4\n", "standard input:2: ");
    refused("Build,Series,Parallel\na,2,4\na,2,4\n", "line 2 already");
    refused("Build,Series,Parallel,Duty\na,2,4,fly\n", "duty \"fly\"");
    refused("Build,Series,Parallel,Like\na,2,4,/no/such.csv\n", "/no/such.csv");
    refused("Build,Series,Parallel,Chemistry\na,2,4,pb-agm\n", "pb-agm");
    CHECK(run("allot " + pools + "c501.csv").exit == 2);
}

TEST_CASE("allot: units fit for a duty only") {
    const Temporary folder;
    std::string pool = "Cell ID,Capacity / Ah,DC Resistance / mOhm,Self-discharge / mAh/day,Model,Voltage / V,"
                       "Rated Capacity / Ah,Chemistry\n";
    for (int i = 0; i < 12; ++i)
        pool += "c" + std::to_string(i) + (i % 3 == 0 ? ",1.2" : ",2.3") + ",50,0.8,H26,3.64,2.6,nmc\n";
    const std::string builds = folder.write("b.csv", "Build,Series,Parallel,Duty\na,4,2,store\nb,4,2,store\n");
    const Json j = run("allot - " + builds + " --json", pool).json();
    CHECK(j["builds"][0]["filled"] == true);
    CHECK(j["builds"][1]["filled"] == false);
    for (const Json& group : j["builds"][0]["groups"])
        CHECK(group["capacity_ah"].get<double>() == Approx(4.6));
}

TEST_CASE("match: what is to be kept, from a shell") {
    const Temporary folder;
    std::string pool = "Cell ID,Capacity / Ah,Model,Voltage / V\n";
    for (int i = 1; i <= 24; ++i)
        pool += "u" + std::to_string(i) + "," + std::to_string(2.0 + 0.013 * ((i * 7) % 11)) + "," +
                (i % 2 == 0 ? "M20" : "M25") + "," + std::to_string(3.60 + 0.01 * (i % 5)) + "\n";
    const std::string file = folder.write("pool.csv", pool);
    const Ran r = run("match " + file + " -s 3 -p 4 --one-model --join-window 0.03 --apart u2,u4 --json");
    INFO(r.err);
    REQUIRE(r.exit == 0);
    const Json j = r.json();
    CHECK(j["breaches"].empty());
    for (const Json& group : j["groups"]) {
        std::set<int> parity;
        bool two = false;
        bool four = false;
        for (const Json& cell : group["cells"]) {
            const std::string id = cell.get<std::string>();
            parity.insert(std::stoi(id.substr(1)) % 2);
            two |= id == "u2";
            four |= id == "u4";
        }
        CHECK(parity.size() == 1);
        CHECK_FALSE((two && four));
    }
    // More than the pool can keep: said, with the demand and the group.
    const Json torn = run("match " + file + " -s 6 -p 4 --one-model --join-window 0.001 --json").json();
    CHECK_FALSE(torn["breaches"].empty());
    CHECK(torn["breaches"][0].contains("demand"));
    CHECK_FALSE(torn["warnings"].empty());
    CHECK_FALSE(run("match " + file + " -s 3 -p 4 --json").json().contains("breaches"));
    const Ran wrong = run("match " + file + " -s 3 -p 4 --apart u2,u99 --json");
    CHECK(wrong.exit == 3);
    CHECK(wrong.err.find("u2,u99") != std::string::npos);
    CHECK(wrong.out.empty());
}
