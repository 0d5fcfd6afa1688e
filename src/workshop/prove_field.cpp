// Packs in the field: what is read of them after weeks and months, and what that says.
#include "core/measure/moment.h"
#include "workshop/prove.h"
#include "workshop/wording.h"

#include <QDateTime>

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace ingot {

namespace {

constexpr const char* moved_event = "pack moved on";
constexpr const char* balanced_event = "pack balanced";
// Figures further apart are no round: the pack was used, or lay, in between.
constexpr double round_days = 0.5;

} // namespace

bool ProveService::in_field(const Assembly& pack) const {
    const bool left = pack.state == AssemblyState::in_service || pack.state == AssemblyState::returned;
    return left && (pack.came_in() || inventory_.at_prove(pack));
}

PackInField ProveService::field(Id id) const {
    PackInField out;
    const Assembly* pack = inventory_.assembly(id);
    if (pack == nullptr)
        return out;
    out.pack = *pack;
    if (!in_field(*pack))
        return out;
    for (const Event& event : session_.remarks.events_of(pack->label)) {
        const bool left = event.what == moved_event && event.detail == code(AssemblyState::in_service);
        if ((left || event.what == balanced_event) && event.at > out.since_at) {
            out.since_at = event.at;
            out.balanced = !left;
        }
    }
    for (const Placement& p : inventory_.placements(id))
        if (p.stands() && p.place == 0 && p.content_assembly != id)
            out.newer.insert(p.group);
    const auto groups = static_cast<std::size_t>(pack->layout.series);
    std::string began_at;
    for (const Measurement& m : inventory_.measurements(id)) { // oldest first
        if (m.quantity != Quantity::voltage || m.conditions.condition != Condition::rest || m.subject.place != 0 ||
            m.subject.group < 1 || m.subject.group > pack->layout.series || m.taken_at <= out.since_at)
            continue;
        const auto g = static_cast<std::size_t>(m.subject.group) - 1;
        if (out.rounds.empty() || out.rounds.back().group_v[g] ||
            days_between(began_at, m.taken_at).value_or(0) > round_days) {
            began_at = m.taken_at;
            FieldRound& round = out.rounds.emplace_back();
            round.day = days_between(out.since_at, m.taken_at).value_or(0);
            round.group_v.resize(groups);
            out.read_at.emplace_back();
        }
        FieldRound& round = out.rounds.back();
        round.group_v[g] = m.value;
        if (m.resolution)
            round.resolution = std::max(round.resolution.value_or(0), *m.resolution);
        out.read_at.back() = m.taken_at;
        out.last = m.id;
    }
    if (!out.rounds.empty()) {
        const auto& last = out.rounds.back().group_v;
        out.open = days_between(began_at, session_.now()).value_or(0) <= round_days &&
                   std::any_of(last.begin(), last.end(), [](const auto& v) { return !v; });
    }
    const Chemistry* chemistry = inventory_.chemistry_of(*pack);
    out.trend =
        follow_field(out.rounds, chemistry != nullptr ? *chemistry : Chemistry(), pack->layout.cells_per_tap(), 0);
    if (pack->state == AssemblyState::in_service) {
        constexpr double ms_per_day = 86'400'000;
        const QDateTime since = QDateTime::fromString(QString::fromStdString(out.since_at), Qt::ISODateWithMs);
        if (since.isValid())
            out.next_at = since.addMSecs(std::llround(out.trend.next_day * ms_per_day))
                              .toUTC()
                              .toString(Qt::ISODate)
                              .toStdString();
    }
    return out;
}

std::optional<ProveService::ReturnedCase> ProveService::returned_case(Id id) const {
    const Assembly* pack = inventory_.build(id);
    const Chemistry* chemistry = pack != nullptr ? inventory_.chemistry_of(*pack) : nullptr;
    if (chemistry == nullptr || pack->state != AssemblyState::returned)
        return std::nullopt;
    std::string back_at;
    for (const Event& event : session_.remarks.events_of(pack->label))
        if (event.what == moved_event && event.detail == code(AssemblyState::returned))
            back_at = std::max(back_at, event.at);
    const PackInField known = field(id);
    if (known.rounds.empty() || known.read_at.back() <= back_at)
        return std::nullopt;
    const FieldRound& round = known.rounds.back();
    ReturnedCase out{{}, *chemistry, inventory_.library().triage};
    out.known.layout = pack->layout;
    out.known.capacity_ah = proof(id).readings.promised_ah;
    for (std::size_t g = 0; g < round.group_v.size(); ++g) {
        if (!round.group_v[g])
            return std::nullopt;
        GroupReading reading;
        reading.group = static_cast<int>(g) + 1;
        reading.voltage_v = *round.group_v[g];
        reading.resolution_v = round.resolution;
        out.known.readings.push_back(reading);
    }
    return out;
}

Result<Id> ProveService::record_in_field(Id id, int group, double volts, std::optional<double> resolution) {
    const Assembly* pack = inventory_.assembly(id);
    if (pack == nullptr || !in_field(*pack))
        return Problem{"", 0, said("This pack is not in service.")};
    if (group < 1 || group > pack->layout.series)
        return Problem{"", 0, said("This pack has {} groups.", pack->layout.series)};
    const Chemistry* chemistry = inventory_.chemistry_of(*pack);
    constexpr double room = 1.2;
    constexpr double any_cell_v = 5; // of a chemistry that the library does not know
    const double limit =
        room * pack->layout.cells_per_tap() * (chemistry != nullptr ? chemistry->charging_v() : any_cell_v);
    if (const QString doubt = wording::implausible(check_plausible(Quantity::voltage, std::abs(volts), limit),
                                                   Quantity::voltage, volts, limit);
        !doubt.isEmpty())
        return Problem{"", 0, as_told(doubt.toStdString())};
    Measurement reading;
    reading.subject = {0, id, group, 0};
    reading.value = volts;
    reading.resolution = resolution;
    reading.protocol = "typed";
    reading.taken_at = reading.recorded_at = session_.now();
    return session_.commit([&] { return session_.measurements.add(reading); },
                           pack->came_in() ? ChangeSet::remark(id, 0) : ChangeSet::assembly(id));
}

Result<bool> ProveService::repaired_to(Id id, AssemblyState to) {
    const Assembly* pack = inventory_.pack(id);
    if (pack == nullptr)
        return no_such_pack();
    if ((to != AssemblyState::in_service && to != AssemblyState::returned) || !may_follow(pack->state, to))
        return Problem{"", 0, said("{} is {}; that does not follow.", pack->label, code(pack->state))};
    if (inventory_.pack_quarantined(id))
        return Problem{"", 0, said("{} is in quarantine: close it first, with a reason.", pack->label)};
    if (const auto& empty = inventory_.pack_case(id).taken_out; to == AssemblyState::in_service && !empty.empty())
        return Problem{"", 0, said("Place {} of {} is empty: fill it first.", empty.front(), pack->label)};
    const std::string label = pack->label;
    return session_.step(
        [&] {
            session_.assemblies.set_state(id, to);
            session_.record_event(moved_event, label, code(to));
        },
        ChangeSet::assembly(id));
}

std::vector<ProveService::Visit> ProveService::field_visits() const {
    std::vector<Visit> out;
    for (const auto* all : {&inventory_.builds(), &inventory_.packs()})
        for (const Assembly& pack : *all)
            if (pack.state == AssemblyState::in_service && in_field(pack))
                if (PackInField known = field(pack.id); !known.next_at.empty())
                    out.push_back({pack.id, pack.label, std::move(known.next_at)});
    std::stable_sort(out.begin(), out.end(), [](const Visit& a, const Visit& b) { return a.at < b.at; });
    return out;
}

Result<bool> ProveService::balanced(Id id) {
    const Assembly* pack = inventory_.assembly(id);
    if (pack == nullptr || !in_field(*pack))
        return Problem{"", 0, said("This pack is not in service.")};
    const std::string label = pack->label;
    return session_.step([&] { session_.record_event(balanced_event, label); }, ChangeSet::assembly(id));
}

} // namespace ingot
