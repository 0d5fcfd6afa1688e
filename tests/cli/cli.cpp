// The command line as a stranger would use it: the program is started, its output read.
#include "command.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include <cstdio>
#include <set>

using ingot::tests::Ran;
using ingot::tests::run;
using ingot::tests::Temporary;
using Json = nlohmann::json;

namespace {

const std::string reference = std::string(INGOT_SOURCE_DIR) + "/tests/reference/";

} // namespace

TEST_CASE("Exits: 0 done, 2 usage, 3 bad input") {
    CHECK(run("--version").exit == 0);
    CHECK(run("--help").exit == 0);
    CHECK(run("match --help").exit == 0);
    CHECK(run("").exit == 2);
    CHECK(run("melt").exit == 2);
    CHECK(run("match x.csv --series 0 --parallel 4").exit == 2);
    CHECK(run("match x.csv --series 7 --parallel 4 --way sideways").exit == 2);
    CHECK(run("match x.csv --series 7").exit == 2);
    CHECK(run("match - -s 1 -p 1 --give-up 90", "Cell ID,Capacity / Ah\na,2\n").exit == 2);
    CHECK(run("sort - --rules nothing-like-it", "Cell ID\na\n").exit == 2);
    CHECK(run("sort").exit == 2);
    const Ran missing = run("capacity /no/such/log.csv");
    CHECK(missing.exit == 3);
    CHECK(missing.out.empty());
    CHECK(missing.err.find("/no/such/log.csv: ") == 0);
    const Ran broken = run("capacity - --json", "Test Time / s,Voltage / V,Current / A\n0,3.7,0\n1,x,0\n");
    CHECK(broken.exit == 3);
    CHECK(broken.out.empty());
    CHECK(broken.err.find("standard input:3: ") == 0);
}

TEST_CASE("capacity: the keys and values of the contract") {
    std::string log = "Test Time / s,Voltage / V,Current / A\n";
    int t = 0;
    const auto phase = [&](double amps, int seconds, double from, double to) {
        for (int i = 0; i <= seconds; i += 10)
            log += std::to_string(t + i) + "," + std::to_string(from + (to - from) * i / seconds) + "," +
                   std::to_string(amps) + "\n";
        t += seconds + 10;
    };
    phase(-0.5, 3600, 3.6, 3.0);
    phase(1.0, 7200, 3.2, 4.2);
    phase(0, 600, 4.18, 4.17);
    phase(-0.5, 14000, 4.1, 3.0);
    const Ran r = run("--json capacity -", log);
    REQUIRE(r.exit == 0);
    const Json j = r.json();
    for (const char* key : {"discharge_capacity_ah", "discharge_energy_wh", "charge_capacity_ah",
                            "coulombic_efficiency", "uncertainty_ah", "steps", "warnings"})
        CHECK(j.contains(key));
    CHECK(j["discharge_capacity_ah"].get<double>() == Approx(1.94444).margin(1e-4));
    CHECK(j["charge_capacity_ah"].get<double>() == Approx(2.0).margin(1e-6));
    CHECK(j["coulombic_efficiency"].get<double>() == Approx(0.97222).margin(1e-4));
    REQUIRE(j["steps"].size() == 4);
    for (const char* key :
         {"kind", "start_s", "end_s", "capacity_ah", "energy_wh", "start_v", "end_v", "mean_a", "complete"})
        CHECK(j["steps"][0].contains(key));
    CHECK(j["steps"][1]["kind"] == "charge");
    CHECK(j["steps"][3]["complete"] == true);          // ends at the lowest end of the other discharge
    CHECK(run("capacity - --json", log).out == r.out); // before or after the verb
    CHECK(run("capacity - --cutoff 3.5", log).exit == 0);
    const Json unfinished =
        run("capacity - --json", "Test Time / s,Voltage / V,Current / A\n0,4.1,-0.5\n10,4.0,-0.5\n").json();
    CHECK(unfinished["discharge_capacity_ah"].is_null());
    CHECK(unfinished["lower_bound_ah"].get<double>() == Approx(0.5 * 10 / 3600));
    // K10: 1800 without a unit is refused with what would be right, and M is mega.
    const Ran unitless = run("match - --series 1 --parallel 1", "Cell ID,Capacity\na,1800\n");
    CHECK(unitless.exit == 3);
    CHECK(unitless.err.find("Capacity / Ah") != std::string::npos);
    const Ran mega = run("match - --series 1 --parallel 1", "Cell ID,Capacity / Ah,DC Resistance / MOhm\na,1.8,40\n");
    CHECK(mega.exit == 3);
    CHECK(mega.err.find("mOhm") != std::string::npos);
    // Times as testers write them.
    const Json clock = run("capacity - --json", "Test Time,Voltage / V,Current / A,Step\n0:00:00,4.1,-1,1\n"
                                                "1:00:00,3.5,-1,1\n2:00:00,3.0,-1,1\n")
                           .json();
    CHECK(clock["discharge_capacity_ah"].get<double>() == Approx(2.0));
    CHECK(unfinished["warnings"].size() >= 1);
}

