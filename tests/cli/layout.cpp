// layout from a shell, from what match has written.
#include "command.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <map>
#include <set>

using ingot::tests::Ran;
using ingot::tests::run;
using ingot::tests::Temporary;
using Json = nlohmann::json;

TEST_CASE("layout: the keys and values of the contract, and the netlist built back from the pieces") {
    const Temporary folder;
    const std::string assign = folder.file("assign.csv");
    REQUIRE(
        run("match " + std::string(INGOT_SOURCE_DIR) + "/tests/reference/b501.csv -s 7 -p 4 --out " + assign).exit ==
        0);
    const std::string base = "layout " + assign + " --series 7 --parallel 4 --cell-diameter 18.5";
    const Ran r = run(base + " --case 140x80 --json");
    REQUIRE(r.exit == 0);
    const Json j = r.json();
    CHECK(j["fits"] == true);
    CHECK_FALSE(j.contains("needs_mm"));
    CHECK(j["size_mm"] == Json({135.5, 77.0}));
    CHECK(j["sense"].size() == 8);
    CHECK(j["sense"][0]["tap"] == 0);
    std::map<std::string, std::string> plus;
    std::map<std::string, int> group;
    for (const Json& cell : j["cells"]) {
        plus[cell["cell"]] = cell["plus_face"];
        group[cell["cell"]] = cell["group"];
    }
    REQUIRE(plus.size() == 28);
    // Ends that a piece welds together all have one place in the series: plus of group k is tap k, minus is tap k - 1.
    double length = 0;
    int welds = 0;
    std::set<int> bridged;
    for (const Json& piece : j["pieces"]) {
        length += piece["length_mm"].get<double>() / 1000;
        std::set<int> taps;
        std::set<int> groups;
        for (const Json& cell : piece["cells"]) {
            ++welds;
            const std::string id = cell;
            groups.insert(group[id]);
            taps.insert(plus[id] == piece["face"].get<std::string>() ? group[id] : group[id] - 1);
        }
        CHECK(taps.size() == 1);
        CHECK(groups.size() == (piece["kind"] == "series" ? 2 : 1));
        if (piece["kind"] == "series")
            bridged.insert(*taps.begin());
    }
    CHECK(bridged.size() == 6);
    CHECK(j["strip_length_m"].get<double>() == Approx(length));
    CHECK(j["welds"] == welds);
    const Json tight = run(base + " --case 100x60 --grid staggered --json").json();
    CHECK(tight["fits"] == false);
    CHECK(tight["needs_mm"] == tight["size_mm"]);
    CHECK(run(base + " --case 140x80 --strip 18x0.15 --json").json()["warnings"].size() == 1);
    CHECK(run(base + " --case 140").exit == 2);
    CHECK(run(base).exit == 2);
    const Ran missing = run("layout " + assign + " --series 8 --parallel 4 --cell-diameter 18.5 --case 140x80");
    CHECK(missing.exit == 3);
    CHECK(missing.err.find("group 8 has 0 units of 4") != std::string::npos);
    CHECK(run("layout " + assign + " --series 7 --parallel 3 --cell-diameter 18.5 --case 140x80").exit == 3);
    CHECK(run(base + " --case 140x80 --pitch 18").exit == 3);
}
