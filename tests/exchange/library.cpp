#include "exchange/library_toml.h"

#include <catch2/catch.hpp>

#include "temporary.h"

using namespace ingot;
using namespace ingot::exchange;

namespace {
const std::string shipped = std::string(INGOT_SOURCE_DIR) + "/data";

// The shipped files with one of them replaced.
Result<Library> with(const std::string& kind, const std::string& name, const std::string& text) {
    auto texts = read_library_texts(shipped).value();
    std::erase_if(texts, [&](const auto& t) { return t.kind == kind && t.name == name; });
    texts.push_back({kind, name, text});
    return parse_library(texts);
}
} // namespace

TEST_CASE("The shipped library reads, and every value has a source") {
    const auto library = read_library(shipped);
    REQUIRE(library.ok());
    for (const auto& [id, chemistry] : library.value().chemistries) {
        CHECK_FALSE(chemistry.source.empty());
        CHECK_FALSE(chemistry.ocv.empty());
        CHECK(chemistry.test_cutoff_v >= chemistry.floor_v);
    }
    for (const auto& [id, format] : library.value().formats)
        CHECK_FALSE(format.source.empty());
    for (const auto& [id, model] : library.value().models)
        CHECK_FALSE(model.source.empty());
    for (const auto& finding : library.value().findings)
        CHECK_FALSE(finding.source.empty());
    for (const auto& [id, caution] : library.value().cautions)
        CHECK_FALSE(caution.source.empty());
    for (const char* seen : {"swollen", "leaking", "vented", "dented", "rusted", "wet", "hot", "burnt"})
        CHECK(library.value().finding(seen) != nullptr);
    for (const char* step : {"receive", "gate", "triage", "open", "test", "match", "build", "joining", "quarantine"})
        CHECK(library.value().cautions.contains(step));
}

TEST_CASE("Shipped limits against the handbook's values") {
    const auto library = read_library(shipped).value();
    const Chemistry& nmc = *library.chemistry("nmc");
    CHECK(*nmc.charge_limit_v == 4.20); // usual data sheets
    CHECK(nmc.floor_v == 2.50);
    CHECK(library.chemistry("lfp")->full_v == 3.65);
    CHECK(library.chemistry("nicd")->test_cutoff_v == 1.00); // IEC 61951: 1.0 V a cell at 0.2 It (clause from memory)
    CHECK_FALSE(library.chemistry("nimh")->charge_limit_v.has_value()); // current controlled
    // Representative curves: LFP at 3.300 V, and how little 2 mV of meter error leave of it.
    CHECK(library.chemistry("lfp")->ocv.soc_at(3.300) == Approx(0.564286).margin(1e-5));
    CHECK(library.chemistry("lfp")->ocv.soc_at(3.298) == Approx(0.55).margin(1e-5));
    CHECK(library.chemistry("pb-agm")->ocv.soc_at(12.40 / 6) == Approx(0.5942).margin(1e-4));
    // Impossible above: volume of an 18650 at its largest size (18.6 x 65.3 mm) times 900 Wh/L over 3.6 V.
    const double litres = 3.14159265 / 4 * 18.6 * 18.6 * 65.3 * 1e-6;
    CHECK(library.format("18650")->capacity_for("nmc")->impossible_above_ah ==
          Approx(litres * 900 / 3.6).margin(0.005));
    CHECK(library.format("18650")->capacity_for("lfp")->impossible_above_ah ==
          Approx(litres * 450 / 3.2).margin(0.006));
    CHECK(library.format("AA")->capacity_for("nmc") == nullptr);
}

TEST_CASE("A broken data file is reported with its line") {
    const auto broken = with("chemistries", "nmc.toml", "id = \"nmc\"\nname = = 3\n");
    REQUIRE_FALSE(broken.ok());
    CHECK(broken.problem().where == "nmc.toml");
    CHECK(broken.problem().line == 2);
    const auto text = with("rule-sets", "capacity-tested.toml", "id = \"x\"\nname = 3\n");
    CHECK(text.problem().line == 2);
    const auto curve = with("ocv", "nmc.csv", "State of Charge / %,Voltage / V\n0,3.0\n10,2.9\n");
    CHECK(curve.problem().text().find("nmc.csv:3:") == 0);
    const auto model =
        with("models", "models.toml",
             "[[model]]\nid = \"A\"\nname = \"A\"\nsource = \"x\"\nchemistry = \"none\"\nrated_ah = 2\n");
    CHECK(model.problem().line == 5);
    const auto bands =
        with("look-findings", "look-findings.toml",
             "[[finding]]\nid = \"a\"\nname = \"A\"\nsource = \"x\"\nwhat_to_do = \"y\"\nconsequence = \"maybe\"\n");
    CHECK(bands.problem().line == 6);
}

TEST_CASE("A missing data folder is reported") {
    const tests::Temporary folder;
    CHECK_FALSE(read_library(folder.file("")).ok());
    CHECK(read_library(folder.file("nowhere")).problem().text().find("nowhere") != std::string::npos);
}