TEST_CASE("sort: duties, reasons and counts") {
    const Json list = run("sort --list --json").json();
    CHECK(list["rule_sets"][0]["name"] == "capacity-tested");
    const Json j = run("sort - --rules capacity-tested --json",
                       "Cell ID,Capacity / Ah,DC Resistance / mOhm,Self-discharge / mAh/day,Model,Voltage / V,"
                       "Rated Capacity / Ah,Chemistry\n"
                       "a,2.40,50,0.8,H26,3.64,2.6,nmc\nb,1.90,70,0.8,H26,3.64,2.6,nmc\nc,1.62,70,,H26,3.64,2.6,nmc\n"
                       "d,1.2,70,,H26,3.64,2.6,nmc\ne,,50,,H26,3.64,2.6,nmc\nf,2.40,50,0.8,H26,2.2,2.6,nmc\n"
                       "g,2.40,50,30,H26,3.64,2.6,nmc\n")
                       .json();
    // None is fit to drive: nobody knows the model's resistance when new, and seven are too few to be its measure.
    const char* duties[] = {"store", "store", "light", "scrap", "rest-again", "quarantine", "scrap"};
    REQUIRE(j["cells"].size() == 7);
    for (std::size_t i = 0; i < 7; ++i) {
        CHECK(j["cells"][i]["duty"] == duties[i]);
        CHECK_FALSE(j["cells"][i]["reasons"].empty());
    }
    CHECK(j["counts"]["scrap"] == 2);
    CHECK(j["counts"].size() == 7);
    const Json unknown = run("sort " + reference + "b501.csv --rules capacity-tested --json").json();
    CHECK_FALSE(unknown["warnings"].empty()); // models that the library does not know
    CHECK(run("sort - --rules capacity-tested", "Cell ID,Chemistry\na,plutonium\n").exit == 3);
}

