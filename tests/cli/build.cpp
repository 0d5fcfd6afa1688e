// join, strip, convert and simulate from a shell.
#include "command.h"

#include <catch2/catch.hpp>

#include <cmath>

using ingot::tests::Ran;
using ingot::tests::run;
using ingot::tests::Temporary;
using Json = nlohmann::json;

namespace {

std::vector<std::string> codes_of(const Json& design) {
    std::vector<std::string> out;
    for (const Json& clash : design["clashes"]) {
        out.push_back(clash["code"]);
        CHECK_FALSE(clash["reason"].get<std::string>().empty());
    }
    return out;
}

const Json& design_of(const Json& result, const std::string& chemistry, int series) {
    for (const Json& design : result["designs"])
        if (design["chemistry"] == chemistry && design["series"] == series)
            return design;
    FAIL(chemistry << " " << series << "S is not proposed");
    throw 0;
}

} // namespace

TEST_CASE("join: the keys and values of the contract (V73, V74)") {
    const std::string units = "Cell ID;Group;Voltage (mV);DC Resistance / mOhm;Capacity / mAh\n"
                              "a;1;3700;30;2500\nb;1;3680;50;2500\nc;1;3720;40;2500\n"
                              "d;2;3900;50;2500\ne;2;3700;50;2500\nf;2;3700;50;\n"
                              "g;3;-3600;50;2500\nh;3;3600;50;2500\n";
    const Ran r = run("join - --json", units);
    REQUIRE(r.exit == 0);
    const Json j = r.json();
    REQUIRE(j["groups"].size() == 3);
    CHECK(j["groups"][0]["group"] == 1);
    CHECK(j["groups"][0]["common_v"].get<double>() == Approx(3.701277).margin(1e-6));
    CHECK(j["groups"][0]["currents"][1]["current_a"].get<double>() == Approx(-0.42553).margin(1e-5));
    CHECK(j["groups"][0]["spread_v"].get<double>() == Approx(0.04));
    CHECK(j["groups"][0]["largest_a"].get<double>() == Approx(0.46809).margin(1e-5));
    CHECK(j["groups"][0]["worst_cell"] == "c");
    CHECK(j["groups"][0]["verdict"] == "join");
    CHECK(j["groups"][0]["bring"].empty());
    CHECK(j["groups"][1]["verdict"] == "resistor");
    REQUIRE(j["groups"][1]["bring"].size() == 1);
    CHECK(j["groups"][1]["bring"][0]["cell"] == "d");
    CHECK(j["groups"][1]["bring"][0]["to_v"] == 3.7);
    // NMC curve: 3.900 V is 68.0 %, 3.700 V is 45.714 %.
    CHECK(j["groups"][1]["bring"][0]["charge_ah"].get<double>() == Approx(-2.5 * (0.68 - 0.457143)).margin(1e-5));
    CHECK(j["groups"][2]["verdict"] == "bring-first");
    CHECK(j["groups"][2]["bring"].empty());
    REQUIRE(j["warnings"].size() == 1);
    CHECK(j["warnings"][0].get<std::string>().find("g ") == 0);
    CHECK(run("join - --json --limit-v 0.03", units).json()["groups"][0]["verdict"] == "resistor");
    // A lead of 5 mOhm each: V43's kind, the current falls.
    CHECK(run("join - --json --lead-ohm 0.005", units).json()["groups"][0]["largest_a"].get<double>() < 0.468);
    const Json flat =
        run("join - --chemistry lfp --json", "Cell ID,Group,Voltage / V,DC Resistance / Ohm,Capacity / Ah\n"
                                             "a,x,3.30,0.02,6\nb,x,3.40,0.02,6\n")
            .json();
    CHECK(flat["groups"][0]["group"] == "x");
    CHECK(flat["groups"][0]["bring"][0]["charge_ah"].is_null());
    const Ran blank = run("join -", "Cell ID,Group,Voltage / V,DC Resistance / Ohm\na,1,3.7,\n");
    CHECK(blank.exit == 3);
    CHECK(blank.err.find("standard input:2: ") == 0);
    CHECK(run("join - --limit-v -1", units).exit == 2);
}

