#include "workshop/rest.h"

#include "core/measure/moment.h"

#include <QDateTime>

#include <algorithm>
#include <cmath>
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

} // namespace

RestQuestion RestService::question() const {
    RestQuestion out;
    const auto histories = resting(session_.measurements.rest_voltages(), session_.runs.last_run_at());
    for (const auto& [unit, history] : histories)
        if (out.first_at.empty() || history.front().taken_at < out.first_at)
            out.first_at = history.front().taken_at;
    using Key = std::tuple<std::string, long, long>; // model, tenths of a volt of a cell, fortnight in which it began
    std::map<Key, std::size_t> index;
    for (const auto& [id, history] : histories) {
        const UnitState* unit = inventory_.unit(id);
        const Chemistry* chemistry = unit == nullptr ? nullptr : inventory_.chemistry_of(*unit);
        if (chemistry == nullptr || unit->quarantined ||
            (!unit->in_stock() && unit->record.whereabouts != Whereabouts::reserved))
            continue;
        const int cells = std::max(1, unit->reference.cells_in_series);
        double mean_v = 0;
        for (const Measurement& m : history)
            mean_v += m.value / static_cast<double>(history.size());
        constexpr double tenth_v = 0.1;
        constexpr double together_days = 14;
        const double began = days_between(out.first_at, history.front().taken_at).value_or(0);
        const auto [at, fresh] = index.emplace(
            Key{unit->record.model, std::lround(mean_v / cells / tenth_v), std::lround(began / together_days)},
            out.sets.size());
        if (fresh) {
            RestingSet& set = out.sets.emplace_back();
            set.model = unit->record.model;
            set.chemistry = *chemistry;
            const double share = inventory_.rules().limits_for(chemistry->id)[store_limits].largest_self_discharge;
            const double slope_v = chemistry->ocv.slope_at(mean_v / cells);
            constexpr double least_slope_v = 0.1; // 1 mV for 1 %
            set.told_by_voltage = chemistry->voltage_tells_charge && slope_v >= least_slope_v && share > 0;
            set.rules.limit_v_per_day = std::max(share / days_in_month * slope_v * cells, 1e-6);
            set.rules.resolution_v = 0;
        }
        RestingSet& set = out.sets[at->second];
        RestingUnit& resting_unit = set.readings.emplace_back();
        resting_unit.id = unit->code();
        resting_unit.cells_in_series = cells;
        if (unit->facts.capacity_ah)
            resting_unit.capacity_ah = unit->facts.capacity_ah->value;
        for (const Measurement& m : history) {
            resting_unit.readings.push_back(
                {days_between(out.first_at, m.taken_at).value_or(0) * hours_in_day, m.value});
            set.rules.resolution_v = std::max(set.rules.resolution_v, m.resolution.value_or(usual_resolution_v));
        }
        set.units.push_back(id);
    }
    return out;
}

RestShelf RestService::judge(const RestQuestion& question) {
    RestShelf out;
    out.first_at = question.first_at;
    const QDateTime first = QDateTime::fromString(QString::fromStdString(question.first_at), Qt::ISODate);
    const auto moment = [&](double hours) {
        constexpr double ms_in_hour = 3'600'000;
        return first.addMSecs(std::llround(hours * ms_in_hour)).toUTC().toString(Qt::ISODate).toStdString();
    };
    for (std::size_t s = 0; s < question.sets.size(); ++s) {
        const RestingSet& set = question.sets[s];
        const auto results =
            set.told_by_voltage ? judge_leaks(set.readings, set.chemistry, set.rules) : std::vector<LeakResult>();
        for (std::size_t u = 0; u < set.units.size(); ++u) {
            RestingLine line;
            line.unit = set.units[u];
            line.set = s;
            line.readings = set.readings[u].readings.size();
            line.last_at = moment(set.readings[u].readings.back().time_h);
            line.limit_v_per_day = set.rules.limit_v_per_day;
            line.told_by_voltage = set.told_by_voltage;
            if (set.told_by_voltage) {
                line.leak = results[u];
                if (line.leak.next_reading_h)
                    line.due_at = moment(*line.leak.next_reading_h);
            }
            out.lines.push_back(std::move(line));
        }
    }
    // What leaks first, then what is to be read, the earliest first.
    const auto rank = [](const RestingLine& line) {
        const int kind = line.leak.verdict == LeakVerdict::leaking ? 0 : !line.due_at.empty() ? 1 : 2;
        return std::pair(kind, line.due_at);
    };
    std::stable_sort(out.lines.begin(), out.lines.end(),
                     [&](const RestingLine& a, const RestingLine& b) { return rank(a) < rank(b); });
    return out;
}

Result<int> RestService::keep(const RestShelf& shelf) {
    std::vector<Measurement> kept;
    ChangeSet changes;
    for (const RestingLine& line : shelf.lines) {
        const UnitState* unit = inventory_.unit(line.unit);
        if (unit == nullptr || line.leak.verdict == LeakVerdict::undecided || !line.leak.ah_per_day)
            continue;
        Measurement m;
        m.subject.unit = line.unit;
        m.quantity = Quantity::self_discharge;
        m.value = std::max(0.0, *line.leak.ah_per_day);
        const double per_volt = *line.leak.v_per_day != 0 ? *line.leak.ah_per_day / *line.leak.v_per_day : 0;
        m.uncertainty = std::fabs(per_volt) * (*line.leak.high_v_per_day - *line.leak.low_v_per_day) / 2;
        m.protocol = "rest readings";
        m.conditions.condition = Condition::stored;
        m.taken_at = line.last_at;
        constexpr double same = 0.01; // of what stands
        const auto& stands = unit->facts.self_discharge_ah_per_day;
        if (stands && std::fabs(stands->value - m.value) <= same * std::max(stands->value, m.value))
            continue;
        changes.add(ChangeSet::unit(line.unit));
        kept.push_back(std::move(m));
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

} // namespace ingot