TEST_CASE("match: the keys of the contract, recomputed from the pool") {
    const std::string pool = reference + "b501.csv";
    std::map<std::string, double> capacity;
    std::map<std::string, double> ohms;
    std::istringstream in(Temporary::read(pool));
    std::string line;
    std::getline(in, line);
    while (std::getline(in, line)) {
        std::istringstream row(line);
        std::string id, c, r;
        std::getline(row, id, ',');
        std::getline(row, c, ',');
        std::getline(row, r, ',');
        capacity[id] = std::stod(c);
        ohms[id] = std::stod(r);
    }
    const Temporary folder;
    for (const char* way : {"search", "twins", "deal"}) {
        const Ran r = run("match " + pool + " --series 4 --parallel 3 --way " + way + " --json --out " +
                          folder.file("assign.csv"));
        REQUIRE(r.exit == 0);
        const Json j = r.json();
        for (const char* key :
             {"usable_capacity_ah", "bound_ah", "best_usable_ah", "proved", "capacity_spread", "conductance_spread",
              "leak_spread_mah_per_day", "stranded_ah", "levelness", "elapsed_s", "groups"})
            CHECK(j.contains(key));
        std::set<std::string> used;
        double low = 1e9;
        double low_g = 1e9;
        double high_g = 0;
        double total_g = 0;
        for (const Json& g : j["groups"]) {
            double sum = 0;
            double conductance = 0;
            for (const Json& id : g["cells"]) {
                CHECK(used.insert(id.get<std::string>()).second);
                sum += capacity.at(id);
                conductance += 1 / ohms.at(id);
            }
            CHECK(g["capacity_ah"].get<double>() == Approx(sum));
            CHECK(g["conductance_s"].get<double>() == Approx(conductance));
            low = std::min(low, sum);
            low_g = std::min(low_g, conductance);
            high_g = std::max(high_g, conductance);
            total_g += conductance;
        }
        CHECK(used.size() == 12);
        CHECK(j["usable_capacity_ah"].get<double>() == Approx(low));
        CHECK(j["conductance_spread"].get<double>() == Approx((high_g - low_g) * 4 / total_g));
        CHECK(low <= j["bound_ah"].get<double>() + 1e-9);
        const std::string assigned = Temporary::read(folder.file("assign.csv"));
        CHECK(assigned.substr(0, 14) == "Cell ID,Group\n");
        CHECK(std::count(assigned.begin(), assigned.end(), '\n') == 13);
    }
}

TEST_CASE("match: same seed same answer, give-up, time limit, chemistries, too few") {
    const std::string pool = reference + "c501.csv";
    const auto stripped = [](const Ran& r) {
        Json j = r.json();
        j.erase("elapsed_s");
        return j;
    };
    const Ran a = run("match " + pool + " --series 10 --parallel 4 --json --seed 5");
    const Ran b = run("match " + pool + " --series 10 --parallel 4 --json --seed 5");
    CHECK(stripped(a) == stripped(b));
    const Json strict = run("match " + pool + " --series 10 --parallel 4 --give-up 0 --json").json();
    CHECK(strict["proved"] == true);
    CHECK(strict["usable_capacity_ah"] == strict["best_usable_ah"]);
    CHECK(a.json()["usable_capacity_ah"].get<double>() >= 0.995 * strict["best_usable_ah"].get<double>() - 1e-9);
    const Json limited = run("match " + pool + " --series 10 --parallel 4 --time-limit 0.001 --json").json();
    CHECK_FALSE(limited["warnings"].empty());
    const Ran mixed = run("match - -s 1 -p 2", "Cell ID,Capacity / Ah,Chemistry\na,2,nmc\nb,2,lfp\n");
    CHECK(mixed.exit == 3);
    CHECK(mixed.err.find("standard input:3:") == 0);
    const Ran few = run("match - -s 2 -p 2", "Cell ID,Capacity / Ah\na,2\nb,2\n");
    CHECK(few.exit == 3);
    CHECK(few.err.find("4 units are needed") != std::string::npos);
    const Json volts =
        run("match - -s 1 -p 2 --way voltage-only --json", "Cell ID,Voltage / V\na,3.7\nb,3.9\nc,3.71\n").json();
    CHECK(volts["groups"][0]["cells"] == Json({"c", "a"}));
    CHECK(volts["usable_capacity_ah"].is_null());
}

TEST_CASE("demo: makes the workshop once") {
    const Temporary folder;
    const Ran r = run("demo " + folder.file("demo.ingot") + " --json");
    REQUIRE(r.exit == 0);
    CHECK(r.json()["units"].get<int>() >= 420);
    CHECK(r.json()["runs"].get<int>() >= 20);
    CHECK(run("demo " + folder.file("demo.ingot")).exit == 3); // never over a file that is there
}