TEST_CASE("strip: currents, drops and the worst piece (V48)") {
    const Temporary folder;
    // Four cells of 10 mOhm in parallel on a bus of pure nickel, 20 mm apart, 0.15 x 8 mm: 1.155 mOhm a piece.
    const std::string pieces = folder.write("pieces.csv", "Piece,From,To,Length / mm,Width / mm,Thickness / mm,Layers\n"
                                                          "p1,a,b,20,8,0.15,\np2,b,c,20,8,0.15,\np3,c,d,20,8,0.15,2\n");
    const std::string cells = folder.write("cells.csv", "Cell ID,Plus,Minus,Voltage / V,DC Resistance / mOhm\n"
                                                        "1,a,0,3.7,10\n2,b,0,3.7,10\n3,c,0,3.7,10\n4,d,0,3.7,10\n");
    const Ran r = run("strip " + pieces + " " + cells + " --load 20 --plus d --minus 0 --json");
    REQUIRE(r.exit == 0);
    const Json j = r.json();
    CHECK(j["worst_piece"] == "p2"); // p3 carries more, in two layers
    double sum = 0;
    for (const Json& cell : j["cells"])
        sum += cell["current_a"].get<double>();
    CHECK(sum == Approx(20).epsilon(1e-10));
    CHECK(j["cells"][3]["current_a"] > j["cells"][0]["current_a"]);
    const double first = j["pieces"][0]["current_a"];
    CHECK(first == Approx(j["cells"][0]["current_a"].get<double>()).epsilon(1e-10));
    CHECK(j["pieces"][0]["drop_v"].get<double>() == Approx(first * 0.001155).epsilon(1e-10));
    CHECK(j["pieces"][0]["density_a_per_mm2"].get<double>() == Approx(first / 1.2).epsilon(1e-10));
    CHECK(j["terminal_v"].get<double>() ==
          Approx(3.7 - j["cells"][3]["current_a"].get<double>() * 0.01).epsilon(1e-10));
    const Json by_ohm = run("strip - " + cells + " --load 5 --plus d --minus 0 --json",
                            "Piece,From,To,Resistance / mOhm\np1,a,b,1\np2,b,c,2\np3,c,d,1\n")
                            .json();
    CHECK(by_ohm["pieces"][0]["density_a_per_mm2"].is_null());
    CHECK(by_ohm["worst_piece"] == "p3");
    const auto refused = [&](const std::string& text, const std::string& what) {
        const Ran bad = run("strip - " + cells + " --load 5 --plus d --minus 0", text);
        CHECK(bad.exit == 3);
        CHECK(bad.out.empty());
        INFO(bad.err);
        CHECK(bad.err.find(what) != std::string::npos);
    };
    const std::string head = "Piece,From,To,Length / mm,Width / mm,Thickness / mm,Material\n";
    refused(head + "p1,a,b,20,8,0.15,tin\n", "standard input:2: material \"tin\"");
    refused(head + "p1,a,b,20,8,0.15,\np9,x,y,20,8,0.15,\n", "p9");
    refused(head + "p1,a,b,20,8,,\n", "standard input:2: piece p1 needs");
    refused("Piece,From,To,Resistance / Ohm\np1,a,b,0\n", "p1 has no resistance");
    CHECK(run("strip " + pieces + " " + cells + " --plus d --minus 0").exit == 2);
}