TEST_CASE("A rule set writes and reads back; limits must loosen") {
    RuleSet rules = read_library(shipped).value().rule_sets.at("capacity-tested");
    rules.by_model["H26"].least_capacity_ah[1] = 1.9;
    rules.by_model["H26"].largest_resistance_ohm[0] = 0.06;
    rules.version = 7;
    const auto again = parse_rule_set(write_rule_set(rules), "r.toml");
    REQUIRE(again.ok());
    CHECK(again.value().version == 7);
    CHECK(*again.value().by_model.at("H26").least_capacity_ah[1] == 1.9);
    CHECK_FALSE(again.value().by_model.at("H26").least_capacity_ah[0].has_value());
    CHECK(again.value().by_chemistry.at("nimh")[0].least_capacity == rules.by_chemistry.at("nimh")[0].least_capacity);
    // N37: every shipped school holds low-self-discharge nickel to less than the other, and lithium to one limit.
    for (const auto& [id, school] : read_library(shipped).value().rule_sets) {
        INFO(id);
        for (const DutyLimits& limits : school.by_chemistry.at("nimh"))
            CHECK(limits.self_discharge_for(true) < limits.self_discharge_for(false));
        for (const DutyLimits& limits : school.by_chemistry.at("default"))
            CHECK(limits.self_discharge_for(true) == limits.self_discharge_for(false));
    }
    rules.by_chemistry["default"][0].largest_rise_k = 12;
    const auto cool = parse_rule_set(write_rule_set(rules), "r.toml");
    REQUIRE(cool.ok());
    CHECK(*cool.value().by_chemistry.at("default")[0].largest_rise_k == 12);
    CHECK_FALSE(cool.value().by_chemistry.at("default")[1].largest_rise_k);
    CHECK(*cool.value().by_chemistry.at("nimh")[0].largest_self_discharge_low ==
          *rules.by_chemistry.at("nimh")[0].largest_self_discharge_low);
    rules.by_chemistry["default"][1].largest_rise_k = 8; // stricter than Drive
    CHECK(parse_rule_set(write_rule_set(rules), "r.toml").problem().sentence.english().find("loosen") !=
          std::string::npos);
    rules.by_chemistry["default"][1].largest_rise_k.reset();
    std::string text = write_rule_set(rules);
    const auto at = text.find("least_capacity = 0.8");
    REQUIRE(at != std::string::npos);
    text.replace(at, 20, "least_capacity = 0.1");
    CHECK(parse_rule_set(text, "r.toml").problem().sentence.english().find("loosen") != std::string::npos);
}

TEST_CASE("K14: usual limits, prices and outlooks are data, and LCO has a curve of its own") {
    const Library library = read_library(shipped).value();
    CHECK(library.practice.joining.largest_v == 0.050);
    CHECK(library.practice.joining.resistor_below_v == 0.300);
    CHECK(library.practice.usual_tester.current_gain == 0.005); // K12: a figure of the library, not of the code
    CHECK(library.practice.usual_tester.current_offset_a == 0.002);
    CHECK(library.practice.conditioning_bar_share == Approx(5.0 / 6.5)); // common practice, no source
    CHECK(library.usual_worth.of(WorthRoute::buy_new).chance == 0.99);
    for (const RouteTerms& terms : library.usual_worth.terms)
        CHECK(terms.years > 0);
    // Half full, an LCO cell rests clearly higher than an NMC cell (handbooks, from memory).
    CHECK(library.chemistry("lco")->ocv.ocv_at(0.5) > library.chemistry("nmc")->ocv.ocv_at(0.5) + 0.05);

    // A shop's slip is said with its place.
    auto texts = read_library_texts(shipped).value();
    for (LibraryText& text : texts)
        if (text.kind == "practice")
            text.text.replace(text.text.find("0.300"), 5, "0.030");
    const auto slip = parse_library(texts);
    REQUIRE_FALSE(slip.ok());
    CHECK(slip.problem().where == "practice.toml");
    CHECK(slip.problem().sentence.english().find("rise") != std::string::npos);
}

TEST_CASE("N49: no unit model is shipped; one that a shop wrote reads back equal") {
    const auto library = read_library(shipped).value();
    CHECK(library.models.empty());
    UnitModel made;
    made.id = "RED \"10\", 2.2 Ah"; // what is printed on it
    made.name = "Red ten";
    made.chemistry = "nmc";
    made.format = "18650";
    made.rated_ah = 2.2;
    made.new_dc_resistance_ohm = 0.045;
    made.continuous_a = 4.4;
    made.mass_kg = 0.0441;
    made.version = 3;
    made.source = "printed on it";
    const auto again = with("models", "own.toml", write_model(made));
    REQUIRE(again.ok());
    const UnitModel& read = again.value().models.at(made.id);
    CHECK(read.name == made.name);
    CHECK(read.format == made.format);
    CHECK(read.rated_ah == made.rated_ah);
    CHECK(read.new_dc_resistance_ohm == made.new_dc_resistance_ohm);
    CHECK_FALSE(read.new_ac_resistance_ohm);
    CHECK(read.mass_kg == made.mass_kg);
    CHECK(read.version == 3);
    CHECK(read.source == made.source);
    CHECK_FALSE(read.low_self_discharge);
    made.low_self_discharge = true;
    CHECK(with("models", "own.toml", write_model(made)).value().models.at(made.id).low_self_discharge);
    CHECK_FALSE(with("models", "own.toml", write_model(made) + "low_self_discharge = \"yes\"\n").ok());
    const auto none = with("models", "own.toml",
                           "[[model]]\nid = \"A\"\nname = \"A\"\nsource = \"x\"\nchemistry = \"nmc\"\nrated_ah = 2\n"
                           "cells_in_series = 0\n");
    CHECK(none.problem().line == 7);
}