TEST_CASE("triage: the keys of the contract, on a dead group") {
    const std::string readings = "Group,Voltage / V,Condition\n1,3.842,rest\n2,3.846,rest\n3,0.412,rest\n4,3.841,rest\n"
                                 "5,3.858,rest\n6,3.845,rest\n7,3.843,rest\n";
    const Ran ran =
        run("triage - --chemistry nmc --series 7 --parallel 4 --terminal 23.49 --capacity 8.8 --json", readings);
    REQUIRE(ran.exit == 0);
    const Json json = ran.json();
    REQUIRE(json["groups"].size() == 7);
    CHECK(json["groups"][2] == Json({{"group", 3}, {"state", "dead"}, {"outlier", true}}));
    CHECK(json["groups"][4]["outlier"] == false);
    CHECK(json["explanations"][0]["name"] == "dead-group");
    CHECK(json["explanations"][0]["groups"] == Json::array({3}));
    CHECK(json["explanations"][0]["reason"].get<std::string>().find("0.412") != std::string::npos);
    double sum = 0;
    double last = 1;
    std::set<std::pair<std::string, Json>> entries;
    for (const Json& e : json["explanations"]) {
        const double p = e["probability"];
        CHECK(p <= last + 1e-12);
        last = p;
        sum += p;
        CHECK(entries.emplace(e["name"], e["groups"]).second);
    }
    CHECK(sum <= 1 + 1e-9);
    CHECK(json.contains("settle_by"));
    std::set<std::string> ways;
    for (const Json& w : json["ways"])
        ways.insert(w["name"].get<std::string>());
    CHECK(ways.count("refill") == 1);
    CHECK(ways.count("donor") == 1);
    CHECK(json["load_round_allowed"] == false);
    CHECK(run("triage - -s 7", readings).out == run("triage - -s 7", readings).out);
}

TEST_CASE("N11: a pack dead all through is called so, and no way rests on what nobody believes") {
    const Json json = run("triage - -s 7 -p 4 --terminal 4.1 --json",
                          "Group,Voltage / V,Condition\n1,0.62,rest\n2,0.41,rest\n3,0.88,rest\n4,0.30,rest\n"
                          "5,0.71,rest\n6,0.55,rest\n7,0.66,rest\n")
                          .json();
    CHECK(json["explanations"][0]["name"] == "all-discharged");
    CHECK(json["explanations"][0]["groups"].empty());
    CHECK(json["explanations"][0]["reason"].get<std::string>().find("known cell") != std::string::npos);
    CHECK(json["by_name"]["all-discharged"].get<double>() > 0.8);
    std::set<std::string> ways;
    for (const Json& w : json["ways"]) {
        ways.insert(w["name"].get<std::string>());
        CHECK_FALSE(w["numbers"].contains("donor_from_v")); // no window around 0 V
    }
    CHECK(ways == std::set<std::string>{"check-meter", "break-for-units"});
}

TEST_CASE("N12, N18: rows typed to 0.1 V with dead modules; blocks of two modules by one tap") {
    std::string row = "Group,Voltage / V\n";
    for (int g = 1; g <= 28; ++g)
        row += std::to_string(g) + (g == 4 || g == 9 || g == 10 || g == 17 || g == 22 || g == 28 ? ",6.3\n"
                                    : g % 3 == 0                                                 ? ",7.6\n"
                                                                                                 : ",7.5\n");
    const Json six = run("triage - --chemistry nimh -s 28 --cells-per-unit 6 --json", row).json();
    CHECK(six["explanations"][0]["name"] == "dead-group");
    CHECK(six["explanations"][0]["groups"] == Json::array({4, 9, 10, 17, 22, 28}));
    std::string blocks = "Group,Voltage / V\n";
    for (int g = 1; g <= 17; ++g)
        blocks += std::to_string(g) + (g == 5 ? ",14.01\n" : g % 2 == 0 ? ",15.21\n" : ",15.18\n");
    const Json two = run("triage - --chemistry nimh -s 17 --cells-per-unit 6 --units-per-tap 2 --json", blocks).json();
    CHECK(two["groups"][4]["outlier"] == true);
    CHECK(two["groups"][0]["state"] == "working");
    CHECK(two["explanations"][0]["groups"] == Json::array({5}));
}