TEST_CASE("convert: twenty nickel cells for a 24 V device (V69, V70)") {
    const Ran r = run("convert --from nimh:20 --nominal 24 --off 20 --charger 26 --charger-kind cc-cv --json");
    REQUIRE(r.exit == 0);
    const Json j = r.json();
    CHECK(j["designs"][0]["chemistry"] == "nimh");
    CHECK(j["designs"][0]["verdict"] == "keep");
    CHECK(j["designs"][0]["full_v"] == 28.0);
    CHECK(codes_of(j["designs"][0]) == std::vector<std::string>{"charge-method", "charger-never-fills"});
    const Json& six = design_of(j, "nmc", 6);
    CHECK(six["charger_per_cell_v"].get<double>() == Approx(4.3333).margin(1e-4));
    CHECK(six["empty_v"] == 18.0);
    CHECK(six["charge_v"].get<double>() == Approx(25.2));
    CHECK(codes_of(six) == std::vector<std::string>{"charger-over-limit"});
    CHECK(six["verdict"] == "changes");
    CHECK(six["notes"].size() == 1);
    CHECK(codes_of(design_of(j, "nmc", 7)) == std::vector<std::string>{"charger-never-fills", "runs-too-low"});
    CHECK(design_of(j, "lfp", 8)["charger_per_cell_v"].get<double>() == Approx(3.25));
    // V72: four LFP cells for 12 V lead; 15.5 V of an equalising stage is 3.875 V a cell.
    const Json lead =
        run("convert --from pb-agm:6 --nominal 12 --charger 15.5 --charger-kind lead --to lfp --json").json();
    CHECK(codes_of(design_of(lead, "lfp", 4)) == std::vector<std::string>{"charger-over-limit", "charge-method"});
    for (const Json& design : lead["designs"])
        CHECK((design["chemistry"] == "lfp" || design["verdict"] == "keep"));
    CHECK(run("convert --from nimh --nominal 24").exit == 2);
    CHECK(run("convert --from melt:6 --nominal 24").exit == 2);
    CHECK(run("convert --from nimh:20").exit == 2);
}

TEST_CASE("simulate: the keys and values of the contract") {
    const Temporary folder;
    const std::string design =
        folder.write("design.json", R"({"chemistry": "nmc", "temperature_c": 20, "joint_ohm": 0.002, "groups": [
            [{"cell": "a", "capacity_ah": 2.5, "resistance_ohm": 0.04}],
            [{"cell": "b", "capacity_ah": 2.0, "resistance_ohm": 0.05, "soc": 0.95, "r1_ohm": 0.01, "c1_f": 900}]]})");
    const std::string load = folder.write("load.csv", "Time / s,Current / A\n0,2\n");
    const Ran r = run("simulate " + design + " " + load + " --json");
    REQUIRE(r.exit == 0);
    const Json j = r.json();
    CHECK(j["ended_by"]["group"] == 2);
    CHECK(j["ended_by"]["reason"] == "cutoff");
    CHECK(j["ended_by"]["voltage_v"].get<double>() == Approx(3.0).margin(1e-4));
    CHECK(j["usable_ah"].get<double>() == Approx(2 * j["run_time_s"].get<double>() / 3600).epsilon(1e-5));
    CHECK(j["groups"][0]["left_ah"].get<double>() == Approx(2.5 - j["usable_ah"].get<double>()).epsilon(1e-5));
    CHECK(j["cells"][1]["cell"] == "b");
    CHECK(j["cells"][1]["peak_a"] == 2.0);
    CHECK(j["cells"][1]["mean_a"].get<double>() == Approx(2.0));
    CHECK(std::fabs(j["energy_balance"].get<double>()) < 1e-6);
    CHECK(j["usable_wh"] < j["usable_ah"].get<double>() * 8.4);
    const double until = run("simulate " + design + " " + load + " --until 3.4 --json").json()["run_time_s"];
    CHECK(until < j["run_time_s"]);
    const std::string netlist = folder.file("pack.cir");
    CHECK(run("simulate " + design + " " + load + " --netlist " + netlist).exit == 0);
    CHECK(Temporary::read(netlist).find("iload terminal 0 pwl(0 2)") != std::string::npos);
    const Ran never = run("simulate " + design + " -", "Time / s,Current / A\n0,-1\n");
    CHECK(never.exit == 3);
    CHECK(never.err.find("never empties") != std::string::npos);
    CHECK(run("simulate " + folder.write("bad.json", "{") + " " + load).exit == 3);
    CHECK(run("simulate " + design + " " + load + " --step 0").exit == 2);
}
