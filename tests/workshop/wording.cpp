#include "workshop/wording.h"

#include "exchange/library_toml.h"
#include "workshop/build_wording.h"
#include "workshop/triage_wording.h"

#include <catch2/catch.hpp>

#include <algorithm>

using namespace ingot;

TEST_CASE("An objection shows its arithmetic") {
    ClaimFinding f{ClaimObjection::added_in_series, 26.4, 13.2, 3.7, 4.4, 0};
    const QString text = wording::objection(f, {6, 2, 1});
    for (const char* part : {"26.40", "6S2P", "13.20", "4.40", "2.20"})
        CHECK(text.contains(QLatin1String(part)));
    ClaimFinding v{ClaimObjection::voltage_misfit, 36.0, 5.14, 3.6, 25.2, 10};
    for (const char* part : {"36.0", "7", "25.2", "10"})
        CHECK(wording::objection(v, {7, 4, 1}).contains(QLatin1String(part)));
}

TEST_CASE("No code is ever shown bare: every value of every list has words") {
    for (int d = 0; d < duty_count; ++d) {
        CHECK_FALSE(wording::duty(static_cast<Duty>(d)).isEmpty());
        CHECK_FALSE(wording::duty_meaning(static_cast<Duty>(d)).isEmpty());
    }
    for (const auto s : {GroupState::dead, GroupState::deep, GroupState::low, GroupState::working, GroupState::over})
        CHECK_FALSE(wording::state(s).isEmpty());
    for (const auto w : {LogWarning::current_turned, LogWarning::hole_bridged, LogWarning::hole_lower_bound,
                         LogWarning::no_complete_discharge, LogWarning::cutoff_not_reached,
                         LogWarning::time_stands_still, LogWarning::few_samples})
        CHECK(wording::log_note({w, 1, 2}).size() > 10);
    for (const auto n :
         {MatchNote::resistance_unknown, MatchNote::self_discharge_unknown, MatchNote::units_without_capacity,
          MatchNote::units_without_resistance, MatchNote::units_without_self_discharge, MatchNote::stopped})
        CHECK(wording::match_note(n, 3).size() > 10);
    for (const auto a : {JoinAdvice::join, JoinAdvice::within_limit, JoinAdvice::through_resistor,
                         JoinAdvice::bring_to_voltage, JoinAdvice::unknown}) {
        JoinCheck check;
        check.advice = a;
        CHECK(wording::join_advice(check).size() > 10);
    }
    for (const auto k : {EvidenceKind::missing_capacity, EvidenceKind::missing_resistance,
                         EvidenceKind::missing_self_discharge, EvidenceKind::finding, EvidenceKind::overruled}) {
        Evidence e;
        e.kind = k;
        CHECK(wording::evidence(e).size() > 5);
        CHECK_FALSE(wording::evidence_name(e).isEmpty());
    }
    CHECK(wording::implausible(Implausible::too_high, Quantity::voltage, 37, 4.8).contains(QLatin1String("37")));
    CHECK(wording::implausible(Implausible::none, Quantity::voltage, 3.7, 4.8).isEmpty());
}

TEST_CASE("Evidence says what the next better duty would need") {
    Evidence e;
    e.kind = EvidenceKind::capacity;
    e.measured = 1.9;
    e.relative = 1.9 / 2.6;
    e.limits = {{2.08, Duty::drive}, {1.82, Duty::store}, {1.56, Duty::light}};
    e.allows = Duty::store;
    CHECK(wording::evidence(e).contains(QStringLiteral("Drive needs at least 2.080")));
    e.allows = Duty::scrap;
    CHECK(wording::evidence(e).contains(QStringLiteral("Light needs at least 1.560")));
    e.allows = Duty::drive;
    CHECK(wording::evidence(e).contains(QStringLiteral("meets Drive")));
}