TEST_CASE(
    "N16, N20: a group's resistance comes in by its column, and a single cell is not healthy for want of a sibling") {
    const Json cell = run("triage - -s 1 --capacity 2.6 --json",
                          "Group,Voltage / V,Condition,Current / A\n1,4.11,rest,\n1,3.00,load,-1\n")
                          .json();
    CHECK(cell["explanations"][0]["name"] != "healthy");
    CHECK(cell["explanations"][0]["groups"] == Json::array({1}));
    const Json pack =
        run("triage - -s 4 --json", "Group,Voltage / V,Resistance / mOhm\n1,3.700,22\n2,3.701,23\n3,3.699,"
                                    "64\n4,3.700,21\n")
            .json();
    CHECK(pack["explanations"][0]["groups"] == Json::array({3}));
    CHECK(run("triage - -s 2", "Group,Voltage / V,Resistance / Ohm\n1,3.7,0.02\n2,3.7,-0.02\n").exit == 3);
}

TEST_CASE("triage: symptoms and what else is known come from options and a file") {
    const Json list = run("triage --list-symptoms --json").json();
    CHECK(list["symptoms"].size() >= 6);
    CHECK(run("triage").exit == 2);
    const std::string level = "Group,Voltage / V\n1,3.70\n2,3.70\n3,3.70\n4,3.70\n";
    CHECK(run("triage - -s 4 --symptoms moon", level).exit == 3);
    const std::string evidence = std::string(INGOT_BINARY_DIR) + "/triage-evidence.csv";
    std::ofstream(evidence) << "Kind,Group,Value\ncapacity,1,5.0\ncapacity,2,5.1\ncapacity,3,3.4\ncapacity,4,5.0\n"
                               "replaced,2,\n";
    const Json weak = run("triage - -s 4 -p 2 --symptoms works-then-dies --json --evidence " + evidence, level).json();
    CHECK(weak["explanations"][0]["name"] == "weak-group");
    CHECK(weak["explanations"][0]["groups"] == Json::array({3}));
    std::ofstream(evidence) << "Kind,Group,Value\ncapacity,1,5.0\nsmell,2,1\n";
    const Ran refused = run("triage - -s 4 --evidence " + evidence, level);
    CHECK(refused.exit == 3);
    CHECK(refused.err.find(evidence + ":3:") != std::string::npos);
}

