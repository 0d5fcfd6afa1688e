#include "workshop/rest.h"

#include "core/cells/claim.h"
#include "core/measure/moment.h"
#include "core/measure/statistics.h"

#include <QDateTime>

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <tuple>

namespace ingot {

namespace {

constexpr double days_in_month = 30;
constexpr double hours_in_day = 24;
constexpr std::size_t store_limits = 1; // drive, store, light
constexpr double usual_resolution_v = 0.001;

// Readings since charge was last moved, oldest first.
std::map<Id, std::vector<Measurement>> resting(const std::vector<Measurement>& all,
                                               const std::map<Id, std::string>& last_runs) {
    std::map<Id, std::vector<Measurement>> out;
    for (const Measurement& m : all) {
        const auto run = last_runs.find(m.subject.unit);
        if (run == last_runs.end() || m.taken_at > run->second)
            out[m.subject.unit].push_back(m);
    }
    return out;
}

// What a rule set's share a month is at a set's voltage.
RestingSet set_at(const Chemistry& chemistry, int cells, double volts, double share) {
    RestingSet set;
    set.chemistry = chemistry;
    const double slope_v = chemistry.ocv.slope_at(volts / cells);
    constexpr double least_slope_v = 0.1; // 1 mV for 1 %
    set.told_by_voltage = chemistry.voltage_tells_charge && slope_v >= least_slope_v && share > 0;
    set.rules.limit_v_per_day = std::max(share / days_in_month * slope_v * cells, 1e-6);
    set.rules.resolution_v = 0;
    set.full_v = (chemistry.charging_v() + chemistry.charge_tolerance_v) * cells; // no charger ends higher
    return set;
}

double mean_of(const std::vector<Measurement>& history) {
    double sum = 0;
    for (const Measurement& m : history)
        sum += m.value;
    return sum / static_cast<double>(history.size());
}

void add_to(RestingSet& set, const Subject& subject, RestingUnit unit, const std::vector<Measurement>& history,
            const std::string& first_at, std::vector<Trait> traits) {
    for (const Measurement& m : history) {
        unit.readings.push_back({days_between(first_at, m.taken_at).value_or(0) * hours_in_day, m.value});
        set.rules.resolution_v = std::max(set.rules.resolution_v, m.resolution.value_or(usual_resolution_v));
    }
    set.units.push_back(subject);
    set.readings.push_back(std::move(unit));
    std::erase_if(traits, [](const Trait& trait) { return trait.value.empty(); });
    set.traits.push_back(std::move(traits));
    const Conditions& last = history.back().conditions;
    set.full_days.push_back(last.condition == Condition::stored ? last.days_since_charge : std::nullopt);
}

} // namespace

Id RestingLine::row() const {
    constexpr Id groups = 1000;
    constexpr Id places = 1000;
    return unit != 0 ? unit : -((place.assembly * groups + place.group) * places + place.place);
}

double RestService::store_share(const Chemistry& chemistry, bool low_self_discharge) const {
    return inventory_.rules().limits_for(chemistry.id)[store_limits].self_discharge_for(low_self_discharge);
}

RestQuestion RestService::question() const {
    RestQuestion out;
    const auto histories = resting(session_.measurements.rest_voltages(), session_.runs.last_run_at());
    for (const auto& [unit, history] : histories)
        if (out.first_at.empty() || history.front().taken_at < out.first_at)
            out.first_at = history.front().taken_at;
    std::map<Id, std::string> sources; // of lots
    for (const Lot& lot : inventory_.lots())
        sources[lot.id] = lot.source.empty() ? lot.label : lot.source;
    using Key = std::tuple<std::string, long, long>; // model, tenths of a volt of a cell, fortnight in which it began
    std::map<Key, std::size_t> index;
    for (const auto& [id, history] : histories) {
        const UnitState* unit = inventory_.unit(id);
        const Chemistry* chemistry = unit == nullptr ? nullptr : inventory_.chemistry_of(*unit);
        if (chemistry == nullptr || unit->quarantined ||
            (!unit->in_stock() && unit->record.whereabouts != Whereabouts::reserved))
            continue;
        const int cells = std::max(1, unit->reference.cells_in_series);
        const double mean_v = mean_of(history);
        constexpr double tenth_v = 0.1;
        constexpr double together_days = 14;
        const double began = days_between(out.first_at, history.front().taken_at).value_or(0);
        const auto [at, fresh] = index.emplace(
            Key{unit->record.model, std::lround(mean_v / cells / tenth_v), std::lround(began / together_days)},
            out.sets.size());
        if (fresh)
            out.sets.push_back(set_at(*chemistry, cells, mean_v, store_share(*chemistry)));
        RestingUnit resting_unit;
        resting_unit.id = unit->code();
        resting_unit.cells_in_series = cells;
        if (unit->facts.capacity_ah)
            resting_unit.capacity_ah = unit->facts.capacity_ah->value;
        const Assembly* pack = inventory_.pack(unit->record.pack);
        const auto source = pack != nullptr ? sources.find(pack->lot) : sources.end();
        add_to(out.sets[at->second], Subject{id, 0, 0, 0}, std::move(resting_unit), history, out.first_at,
               {{"model", unit->record.model},
                {"source", source != sources.end() ? source->second : std::string()},
                {"tray", unit->record.tray}});
    }
    add_places(out);
    add_retentions(out);
    return out;
}

// Units inside a pack whose links are cut on one side: siblings are all that were cut in that pack.
void RestService::add_places(RestQuestion& out) const {
    for (const Assembly& pack : inventory_.packs()) {
        const Chemistry* chemistry = inventory_.chemistry_of(pack);
        if (chemistry == nullptr || pack.state == AssemblyState::opened || pack.state == AssemblyState::refused)
            continue;
        std::map<std::pair<int, int>, std::vector<Measurement>> places;
        for (const Measurement& m : inventory_.measurements(pack.id))
            if (m.subject.place > 0 && m.quantity == Quantity::voltage &&
                (m.conditions.condition == Condition::rest || m.conditions.condition == Condition::stored))
                places[{m.subject.group, m.subject.place}].push_back(m);
        if (places.empty())
            continue;
        if (out.first_at.empty())
            out.first_at = places.begin()->second.front().taken_at;
        const int cells = std::max(1, pack.layout.cells_per_tap());
        const auto claimed_ah =
            believable_unit_ah(pack.claim, pack.layout, *chemistry,
                               pack.format.empty() ? nullptr : inventory_.library().format(pack.format));
        std::vector<double> volts;
        volts.reserve(places.size());
        for (const auto& [place, history] : places)
            volts.push_back(history.back().value);
        RestingSet& set = out.sets.emplace_back(set_at(*chemistry, cells, median(volts), store_share(*chemistry)));
        for (const auto& [place, history] : places) {
            RestingUnit unit;
            unit.id = fmt::format("{} {}.{}", pack.label, place.first, place.second);
            unit.cells_in_series = cells;
            unit.capacity_ah = claimed_ah;
            add_to(set, Subject{0, pack.id, place.first, place.second}, std::move(unit), history, out.first_at, {});
        }
    }
}

void RestService::add_retentions(RestQuestion& out) const {
    for (const Measurement& m : session_.measurements.retention_histories()) { // a unit's together, oldest first
        const UnitState* unit = inventory_.unit(m.subject.unit);
        const Chemistry* chemistry = unit == nullptr ? nullptr : inventory_.chemistry_of(*unit);
        if (chemistry == nullptr || unit->record.whereabouts == Whereabouts::recycled)
            continue;
        if (out.retentions.empty() || out.retentions.back().unit != m.subject.unit) {
            RetentionStand& stand = out.retentions.emplace_back();
            stand.unit = m.subject.unit;
            stand.limit_ah_per_day =
                store_share(*chemistry, unit->reference.low_self_discharge) * unit->reference.rated_ah / days_in_month;
        }
        RetentionStand& stand = out.retentions.back();
        const MeasuredCharge charge{m.value, m.uncertainty.value_or(m.resolution.value_or(0) / 2)};
        if (m.quantity == Quantity::voltage) { // charged full, again: the test begins anew
            if (stand.stored) {
                if (stand.recharged)
                    stand.before = stand.recharged;
                stand.stored.reset();
                stand.recharged.reset();
                stand.days = 0;
            }
            stand.charged_at = m.taken_at;
        } else if (m.conditions.condition == Condition::stored && !stand.charged_at.empty()) {
            stand.stored = charge;
            stand.days =
                m.conditions.days_since_charge.value_or(days_between(stand.charged_at, m.taken_at).value_or(0));
        } else if (stand.stored) {
            stand.recharged = charge;
        } else if (stand.charged_at.empty()) {
            stand.before = charge;
        }
    }
    std::erase_if(out.retentions, [](const RetentionStand& stand) { return stand.charged_at.empty(); });
}

namespace {

std::string moment_after(const std::string& first_at, double hours) {
    constexpr double ms_in_hour = 3'600'000;
    const QDateTime first = QDateTime::fromString(QString::fromStdString(first_at), Qt::ISODate);
    return first.addMSecs(std::llround(hours * ms_in_hour)).toUTC().toString(Qt::ISODate).toStdString();
}

// Full for months and still nearly full: it never fell faster than from the charge limit down to here.
void judge_stored_full(RestingLine& line, const RestingSet& set, std::size_t u) {
    constexpr double months_days = 60; // what a first relaxation takes is nothing to it
    const auto& days = set.full_days[u];
    if (line.leak.verdict != LeakVerdict::undecided || !days || *days < months_days)
        return;
    const double now_v = set.readings[u].readings.back().voltage_v;
    const double fall = largest_fall(set.full_v, now_v, set.rules.resolution_v, *days);
    if (fall > set.rules.limit_v_per_day)
        return;
    line.leak.verdict = LeakVerdict::fit;
    line.leak.next_reading_h.reset();
    line.stored_full_days = days;
    line.due_at.clear();
    line.leak.high_v_per_day = fall;
    line.leak.low_v_per_day = line.leak.low_v_per_day.value_or(0);
}

// How far a unit stood from its group when its links were cut.
void judge_apart(std::vector<RestingLine>& lines, std::size_t from, const RestingSet& set) {
    std::map<int, std::vector<double>> groups;
    for (std::size_t u = 0; u < set.units.size(); ++u)
        groups[set.units[u].group].push_back(set.readings[u].readings.front().voltage_v);
    constexpr std::size_t enough = 3;
    constexpr double not_connected_v =
        0.02; // what hangs together reads alike to the meter (common practice, no source)
    for (std::size_t u = 0; u < set.units.size(); ++u) {
        const auto& group = groups.at(set.units[u].group);
        const double away = set.readings[u].readings.front().voltage_v - median(group);
        if (set.units[u].assembly != 0 && group.size() >= enough && std::fabs(away) > not_connected_v)
            lines[from + u].apart_v = away;
    }
}

void judge_retentions(RestShelf& out, const RestQuestion& question) {
    std::map<Id, std::size_t> index;
    for (std::size_t i = 0; i < out.lines.size(); ++i)
        index[out.lines[i].unit] = i;
    for (const RetentionStand& stand : question.retentions) {
        const auto [at, fresh] = index.emplace(stand.unit, out.lines.size());
        if (fresh) {
            RestingLine& line = out.lines.emplace_back();
            line.unit = stand.unit;
            line.set = question.sets.size();
            line.told_by_voltage = false;
            line.last_at = stand.charged_at;
        }
        RestingLine& line = out.lines[at->second];
        if (line.told_by_voltage)
            continue; // its voltage tells it better
        line.retention = stand;
        if (stand.days <= 0) {
            line.due_at = moment_after(stand.charged_at, retention_days * hours_in_day);
            continue;
        }
        const auto& whole = stand.recharged ? stand.recharged : stand.before;
        if (!whole || !(whole->ah > 0) || !(stand.limit_ah_per_day > 0))
            continue;
        line.retained = judge_retention(stand.before.value_or(*whole), *stand.stored, stand.recharged, stand.days,
                                        stand.limit_ah_per_day);
        line.leak.verdict = line.retained->verdict;
        line.leak.ah_per_day = line.retained->ah_per_day;
    }
}

// What those that leak have in common.
std::vector<SharedTrait> shared_by_leakers(const RestShelf& shelf, const RestQuestion& question) {
    std::vector<std::vector<Trait>> traits;
    std::vector<char> leaks;
    std::size_t at = 0;
    for (const RestingSet& set : question.sets)
        for (std::size_t u = 0; u < set.units.size(); ++u, ++at) {
            const RestingLine& line = shelf.lines[at];
            if (line.unit == 0 || line.leak.verdict == LeakVerdict::undecided)
                continue;
            traits.push_back(set.traits[u]);
            leaks.push_back(line.leak.verdict == LeakVerdict::leaking ? 1 : 0);
        }
    return shared_traits(traits, leaks);
}

} // namespace

RestShelf RestService::judge(const RestQuestion& question, const Wanted& wanted) {
    RestShelf out;
    out.first_at = question.first_at;
    for (std::size_t s = 0; s < question.sets.size(); ++s) {
        const RestingSet& set = question.sets[s];
        const auto results = set.told_by_voltage ? judge_leaks(set.readings, set.chemistry, set.rules, wanted)
                                                 : std::vector<LeakResult>();
        if (!still(wanted))
            return {};
        const std::size_t from = out.lines.size();
        for (std::size_t u = 0; u < set.units.size(); ++u) {
            RestingLine line;
            line.unit = set.units[u].unit;
            line.place = set.units[u];
            line.set = s;
            line.readings = set.readings[u].readings.size();
            line.last_at = moment_after(question.first_at, set.readings[u].readings.back().time_h);
            line.limit_v_per_day = set.rules.limit_v_per_day;
            line.told_by_voltage = set.told_by_voltage;
            if (set.told_by_voltage) {
                line.leak = results[u];
                if (line.leak.next_reading_h)
                    line.due_at = moment_after(question.first_at, *line.leak.next_reading_h);
                judge_stored_full(line, set, u);
                if (line.leak.verdict == LeakVerdict::undecided && line.leak.low_v_per_day)
                    line.sees_v_per_day =
                        set.rules.limit_v_per_day + (*line.leak.high_v_per_day - *line.leak.low_v_per_day) / 2;
            }
            out.lines.push_back(std::move(line));
        }
        judge_apart(out.lines, from, set);
    }
    out.shared = shared_by_leakers(out, question);
    judge_retentions(out, question);
    // What leaks first, then what is to be read, the earliest first.
    const auto rank = [](const RestingLine& line) {
        const int kind = line.leak.verdict == LeakVerdict::leaking ? 0 : !line.due_at.empty() ? 1 : 2;
        return std::pair(kind, line.due_at);
    };
    std::stable_sort(out.lines.begin(), out.lines.end(),
                     [&](const RestingLine& a, const RestingLine& b) { return rank(a) < rank(b); });
    return out;
}

namespace {

// What is kept of a line: nothing where it is not decided, or stands so already.
std::optional<Measurement> decided(const RestingLine& line, const UnitState& unit) {
    if (line.leak.verdict == LeakVerdict::undecided || !line.leak.ah_per_day)
        return std::nullopt;
    Measurement m;
    m.subject.unit = line.unit;
    m.quantity = Quantity::self_discharge;
    m.value = std::max(0.0, *line.leak.ah_per_day);
    if (line.retained) {
        m.uncertainty = (line.retained->high_ah_per_day - line.retained->low_ah_per_day) / 2;
        m.protocol = "retention test";
    } else {
        if (!line.leak.v_per_day)
            return std::nullopt;
        const double per_volt = *line.leak.v_per_day != 0 ? *line.leak.ah_per_day / *line.leak.v_per_day : 0;
        m.uncertainty = std::fabs(per_volt) * (*line.leak.high_v_per_day - *line.leak.low_v_per_day) / 2;
        m.protocol = "rest readings";
    }
    m.conditions.condition = Condition::stored;
    m.taken_at = line.last_at;
    constexpr double same = 0.01; // of what stands
    const auto& stands = unit.facts.self_discharge_ah_per_day;
    if (stands && std::fabs(stands->value - m.value) <= same * std::max(stands->value, m.value))
        return std::nullopt;
    return m;
}

} // namespace

Result<int> RestService::keep(const RestShelf& shelf) {
    std::vector<Measurement> kept;
    ChangeSet changes;
    for (const RestingLine& line : shelf.lines)
        if (const UnitState* unit = inventory_.unit(line.unit); unit != nullptr)
            if (auto m = decided(line, *unit)) {
                changes.add(ChangeSet::unit(line.unit));
                kept.push_back(std::move(*m));
            }
    if (kept.empty())
        return 0;
    const auto done = session_.step(
        [&] {
            for (Measurement& m : kept) {
                m.recorded_at = session_.now();
                m.rule_set = inventory_.rules().stamp();
                session_.measurements.add(m);
            }
        },
        changes);
    return done ? Result<int>(static_cast<int>(kept.size())) : Result<int>(done.problem());
}

Result<ShelfRound> RestService::begin_round(std::optional<double> room_c, const std::string& meter) {
    constexpr double coldest_c = -30;
    constexpr double hottest_c = 60;
    if (room_c && !(*room_c >= coldest_c && *room_c <= hottest_c))
        return Problem{"", 0, said("A room of {} degC? Give it in degC, or leave it empty.", *room_c)};
    Round round;
    round.condition = Condition::rest;
    round.room_c = room_c;
    round.instrument = meter;
    round.begun_at = session_.now();
    const auto id = session_.commit([&] { return session_.measurements.add(round); }, {});
    if (!id)
        return id.problem();
    return ShelfRound{id.value(), room_c, meter, round.begun_at};
}

bool RestService::stands(const ShelfRound& round, std::optional<double> room_c, const std::string& meter) const {
    constexpr double walk_days = 4.0 / hours_in_day; // longer, and the room is another
    const auto since = days_between(round.begun_at, session_.now());
    return round.id != 0 && round.room_c == room_c && round.meter == meter && since && *since < walk_days;
}

Measurement RestService::reading(const ShelfRound& round, double volts, std::optional<double> resolution) {
    Measurement out;
    out.quantity = Quantity::voltage;
    out.value = volts;
    out.resolution = resolution;
    out.instrument = round.meter;
    out.protocol = "typed";
    out.round = round.id;
    out.conditions.condition = Condition::rest;
    out.conditions.temperature_c = round.room_c;
    return out;
}

std::optional<double> RestService::days_stored(Id unit, Id run) const {
    std::string charged_at, began_at;
    for (const Measurement& m : session_.measurements.of_unit(unit))
        if (m.quantity == Quantity::voltage && m.conditions.condition == Condition::end_of_charge)
            charged_at = std::max(charged_at, m.taken_at);
    const auto runs = session_.runs.of_unit(unit);
    for (const Run& other : runs)
        if (other.id == run)
            began_at = other.began_at.empty() ? other.recorded_at : other.began_at;
    for (const Run& other : runs)
        if (other.id != run && std::max(other.began_at, other.ended_at) > charged_at)
            return std::nullopt;
    const auto days = charged_at.empty() || began_at <= charged_at ? std::nullopt : days_between(charged_at, began_at);
    return days && *days >= 1 ? days : std::nullopt;
}

Result<Measurement> RestService::discharged(Id unit, double ah, std::optional<double> resolution) const {
    const UnitState* state = inventory_.unit(unit);
    if (state == nullptr)
        return no_such_unit();
    std::string charged_at;
    for (const Measurement& m : session_.measurements.of_unit(unit))
        if (m.quantity == Quantity::voltage && m.conditions.condition == Condition::end_of_charge &&
            m.taken_at > charged_at)
            charged_at = m.taken_at;
    if (charged_at.empty())
        return Problem{"", 0,
                       said("{} was not noted as charged full. Note the voltage at the end of its charge first: its "
                            "weeks are counted from there.",
                            state->code())};
    Measurement out;
    out.quantity = Quantity::capacity;
    out.value = ah;
    out.resolution = resolution;
    out.protocol = "typed";
    out.conditions.condition = Condition::stored;
    out.conditions.days_since_charge = days_between(charged_at, session_.now());
    return out;
}

} // namespace ingot
