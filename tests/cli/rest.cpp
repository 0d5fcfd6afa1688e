// rest from a shell.
#include "command.h"

#include <catch2/catch.hpp>

using ingot::tests::Ran;
using ingot::tests::run;
using Json = nlohmann::json;

TEST_CASE("rest: the keys and values of the contract") {
    std::string readings = "Cell ID,Time / h,Voltage / mV,Capacity / mAh\n";
    for (int day = 2; day <= 16; day += 2)
        for (int u = 0; u < 6; ++u)
            readings += "c" + std::to_string(u) + "," + std::to_string(day * 24 + u * 0.05) + "," +
                        std::to_string(4110.0 - (u == 2 ? 2.0 : 0.1) * day) + (u == 1 ? ",\n" : ",2500\n");
    const Ran r = run("rest - --limit-mv-per-day 0.5 --resolution-mv 0.1 --json", readings);
    REQUIRE(r.exit == 0);
    const Json j = r.json();
    REQUIRE(j["cells"].size() == 6);
    for (const Json& cell : j["cells"]) {
        for (const char* key :
             {"cell", "mv_per_day", "low_mv_per_day", "high_mv_per_day", "mah_per_day", "verdict", "next_reading_h"})
            CHECK(cell.contains(key));
        CHECK(cell["low_mv_per_day"] <= cell["mv_per_day"]);
        CHECK(cell["mv_per_day"] <= cell["high_mv_per_day"]);
        CHECK(cell["verdict"] == (cell["cell"] == "c2" ? "leaking" : "fit"));
        CHECK(cell["next_reading_h"].is_null());
    }
    CHECK(j["cells"][2]["mv_per_day"].get<double>() == Approx(2.0).margin(0.1));
    CHECK(j["cells"][1]["mah_per_day"].is_null());
    // NMC near 4.10 V: 8.5 mV for 1 % (the mean of both sides of the knot lies between 8 and 9).
    CHECK(j["cells"][2]["mah_per_day"].get<double>() == Approx(2.0 / 9 / 100 * 2500).epsilon(0.1));
    const Json one = run("rest - --limit-mv-per-day 0.5 --json", "Cell ID,Time / h,Voltage / V\na,48,4.1\n").json();
    CHECK(one["cells"][0]["verdict"] == "undecided");
    CHECK(one["cells"][0]["mv_per_day"].is_null());
    CHECK(one["cells"][0]["next_reading_h"] > 48.0);
    // LFP on its plateau: a drift, but nothing of charge.
    const Json flat = run("rest - --limit-mv-per-day 0.5 --chemistry lfp --json",
                          "Cell ID,Time / h,Voltage / V,Capacity / Ah\na,0,3.297,6\na,240,3.2965,6\n")
                          .json();
    CHECK(flat["cells"][0]["mah_per_day"].is_null());
    CHECK(flat["warnings"].size() == 1);
    CHECK(run("rest -", readings).exit == 2);
    CHECK(run("rest - --limit-mv-per-day 0", readings).exit == 2);
    const Ran twice = run("rest - --limit-mv-per-day 1", "Cell ID,Time / h,Voltage / V\na,1,4.1\na,1,4.2\n");
    CHECK(twice.exit == 3);
    CHECK(twice.err.find("standard input:3: ") == 0);
}
