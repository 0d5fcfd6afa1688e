#include "workshop/book.h"

#include "exchange/csv.h"

#include <algorithm>
#include <map>

namespace ingot {

namespace {

double energy_of(const Workshop& workshop, const UnitState& unit) {
    const Chemistry* chemistry = workshop.library().chemistry(unit.facts.chemistry);
    if (chemistry == nullptr || !unit.facts.capacity_ah)
        return 0;
    return *unit.facts.capacity_ah * chemistry->nominal_v() * unit.reference.cells_in_series;
}

void count_unit(const Workshop& workshop, const UnitState& unit, BookLot& lot) {
    ++lot.units;
    if (unit.record.whereabouts == Whereabouts::recycled || unit.quarantined || unit.verdict.duty >= Duty::scrap) {
        ++lot.lost;
        return;
    }
    switch (unit.verdict.duty) {
    case Duty::drive:
        ++lot.drive;
        break;
    case Duty::store:
        ++lot.store;
        break;
    case Duty::light:
        ++lot.light;
        break;
    default:
        ++lot.waiting;
        return;
    }
    lot.kept_wh += energy_of(workshop, unit);
}

BookPack pack_of(const Workshop& workshop, const Assembly& build) {
    BookPack out;
    out.build = build.id;
    out.label = build.label;
    out.purpose = workshop.inventory().design(build.id).word(DesignFigure::purpose);
    out.state = build.state;
    const BuildSheet sheet = workshop.build().sheet(build.id);
    out.units = static_cast<int>(sheet.lines.size());
    const bool measured = std::all_of(sheet.lines.begin(), sheet.lines.end(),
                                      [](const BuildLine& line) { return line.capacity_ah.has_value(); });
    if (measured && !sheet.group_capacity_ah.empty())
        out.usable_ah = *std::min_element(sheet.group_capacity_ah.begin(), sheet.group_capacity_ah.end());
    const Chemistry* chemistry = workshop.library().chemistry(build.chemistry);
    if (out.usable_ah && chemistry != nullptr)
        out.wh = *out.usable_ah * chemistry->nominal_v() * build.layout.cells_in_series();
    return out;
}

bool went_out(AssemblyState state) {
    return state == AssemblyState::joined || state == AssemblyState::proved || state == AssemblyState::in_service ||
           state == AssemblyState::returned || state == AssemblyState::spent;
}

} // namespace

std::optional<double> BookLot::yield() const {
    const int judged = fit() + lost;
    return judged > 0 ? std::optional(static_cast<double>(fit()) / judged) : std::nullopt;
}

std::optional<double> BookLot::cost_per_wh() const {
    return cost && kept_wh > 0 ? std::optional(*cost / kept_wh) : std::nullopt;
}

ShopBook shop_book(const Workshop& workshop) {
    ShopBook out;
    std::map<Id, std::size_t> lot_of;
    for (const Lot& lot : workshop.lots()) {
        lot_of[lot.id] = out.lots.size();
        BookLot& made = out.lots.emplace_back();
        made.label = lot.label;
        made.source = lot.source;
        made.received = lot.received;
        made.cost = lot.cost;
    }
    BookLot loose;
    for (const Assembly& pack : workshop.packs())
        if (const auto lot = lot_of.find(pack.lot); lot != lot_of.end())
            ++out.lots[lot->second].packs;
    std::map<std::string, BookRecycled> recycled;
    for (const UnitState& unit : workshop.units()) {
        const Assembly* pack = workshop.pack(unit.record.pack);
        const auto lot = pack == nullptr ? lot_of.end() : lot_of.find(pack->lot);
        count_unit(workshop, unit, lot == lot_of.end() ? loose : out.lots[lot->second]);
        if (unit.in_stock() && !unit.quarantined && unit.verdict.duty <= Duty::light)
            out.stock_wh += energy_of(workshop, unit);
        if (unit.record.whereabouts != Whereabouts::recycled)
            continue;
        BookRecycled& gone = recycled[unit.facts.chemistry];
        gone.chemistry = unit.facts.chemistry;
        ++gone.units;
        if (const UnitModel* model = workshop.library().model(unit.record.model);
            model != nullptr && model->mass_kg > 0) {
            ++gone.weighed;
            gone.mass_kg += model->mass_kg;
        }
    }
    std::stable_sort(out.lots.begin(), out.lots.end(), [](const BookLot& a, const BookLot& b) {
        return std::pair(a.units > 0, a.received) > std::pair(b.units > 0, b.received);
    });
    if (loose.units > 0)
        out.lots.push_back(loose);
    for (const Assembly& build : workshop.builds())
        if (went_out(build.state)) {
            out.packs.push_back(pack_of(workshop, build));
            out.out_wh += out.packs.back().wh;
        }
    std::reverse(out.packs.begin(), out.packs.end());
    for (const auto& [chemistry, gone] : recycled)
        out.recycled.push_back(gone);
    std::stable_sort(out.recycled.begin(), out.recycled.end(),
                     [](const BookRecycled& a, const BookRecycled& b) { return a.units > b.units; });
    if (const auto done = workshop.receive().jobs_done(); !done.empty())
        out.jobs = book_jobs(done, workshop.receive().worth_case(0, workshop.triage()).prices.hour);
    return out;
}

std::map<std::string, double> unit_costs(const Workshop& workshop) {
    const ShopBook book = shop_book(workshop);
    std::map<std::string, double> by_lot; // label
    for (const BookLot& lot : book.lots)
        if (lot.cost && lot.fit() > 0)
            by_lot[lot.label] = *lot.cost / lot.fit();
    std::map<Id, std::string> labels;
    for (const Lot& lot : workshop.lots())
        labels[lot.id] = lot.label;
    std::map<std::string, std::pair<double, int>> sums;
    for (const UnitState& unit : workshop.units()) {
        if (!unit.in_stock() || unit.quarantined || unit.verdict.duty > Duty::light)
            continue;
        const Assembly* pack = workshop.pack(unit.record.pack);
        const auto label = pack == nullptr ? labels.end() : labels.find(pack->lot);
        const auto cost = label == labels.end() ? by_lot.end() : by_lot.find(label->second);
        if (cost == by_lot.end())
            continue;
        sums[unit.record.model].first += cost->second;
        ++sums[unit.record.model].second;
    }
    std::map<std::string, double> out;
    for (const auto& [model, sum] : sums)
        out[model] = sum.first / sum.second;
    return out;
}

std::vector<BookJobs> book_jobs(const std::vector<JobDone>& done, double price_of_hour) {
    std::map<WorthRoute, BookJobs> by_route;
    for (const JobDone& job : done) {
        BookJobs& row = by_route[job.route];
        row.route = job.route;
        ++row.jobs;
        row.hours += job.hours;
        row.estimated += job.estimated;
    }
    std::vector<BookJobs> out;
    for (auto& [route, row] : by_route) {
        row.factor = hours_factor(done, route);
        if (price_of_hour > 0) {
            row.money = row.hours * price_of_hour;
            row.estimated_money = row.estimated * price_of_hour;
        }
        out.push_back(row);
    }
    std::stable_sort(out.begin(), out.end(), [](const BookJobs& a, const BookJobs& b) { return a.jobs > b.jobs; });
    return out;
}

std::string book_csv(const ShopBook& book) {
    const auto whole = [](int value) { return std::to_string(value); };
    std::string out = exchange::csv_line({"Lot", "Source", "Received", "Packs", "Units", "Drive", "Store", "Light",
                                          "Waiting", "Lost", "Yield", "Kept / Wh", "Cost", "Cost per Wh"});
    for (const BookLot& lot : book.lots)
        out +=
            exchange::csv_line({lot.label, lot.source, lot.received, whole(lot.packs), whole(lot.units),
                                whole(lot.drive), whole(lot.store), whole(lot.light), whole(lot.waiting),
                                whole(lot.lost), exchange::csv_number(lot.yield()), exchange::csv_number(lot.kept_wh),
                                exchange::csv_number(lot.cost), exchange::csv_number(lot.cost_per_wh())});
    out += exchange::csv_line({"Pack", "For", "State", "Units", "Usable Capacity / Ah", "Energy / Wh"});
    for (const BookPack& pack : book.packs)
        out += exchange::csv_line({pack.label, pack.purpose, code(pack.state), whole(pack.units),
                                   exchange::csv_number(pack.usable_ah),
                                   exchange::csv_number(pack.wh > 0 ? std::optional(pack.wh) : std::nullopt)});
    out += exchange::csv_line({"Recycled", "Units", "Weighed", "Mass / kg"});
    for (const BookRecycled& gone : book.recycled)
        out += exchange::csv_line(
            {gone.chemistry, whole(gone.units), whole(gone.weighed), exchange::csv_number(gone.mass_kg)});
    out +=
        exchange::csv_line({"Route", "Jobs", "Hours / h", "Estimated Hours / h", "Money", "Estimated Money", "Factor"});
    for (const BookJobs& row : book.jobs)
        out += exchange::csv_line({code(row.route), whole(row.jobs), exchange::csv_number(row.hours),
                                   exchange::csv_number(row.estimated), exchange::csv_number(row.money),
                                   exchange::csv_number(row.estimated_money), exchange::csv_number(row.factor)});
    return out;
}

} // namespace ingot