TEST_CASE("triage: a snapshot, unit voltages, and what it objects to") {
    const Ran snapshot =
        run("triage - -s 4 --json", "Time,Block 1 / mV,Block 2 / mV,Block 3 / mV,Block 4 / mV,Current / A\n"
                                    "10:00,3842,3846,3841,3844,0\n10:05,3742,3746,3591,3744,-2\n");
    REQUIRE(snapshot.exit == 0);
    CHECK(snapshot.json()["warnings"].size() == 1);
    const std::string units = std::string(INGOT_BINARY_DIR) + "/triage-units.csv";
    std::FILE* file = std::fopen(units.c_str(), "w");
    std::fputs("Group,Unit,Voltage / V\n3,a,3.641\n3,b,3.840\n3,c,3.640\n", file);
    std::fclose(file);
    const Ran single = run("triage - -s 4 -p 3 --json --units " + units,
                           "Group;Voltage / V;Condition\n1;3,842;rest\n2;3,846;rest\n3;3,640;rest\n4;3,844;rest\n");
    REQUIRE(single.exit == 0);
    CHECK(single.json()["explanations"][0]["name"] == "disconnected-cell");
    const auto objects = [](const std::string& readings, const std::string& words, int line) {
        const Ran ran = run("triage - -s 4", readings);
        CHECK(ran.exit == 3);
        CHECK(ran.out.empty());
        CHECK(ran.err.find("standard input:" + std::to_string(line) + ": ") == 0);
        CHECK(ran.err.find(words) != std::string::npos);
    };
    objects("Group,Voltage / V\n1,3.8\n5,3.8\n", "groups 1 to 4", 3);
    objects("Group,Voltage / V\n1.5,3.8\n", "groups 1 to 4", 2);
    objects("Group,Voltage / V,Condition\n1,3.8,warm\n", "rest, end-of-charge, load, charge or stored", 2);
    objects("Group,Voltage / V,Condition,Current / A\n1,3.8,load,2\n", "negative", 2);
    objects("Group,Voltage / V\n1,3842\n", "decimal point", 2);
    objects("Group,Voltage / V,Condition,Days\n1,3.8,stored,-2\n", "negative", 2);
    objects("Block 1 / V,Block 9 / V\n3.8,3.8\n", "groups 1 to 4", 1);
    CHECK(run("triage - -s 4", "Group,Voltage / V\n").exit == 3);
    CHECK(run("triage - -s 4", "Group\n1\n").exit == 3);
    CHECK(run("triage - -s 0", "Group,Voltage / V\n1,3\n").exit == 2);
    CHECK(run("triage - -s 4 --chemistry tin", "Group,Voltage / V\n1,3\n").exit == 2);
}

TEST_CASE("donors: the keys of the contract, conservation, and what it objects to") {
    std::string packs = "Pack,Group,Voltage / V,Capacity / Ah,Model\n";
    for (const char* pack : {"A", "B", "C"})
        for (int g = 1; g <= 4; ++g) {
            const bool dead = (pack[0] == 'A' && g == 2) || (pack[0] == 'B' && g != 4);
            packs += std::string(pack) + "," + std::to_string(g) + "," + (dead ? "0.3" : "3.70") + ",8,FH-20\n";
        }
    const Ran ran = run("donors - --chemistry nmc --json", packs);
    REQUIRE(ran.exit == 0);
    const Json json = ran.json();
    CHECK(json["packs_rebuilt"] == 2);
    CHECK(json["bound"] == 2);
    CHECK(json["moved"] == 1);
    CHECK(json["proved"] == true);
    REQUIRE(json["packs"].size() == 2);
    CHECK(json["packs"][0]["pack"] == "A");
    CHECK(json["packs"][0]["groups"][1] == Json({{"position", 2}, {"from_pack", "B"}, {"from_group", 4}}));
    CHECK(json["leftover"] == Json::array());
    CHECK(json["not_good"].size() == 4);
    CHECK(run("donors -", "Pack,Group,Voltage / V\nA,1,3.7\nA,1,3.7\n").err.find("standard input:3: ") == 0);
    CHECK(run("donors -", "Pack,Group,Voltage / V\nA,0,3.7\n").exit == 3);
    CHECK(run("donors -", "Pack,Group,Voltage / V\n,1,3.7\n").exit == 3);
    CHECK(run("donors -", "Pack,Group\nA,1\n").exit == 3);
    CHECK(run("donors -", "Pack,Group,Voltage / V\n").exit == 3);
    CHECK(run("donors - --chemistry tin", packs).exit == 2);
}

