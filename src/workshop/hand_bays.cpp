#include "workshop/hand_bays.h"

#include "core/measure/moment.h"
#include "exchange/protocol_toml.h"
#include "workshop/bench_wording.h"
#include "workshop/figures.h"
#include "workshop/translated.h"

#include <QDateTime>

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

constexpr const char* charger_kind = "charger";
constexpr double seconds_in_hour = 3600;

QDateTime moment_of(const std::string& text) {
    return QDateTime::fromString(QString::fromStdString(text), Qt::ISODate);
}

std::string tester_of(const std::string& charger) {
    return by_hand_prefix + charger;
}

// What a hand charger is taken to be able to do; what its own settings do not allow is seen on its display.
BayAbilities abilities_of_a_hand() {
    BayAbilities out;
    constexpr double most_v = 60;
    constexpr double most_a = 20;
    out.most_v = most_v;
    out.most_a = most_a;
    return out;
}

// One line of the card.
QString card_line(const ProtocolStep& step, const BayStep& resolved, int number) {
    const QString n = QString::number(number);
    const auto until = [&] {
        QStringList ends;
        if (resolved.minus_dv)
            ends << wording::tr("the voltage has fallen %1 from its peak").arg(figures::volts(*resolved.minus_dv));
        if (resolved.tail_a)
            ends << wording::tr("the current is down to %1").arg(figures::amperes(*resolved.tail_a));
        if (resolved.capacity_ah)
            ends << wording::tr("%1 has moved").arg(figures::unit_capacity(*resolved.capacity_ah));
        if (resolved.rise_k_per_min)
            ends << wording::tr("it warms fast");
        if (resolved.hours)
            ends << wording::tr("%1 h have passed").arg(figures::plain(*resolved.hours, 2));
        return ends.join(wording::tr(" or "));
    };
    switch (step.kind) {
    case ProtocolStepKind::charge: {
        QString line = wording::tr("%1. Charge with %2").arg(n, figures::amperes(std::fabs(resolved.current_a)));
        if (resolved.volts)
            line += wording::tr(" to %1").arg(figures::volts(*resolved.volts, 2));
        const QString ends = until();
        return ends.isEmpty() ? line : line + wording::tr(", until %1").arg(ends);
    }
    case ProtocolStepKind::discharge: {
        QString line = wording::tr("%1. Discharge with %2").arg(n, figures::amperes(std::fabs(resolved.current_a)));
        if (resolved.volts)
            line += wording::tr(" down to %1").arg(figures::volts(*resolved.volts, 2));
        return line;
    }
    case ProtocolStepKind::rest:
        return wording::tr("%1. Rest %2 min").arg(n).arg(std::lround(resolved.hours.value_or(0) * 60));
    case ProtocolStepKind::pulse:
        return wording::tr("%1. Leave out: a pulse needs a tester").arg(n);
    case ProtocolStepKind::loop:
        return wording::tr("%1. Go back to %2, %3 times in all").arg(n).arg(step.back_to + 1).arg(step.times);
    }
    return {};
}

} // namespace

std::vector<HandCharger> HandBays::chargers() const {
    std::vector<HandCharger> out;
    for (const Instrument& instrument : workshop_.catalogue().instruments())
        if (instrument.kind == charger_kind)
            out.push_back({instrument.name, instrument.channels});
    return out;
}

Result<bool> HandBays::set_charger(const std::string& name, int channels) {
    constexpr int most = 32;
    if (name.empty() || channels < 1 || channels > most)
        return Problem{"", 0, said("A charger has a name and 1 to 32 channels.")};
    Instrument instrument;
    for (const Instrument& known : workshop_.catalogue().instruments())
        if (known.name == name)
            instrument = known;
    if (!instrument.kind.empty() && instrument.kind != charger_kind)
        return Problem{"", 0, said("An instrument of that name is a {} already. Give another name.", instrument.kind)};
    for (const BayRun& run : workshop_.session_.runs.open())
        if (run.tester == tester_of(name) && run.bay > channels)
            return Problem{"", 0, said("Channel {} is taken. Lift its unit out first.", run.bay)};
    instrument.name = name;
    instrument.kind = charger_kind;
    instrument.channels = channels;
    return workshop_.catalogue().set_instrument(instrument);
}

std::optional<BayRun> HandBays::open_run(Id run) const {
    for (const BayRun& record : workshop_.session_.runs.open())
        if (record.run == run && run_by_hand(record))
            return record;
    return std::nullopt;
}

