// Who stands where in a build that is not welded yet.
#include "core/build/heat_places.h"
#include "workshop/build.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

namespace ingot {

namespace {

// From a cell to the nearest other one.
double pitch_of(const std::vector<std::array<double, 2>>& places) {
    double nearest = 1e9;
    for (std::size_t i = 1; i < places.size(); ++i)
        nearest = std::min(nearest, std::hypot(places[i][0] - places[0][0], places[i][1] - places[0][1]));
    return nearest;
}

double sum_of(const std::vector<double>& values) {
    return std::accumulate(values.begin(), values.end(), 0.0);
}

} // namespace

BuildService::HeatSeats BuildService::heat_seats(Id build_id, const Layout* layout) const {
    HeatSeats out;
    const BuildSheet now = sheet(build_id);
    const auto series = static_cast<std::size_t>(std::max(0, now.build.layout.series));
    const auto parallel = static_cast<std::size_t>(std::max(0, now.build.layout.parallel));
    if (series * parallel == 0 || now.lines.size() != series * parallel) {
        out.objection = said("It has no units yet.");
        return out;
    }
    if (design(build_id).refills()) {
        out.objection = said("These groups go into an old pack, whose places are what they are.");
        return out;
    }
    std::vector<std::vector<HeatUnit>> units(series);
    std::vector<std::vector<Id>> stand(series);
    for (const BuildLine& line : now.lines) {
        const auto g = static_cast<std::size_t>(line.group - 1);
        if (g >= series || !line.capacity_ah) {
            out.objection =
                said("The capacity of {} is not known, so nobody can say which group is strongest.", line.code);
            return out;
        }
        units[g].push_back({*line.capacity_ah, line.resistance_ohm ? 1 / line.resistance_ohm->value : 0});
        stand[g].push_back(line.unit);
    }
    std::vector<std::array<double, 2>> places;
    double pitch_m = 1;
    places.reserve(series * parallel);
    if (layout != nullptr && layout->cells.size() == series * parallel) {
        for (const LayoutCell& cell : layout->cells)
            places.push_back({cell.x_m, cell.y_m});
        pitch_m = pitch_of(places);
    } else {
        for (std::size_t i = 0; i < series * parallel; ++i)
            places.push_back({static_cast<double>(i), 0});
    }
    const std::vector<double> warm = warmth_of_places(places, pitch_m);
    std::vector<std::vector<double>> warmth(series);
    for (std::size_t i = 0; i < warm.size(); ++i)
        warmth[i / parallel].push_back(warm[i]);
    const auto seats = seats_by_heat(units, warmth);
    out.order.resize(series);
    for (std::size_t g = 0; g < series; ++g)
        for (std::size_t k = 0; k < parallel; ++k) {
            const Id unit = stand[seats[g][k].group][seats[g][k].unit];
            out.order[g].push_back(unit);
            out.moved += unit != stand[g][k] ? 1 : 0;
        }
    const auto warmest = std::max_element(warmth.begin(), warmth.end(),
                                          [&](const auto& a, const auto& b) { return sum_of(a) < sum_of(b); });
    out.warmest = static_cast<int>(warmest - warmth.begin()) + 1;
    const auto strongest = std::max_element(now.group_capacity_ah.begin(), now.group_capacity_ah.end());
    out.strongest = static_cast<int>(strongest - now.group_capacity_ah.begin()) + 1;
    return out;
}

Result<bool> BuildService::arrange(Id build_id, const std::vector<std::vector<Id>>& order) {
    const Assembly* record = inventory_.build(build_id);
    if (record == nullptr)
        return Problem{"", 0, said("There is no such build.")};
    if (const auto problem = welded(*record))
        return *problem;
    std::map<Id, Placement> standing;
    for (const Placement& p : inventory_.placements(build_id))
        if (p.unit != 0 && p.stands())
            standing.emplace(p.unit, p);
    std::vector<Placement> next;
    std::set<Id> seen;
    for (std::size_t g = 0; g < order.size(); ++g)
        for (std::size_t k = 0; k < order[g].size(); ++k) {
            const auto at = standing.find(order[g][k]);
            if (at == standing.end() || !seen.insert(order[g][k]).second)
                return Problem{"", 0, said("Every unit of the build has one place, and no other unit has any.")};
            Placement p = at->second;
            p.group = static_cast<int>(g) + 1;
            p.place = static_cast<int>(k) + 1;
            if (p.group != at->second.group || p.place != at->second.place)
                next.push_back(p);
        }
    if (seen.size() != standing.size())
        return Problem{"", 0, said("Every unit of the build has one place, and no other unit has any.")};
    const BuildTicks ticked = inventory_.ticks(build_id);
    const std::string label = record->label;
    ChangeSet changes = ChangeSet::assembly(build_id);
    for (const Placement& p : next)
        changes.units.insert(p.unit);
    return session_.step(
        [&] {
            const std::string at = session_.now();
            for (const Placement& p : next)
                session_.assemblies.end(p.id, at, "another place in the build");
            for (Placement p : next) {
                p.since = at;
                p.why = "another place in the build";
                session_.assemblies.add(p);
            }
            // What was seen of a group was seen of the units that stood in it.
            for (const auto& [item, ticked_at] : ticked)
                session_.assemblies.tick(build_id, item.first, item.second, false, at);
            session_.record_event("units rearranged", label, std::to_string(next.size()) + " units");
        },
        changes);
}

} // namespace ingot