TEST_CASE("worth: routes, winner, and what it objects to") {
    const std::string pack = R"({"pack":{"units":10,"units_to_replace":2,"unit_wh":10,"kept_share":0.8}})";
    const Ran ran = run("worth - --json", pack);
    REQUIRE(ran.exit == 0);
    const Json json = ran.json();
    CHECK(json["routes"].size() == 14);
    CHECK(json["aim"] == "device");
    CHECK(json["routes"][2]["route"] == "repair-with-bought-units");
    CHECK(json["routes"][2]["cost"].get<double>() == Approx(76)); // 70 and 6 of freight
    for (const Json& point : json["turning_points"])
        CHECK((point["must_be"] == "more" || point["must_be"] == "less"));
    CHECK(json["routes"][0]["obstacle"] == "no-stock");
    CHECK(json["winner"].is_string());
    const auto objects = [](const std::string& text, const std::string& words) {
        const Ran bad = run("worth -", text);
        CHECK(bad.exit == 3);
        CHECK(bad.out.empty());
        CHECK(bad.err.find(words) != std::string::npos);
    };
    objects("nonsense", "JSON");
    objects("[]", "JSON");
    objects("{}", "\"pack\" is missing");
    objects(R"({"pack":{"units":10,"unit_wh":10},"price":{}})", "\"price\" is not known");
    objects(R"({"pack":{"units":10,"unit_wh":10},"prices":{"our":3}})", "prices.our");
    objects(R"({"pack":{"units":1.5,"unit_wh":10}})", "whole number");
    objects(R"({"pack":{"units":"ten","unit_wh":10}})", "must be a number");
    objects(R"({"pack":{"units":10,"unit_wh":10},"outlook":{"melt":{}}})", "\"melt\"");
    objects(R"({"pack":{"units":10,"unit_wh":10},"weights":{"money":0,"time":0,"certainty":0}})", "weights");
}

TEST_CASE("resistance: the keys of the contract") {
    std::string log = "Test Time / s,Voltage / V,Current / A\n";
    for (int t = 0; t < 16; ++t)
        log += std::to_string(t) + (t < 5 ? ",4.05,0\n" : ",3.985,-0.5\n");
    log += "16,3.885,-2.5\n17,4.02,0\n";
    const Ran ran = run("--json resistance -", log);
    REQUIRE(ran.exit == 0);
    const Json json = ran.json();
    CHECK(json["dc_resistance_ohm"].get<double>() == Approx(0.05));
    CHECK(json["uncertainty_ohm"].get<double>() > 0);
    CHECK(json["steps"][1]["from_a"].get<double>() == Approx(-0.5));
    CHECK(json["steps"][1]["time_s"].get<double>() == Approx(15));
    CHECK(json["warnings"].empty());
    CHECK(run("resistance -", "Test Time / s,Voltage / V,Current / A\n0,4,0\n1,4,0\n").out.find("No resistance") !=
          std::string::npos);
    CHECK(run("resistance -", "Time / s\n1\n").exit == 3);
}

TEST_CASE("trend: verdicts and what it objects to") {
    const std::string cycles = "Unit ID;Cycle;Discharge Capacity / mAh;Stop\n"
                               "A;1;3500;cutoff\nA;2;4200;cutoff\nA;3;4600;cutoff\nA;4;4850;\nA;5;5020,5;Cutoff\n"
                               "B;1;3500;\nB;2;3600;\nB;3;3620;\nB;4;3610;\nB;5;3620;\n"
                               "C;1;3500;\nC;2;4100;\nC;3;2000;temperature\n";
    const Ran ran = run("trend - --bar 5 --rated 6.5 --json", cycles);
    REQUIRE(ran.exit == 0);
    const Json units = ran.json()["units"];
    REQUIRE(units.size() == 3);
    CHECK(units[0]["unit"] == "A");
    CHECK(units[0]["verdict"] == "fit");
    CHECK(units[0]["cycles_to_run"] == 0);
    CHECK(units[1]["verdict"] == "replace");
    CHECK(units[1]["pass_probability"].get<double>() < 0.05);
    CHECK(units[1]["level_low_ah"].get<double>() < units[1]["level_high_ah"].get<double>());
    CHECK(units[2]["verdict"] == "keep-cycling");
    CHECK(units[2]["cycles_to_run"].get<int>() > 0);
    const auto objects = [](const std::string& text, const std::string& words) {
        const Ran bad = run("trend - --bar 5", text);
        CHECK(bad.exit == 3);
        CHECK(bad.out.empty());
        INFO(bad.err);
        CHECK(bad.err.find(words) != std::string::npos);
    };
    const std::string head = "Unit ID,Cycle,Discharge Capacity / Ah\n";
    objects(head, "no cycle");
    objects(head + "A,1,\n", ":2: \"Discharge Capacity / Ah\" is blank");
    objects(head + "A,1,4\nA,1,5\n", ":3: cycle 1 of A stands on line 2");
    objects(head + "A,1.5,4\n", "whole number");
    objects(head + "A,1,-4\n", "negative");
    objects(head + ",1,4\n", "Unit ID");
    objects("Unit ID,Cycle\nA,1\n", "missing");
    CHECK(run("trend -", head).exit == 2);
    CHECK(run("trend - --bar 0", head).exit == 2);
}