HandBay HandBays::look_at(const BayRun& record) const {
    HandBay bay;
    bay.charger = record.tester.substr(std::string(by_hand_prefix).size());
    bay.channel = record.bay;
    static_cast<OnChannel&>(bay) = record;
    bay.run = record.run;
    bay.code = code_on(workshop_, record);
    bay.began_at = record.started_at;
    bay.ended = record.state != "running";
    const auto protocol = exchange::read_protocol(record.protocol_text, record.protocol);
    if (!protocol)
        return bay;
    bay.protocol = protocol.value();
    const BayUnit facts = bay_unit_of(workshop_, record);
    const double hours = predicted_hours(bay.protocol, facts);
    const QDateTime due = moment_of(record.started_at).addSecs(std::llround(hours * seconds_in_hour));
    bay.due_at = due.toUTC().toString(Qt::ISODate).toStdString();
    bay.overdue = !bay.ended && due.isValid() && moment_of(workshop_.now()) > due;
    const auto steps = workshop_.session_.runs.steps_of(record.run);
    bay.cycles = cycles_of_run(bay.protocol, record.run, record.unit, steps, record.started_at);
    bay.typed = static_cast<int>(std::count_if(
        steps.begin(), steps.end(), [](const RunStep& step) { return step.kind == RunStepKind::discharge; }));
    if (const auto capacity = capacity_of_run(steps, {}, emptying_step(bay.protocol, steps)))
        bay.capacity_ah = capacity->capacity_ah;
    if (bay.protocol.purpose == "conditioning" && bay.unit != 0 && facts.rated_ah > 0) {
        ConditioningRow row; // several in series: how they do together, in this run
        for (const Cycle& cycle : bay.several() ? bay.cycles : workshop_.session_.runs.cycles_of(record.unit))
            row.add(cycle);
        if (!row.cycles.empty()) { // fitted again only when its cycles, rating or bar changed
            ConditioningRow& kept = judged_[record.unit];
            const double bar_ah = conditioning_bar_of(workshop_, record.unit);
            if (kept.cycles != row.cycles || kept.rated_ah != facts.rated_ah || kept.bar_ah != bar_ah) {
                judge_row(workshop_, record.unit, row);
                kept = std::move(row);
            }
            bay.row = kept;
        }
    }
    return bay;
}

std::vector<HandBay> HandBays::bays() const {
    std::vector<HandBay> out;
    const auto open = workshop_.session_.runs.open();
    for (const HandCharger& charger : chargers())
        for (int channel = 1; channel <= charger.channels; ++channel) {
            HandBay bay;
            bay.charger = charger.name;
            bay.channel = channel;
            for (const BayRun& record : open)
                if (record.tester == tester_of(charger.name) && record.bay == channel)
                    bay = look_at(record);
            out.push_back(std::move(bay));
        }
    return out;
}

std::optional<HandBay> HandBays::bay_of(Id unit) const {
    for (const BayRun& record : workshop_.session_.runs.open())
        if (run_by_hand(record) && record.holds(unit))
            return look_at(record);
    return std::nullopt;
}

int HandBays::overdue() const {
    const auto all = bays();
    return static_cast<int>(std::count_if(all.begin(), all.end(), [](const HandBay& bay) { return bay.overdue; }));
}

bool HandBays::fits(const OnChannel& on, const Protocol& protocol) const {
    const Chemistry* chemistry = chemistry_on(workshop_, on);
    const bool pulse = std::any_of(protocol.steps.begin(), protocol.steps.end(),
                                   [](const ProtocolStep& step) { return step.kind == ProtocolStepKind::pulse; });
    return chemistry != nullptr && !(pulse && protocol.purpose == "resistance") &&
           check_protocol(protocol, bay_unit_of(workshop_, on), *chemistry, abilities_of_a_hand()).empty();
}

QStringList HandBays::card(const OnChannel& on, const Protocol& protocol) const {
    QStringList out;
    const BayUnit facts = bay_unit_of(workshop_, on);
    const Chemistry* chemistry = chemistry_on(workshop_, on);
    if (chemistry == nullptr || !(facts.rated_ah > 0))
        return out;
    int number = 0;
    for (const ProtocolStep& step : protocol.steps)
        out << card_line(step, resolve(step, facts), ++number);
    const bool charges = protocol.charges();
    for (const ProtocolStep& step : protocol.steps)
        if (step.kind == ProtocolStepKind::charge || (!charges && step.kind == ProtocolStepKind::discharge)) {
            const BayLimits limits = limits_for(protocol, step, facts, *chemistry);
            out << wording::tr("Limits: %1, %2, %3 °C on a sensor at the unit")
                       .arg(figures::volts(limits.high_v, 2), figures::unit_capacity(limits.capacity_ah),
                            figures::plain(limits.high_c, 0));
            break;
        }
    return out;
}