TEST_CASE("Triage says what stands out and by how much") {
    TriageResult r;
    r.groups.resize(3);
    r.summary = PackTriage::group_stands_out;
    r.worst = 2;
    r.groups[2].from_median_v = -0.190;
    CHECK(wording::triage_summary(r).contains(QStringLiteral("Group 3 stands out: 0.190")));
}

TEST_CASE("A reason speaks of all its groups, and only of what was read") {
    const TriageCase pack;
    Explanation e;
    e.fault = Fault::imbalance;
    e.groups = {3};
    e.amount = -0.08;
    e.shifts = {{3, Condition::rest, 0, -0.06, -0.06, 3.8}};
    const auto has = [&](const char* words) { return wording::reason(e, pack).contains(QLatin1String(words)); };
    CHECK(has(": it is behind in charge (by about 8"));
    CHECK_FALSE(has("everywhere")); // read once
    e.shifts.push_back({3, Condition::stored, 7, -0.06, -0.06, 3.8});
    CHECK(has("the same shift everywhere, so it is behind in charge"));

    e.groups = {3, 5};
    e.shifts = {{3, Condition::rest, 0, -0.06, -0.06, 3.8}, {5, Condition::rest, 0, -0.062, -0.06, 3.8}};
    CHECK(has("Group 3 stands"));
    CHECK(has("and group 5 stands"));
    CHECK(has(": they are behind in charge (by about 8"));
    e.shifts[1].measured_v = -0.15; // by another amount
    CHECK(has(": they are behind in charge."));
    for (const auto& [fault, words] : std::vector<std::pair<Fault, const char*>>{
             {Fault::weak_group, "they seem to hold less"}, {Fault::disconnected_cell, "they behave as if"}}) {
        e.fault = fault;
        CHECK(has(words));
        CHECK_FALSE(has("About")); // of which?
    }
    e.shifts.push_back({3, Condition::load, 0, -0.1, -0.1, 3.6});
    e.fault = Fault::leaking_cell;
    CHECK(has("while they carry load like their siblings"));
    e.fault = Fault::weak_group;
    CHECK(has("they hold less and sag more than their siblings"));
}

// Common practice, no source.
TEST_CASE("N40, N45: a step says what keeps it from a short; joining says what is never soldered") {
    const auto how = [](BuildTask task) { return wording::build_task_how(task); };
    CHECK(how(BuildTask::rings).contains(QStringLiteral("ring on every plus end")));
    CHECK(how(BuildTask::parallel_front).contains(QStringLiteral("clip the corners")));
    CHECK(how(BuildTask::links_front).contains(QStringLiteral("sleeve under each jumper")));
    CHECK(how(BuildTask::cover_front).contains(QStringLiteral("card over the finished face")));
    CHECK(how(BuildTask::holder).contains(QStringLiteral("as drawn")));
    // Rings before anything stands side by side, a card before the pack is turned, the leads after all links, the board
    // last.
    for (const auto& [earlier, later] : {std::pair{BuildTask::rings, BuildTask::holder},
                                         {BuildTask::polarity, BuildTask::parallel_front},
                                         {BuildTask::links_front, BuildTask::cover_front},
                                         {BuildTask::cover_front, BuildTask::links_back},
                                         {BuildTask::links_back, BuildTask::sense_leads},
                                         {BuildTask::fuse, BuildTask::board}})
        CHECK(static_cast<int>(earlier) < static_cast<int>(later));
    CHECK(wording::build_task_caution(BuildTask::holder) == "build");
    for (const BuildTask task :
         {BuildTask::parallel_front, BuildTask::links_back, BuildTask::sense_leads, BuildTask::board})
        CHECK(wording::build_task_caution(task) == "joining");
    const auto library = exchange::read_library(std::string(INGOT_SOURCE_DIR) + "/data").value();
    const exchange::Caution& joining = library.cautions.at("joining");
    CHECK(joining.title == "Never solder on a lithium cell");
    CHECK(std::any_of(joining.sentences.begin(), joining.sentences.end(), [](const std::string& sentence) {
        return sentence.find("vent and plastic ring left free") != std::string::npos;
    }));
}