TEST_CASE("plan: the keys of the contract, the calendar, and what it objects to") {
    std::string jobs = "Unit ID,Duration / h,Position,Charge Current / A\n";
    for (int n = 1; n <= 6; ++n)
        jobs += "M" + std::to_string(n) + ",7.5," + std::to_string(n) + ",3\n";
    const Temporary folder;
    const std::string calendar = folder.file("visits.ics");
    const Ran ran =
        run("plan - --bays 2 --shift 08:00-18:00 --days mon-fri --start 2026-01-09T08:00 --json --calendar " + calendar,
            jobs);
    INFO(ran.err);
    REQUIRE(ran.exit == 0);
    const Json json = ran.json();
    CHECK(json["jobs"].size() == 6);
    CHECK(json["makespan_h"].get<double>() >= json["bound_h"].get<double>());
    // A Friday: two jobs fit one after the other (08:00 and 15:30), the second waits for Monday.
    CHECK(json["makespan_h"].get<double>() >= 72);
    std::set<double> moments;
    for (const Json& job : json["jobs"]) {
        CHECK(job["bay"].get<int>() >= 1);
        CHECK(job["bay"].get<int>() <= 2);
        CHECK(job["end_h"].get<double>() == Approx(job["start_h"].get<double>() + 7.5));
        CHECK(job["lifted_h"].get<double>() >= job["end_h"].get<double>() - 1e-9);
        moments.insert(job["start_h"].get<double>());
        moments.insert(job["lifted_h"].get<double>());
    }
    CHECK(json["visits"].get<std::size_t>() == moments.size());
    const std::string ics = Temporary::read(calendar);
    CHECK(ics.find("BEGIN:VCALENDAR\r\nVERSION:2.0\r\n") == 0); // RFC 5545
    CHECK(ics.find("DTSTART:20260109T080000\r\n") != std::string::npos);
    CHECK(run("plan - --bays 2 --shift 08:00-18:00 --json", jobs).out == run("--json plan - --bays 2", jobs).out);
    const auto objects = [](const std::string& text, const std::string& words, const std::string& more = {}) {
        const Ran bad = run("plan - --bays 2 " + more, text);
        CHECK(bad.exit == 3);
        CHECK(bad.out.empty());
        INFO(bad.err);
        CHECK(bad.err.find(words) != std::string::npos);
    };
    const std::string head = "Unit ID,Duration / h,Position\n";
    objects(head, "no job");
    objects(head + "A,0,\n", ":2: a duration of 0 h");
    objects(head + "A,,\n", "blank");
    objects(head + "A,1,1\nA,1,2\n", "stands on line 2");
    objects(head + "A,1,1\nB,1,1\n", "position 1 stands on line 2");
    objects(head + "A,1,1.5\n", "whole number");
    objects(jobs, "supply", "--supply-a 2");
    CHECK(run("plan - --bays 0", jobs).exit == 2);
    CHECK(run("plan - --bays 2 --shift 18:00-08:00", jobs).exit == 2);
    CHECK(run("plan - --bays 2 --days someday", jobs).exit == 2);
    CHECK(run("plan - --bays 2 --start tomorrow", jobs).exit == 2);
}