std::optional<Problem> HandBays::may_not_begin(const OnChannel& on, const std::string& charger, int channel,
                                               const std::string& protocol_id, double found_v,
                                               std::optional<double> room_c) const {
    const auto no = [](Sentence why) { return Problem{"", 0, std::move(why)}; };
    const auto all = chargers();
    const auto known = std::find_if(all.begin(), all.end(), [&](const HandCharger& c) { return c.name == charger; });
    if (known == all.end())
        return no(said("There is no charger \"{}\". Enter it first.", charger));
    if (channel < 1 || channel > known->channels)
        return no(said("{} has channels 1 to {}.", charger, known->channels));
    const Protocol* protocol = workshop_.library().protocol(protocol_id);
    if (auto problem = may_run_on_no_bay(workshop_, on, protocol))
        return problem;
    for (const BayRun& run : workshop_.session_.runs.open()) {
        if (const auto shared = shared_by(workshop_, on, run))
            return no(
                said("{} is in {}{} already.", *shared,
                     (run_by_hand(run) ? run.tester.substr(std::string(by_hand_prefix).size()) + ", channel " : "bay "),
                     run.bay));
        if (run.tester == tester_of(charger) && run.bay == channel)
            return no(said("Channel {} is taken. Lift its unit out first.", channel));
    }
    const Chemistry* chemistry = chemistry_on(workshop_, on);
    BayUnit facts = bay_unit_of(workshop_, on);
    facts.found_v = found_v;
    const auto objected = check_protocol(*protocol, facts, *chemistry, abilities_of_a_hand(), room_c);
    if (!objected.empty())
        return no(said("{}: {}", code_on(workshop_, on),
                       wording::protocol_objection(objected.front(), *protocol).toStdString()));
    return std::nullopt;
}

Result<Id> HandBays::begin(const OnChannel& on, const std::string& charger, int channel, const std::string& protocol_id,
                           double found_v, std::optional<double> room_c) {
    if (auto problem = may_not_begin(on, charger, channel, protocol_id, found_v, room_c))
        return *std::move(problem);
    const Protocol& protocol = *workshop_.library().protocol(protocol_id);
    const std::string code = code_on(workshop_, on);
    Run run;
    static_cast<OnChannel&>(run) = on;
    run.instrument = charger;
    run.protocol = protocol.stamp();
    run.began_at = run.recorded_at = workshop_.now();
    BayRun record;
    static_cast<OnChannel&>(record) = on;
    record.tester = tester_of(charger);
    record.bay = channel;
    record.protocol = protocol.id;
    record.protocol_version = protocol.version;
    record.protocol_text = exchange::write_protocol(protocol);
    record.state = "running";
    record.started_at = run.began_at;
    ChangeSet changes = touched_by(on); // its rest voltage holds no longer
    changes.queue = true;
    return workshop_.session_.commit(
        [&] {
            const Id id = workshop_.session_.runs.begin(run, record);
            for (const Id unit : on.units())
                workshop_.session_.runs.leave_queue(unit);
            workshop_.session_.record_event("put on a charger", code,
                                            charger + ", channel " + std::to_string(channel) + ", " + protocol.stamp());
            return id;
        },
        changes);
}

Result<bool> HandBays::add_cycle(Id run, const HandCycle& typed) {
    const auto record = open_run(run);
    if (!record || record->state != "running")
        return Problem{"", 0, said("This run is over. Put the unit on the charger again for a further cycle.")};
    const HandBay bay = look_at(*record);
    const BayUnit facts = bay_unit_of(workshop_, bay);
    constexpr double most_share = 3; // of the rating: an old figure of the display, or mAh typed as Ah
    for (const auto& [ah, what] : {std::pair{typed.charge_ah.value_or(0), "charge"}, {typed.discharge_ah, "discharge"}})
        if (ah < 0 || ah > most_share * facts.rated_ah)
            return Problem{"", 0,
                           said("A {} of {} cannot be with {} rated. Look at the display again.", what,
                                figures::unit_capacity(ah).toStdString(),
                                figures::unit_capacity(facts.rated_ah).toStdString())};
    if (!(typed.discharge_ah > 0))
        return Problem{"", 0, said("Type what the discharge gave. A cycle without a discharge tells nothing.")};
    // As on a tester: what ran hot is a hazard until somebody has looked at it, and that is written first.
    if (typed.end == bench::StepEnd::hot)
        if (const auto held = hold_apart(workshop_, bay, "stopped hot"); !held)
            return held;
    auto steps = workshop_.session_.runs.steps_of(run);
    const double now_s = static_cast<double>(moment_of(record->started_at).secsTo(moment_of(workshop_.now())));
    const double before_s = steps.empty() ? 0 : steps.back().end_s;
    std::vector<RunStep> fresh;
    const auto add = [&](RunStepKind kind, double ah, std::optional<bench::StepEnd> end) {
        RunStep step;
        step.number = static_cast<int>(steps.size() + fresh.size()) + 1;
        step.kind = kind;
        step.start_s = before_s;
        step.end_s = std::max(before_s, now_s);
        step.end = end ? bench::code(*end) : ""; // nobody said why a charge ended
        step.as_meant = !end || bench::as_meant(*end);
        step.charge_ah = ah;
        step.hottest_c = typed.hottest_c;
        // What the charger was set to, by the card.
        for (const ProtocolStep& set : bay.protocol.steps) {
            const BayStep resolved = resolve(set, facts);
            if ((kind == RunStepKind::discharge) != (set.kind == ProtocolStepKind::discharge) ||
                (kind == RunStepKind::charge) != (set.kind == ProtocolStepKind::charge))
                continue;
            step.mean_a = std::fabs(resolved.current_a);
            if (end && step.as_meant)
                step.end_v = resolved.volts;
            break;
        }
        fresh.push_back(step);
    };
    const auto add_charge = [&] {
        if (typed.charge_ah)
            add(RunStepKind::charge, *typed.charge_ah,
                typed.took_all ? std::optional(bench::StepEnd::capacity) : std::nullopt);
    };
    const bool charged_after = bay.protocol.empties_first();
    if (!charged_after)
        add_charge();
    add(RunStepKind::discharge, typed.discharge_ah, typed.end);
    if (charged_after)
        add_charge();
    steps.insert(steps.end(), fresh.begin(), fresh.end());
    const auto cycles = cycles_of_run(bay.protocol, run, bay.unit, steps, workshop_.now());
    return workshop_.session_.step(
        [&] {
            for (const RunStep& step : fresh)
                workshop_.session_.runs.add(run, step);
            if (bay.protocol.purpose == "conditioning" && bay.unit != 0 && !bay.several() &&
                cycles.size() > bay.cycles.size())
                workshop_.session_.runs.add(cycles.back());
        },
        touched_by(bay));
}

Result<bool> HandBays::end(Id run, bool as_meant) {
    auto record = open_run(run);
    if (!record || record->state != "running")
        return Problem{"", 0, said("This run is over already.")};
    const HandBay bay = look_at(*record);
    record->state = as_meant ? "done" : "stopped";
    record->stop = bench::code(as_meant ? bench::StepEnd::none : bench::StepEnd::stopped);
    record->ended_at = workshop_.now();
    const auto steps = workshop_.session_.runs.steps_of(run);
    const auto capacity =
        capacity_of_run(steps, workshop_.test().errors_of(bay.charger), emptying_step(bay.protocol, steps));
    if (!capacity || bay.protocol.purpose == "resistance" || bay.several())
        return workshop_.test().record_concluded(bay, {}, {}, run, &*record);
    Measurement m;
    m.quantity = Quantity::capacity;
    m.value = capacity->capacity_ah;
    m.uncertainty = capacity->uncertainty_ah;
    m.instrument = bay.charger;
    m.protocol = bay.protocol.stamp();
    m.conditions.discharge_current_a = capacity->mean_a;
    m.conditions.cutoff_v = capacity->cutoff_v;
    m.conditions.temperature_c = capacity->temperature_c;
    return workshop_.test().record_concluded(bay, {m}, {}, run, &*record);
}

Result<bool> HandBays::lift_out(Id run) {
    auto record = open_run(run);
    if (!record)
        return Problem{"", 0, said("This unit is lifted out already.")};
    if (record->state == "running")
        return Problem{"", 0, said("It still runs. Stop the charger and say so first.")};
    record->state = "lifted";
    record->lifted_at = workshop_.now();
    return workshop_.session_.step([&] { workshop_.session_.runs.update(*record); }, touched_by(*record));
}

} // namespace ingot
