// The design of a build and the steps that join it.
#include "core/measure/statistics.h"
#include "workshop/build.h"
#include "workshop/build_wording.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>
#include <tuple>

namespace ingot {

namespace {

Problem no_such_build() {
    return {"", 0, said("There is no such build.")};
}

// The last item of the last step that a build of that layout has.
bool all_done(const BuildTicks& ticks, const PackLayout& layout, BuildTask last) {
    for (int t = 0; t <= static_cast<int>(last); ++t) {
        const auto task = static_cast<BuildTask>(t);
        const int items = static_cast<int>(build_items(task, layout.series, layout.parallel).size());
        for (int i = 1; i <= items; ++i)
            if (task != BuildTask::gate && !ticks.contains({task, i})) // the gate is measured, not ticked
                return false;
    }
    return true;
}

// The widest decides; one of an unknown size, and nobody knows how they stand.
void take_size(BuildQuestion& out, const CellFormat* format, bool first) {
    const bool round = format != nullptr && format->diameter_m > 0;
    const bool flat = format != nullptr && format->broad_m > 0 && format->thick_m > 0;
    if (!round || !(first || out.diameter_m))
        out.diameter_m.reset();
    else
        out.diameter_m = std::max(out.diameter_m.value_or(0), format->diameter_m);
    if (!flat || !(first || out.flat_m))
        out.flat_m.reset();
    else if (first)
        out.flat_m = {format->broad_m, format->thick_m};
    else
        out.flat_m = {std::max((*out.flat_m)[0], format->broad_m), std::max((*out.flat_m)[1], format->thick_m)};
    if (format != nullptr)
        out.height_m = std::max(out.height_m, format->height_m);
}

void finish_size(BuildQuestion& out) {
    const bool modules = out.cells_per_unit > 1;
    if (modules)
        out.diameter_m.reset();
    if (modules && out.parallel == 1)
        out.flat_m.reset(); // they stand in a row
    if (modules && out.parallel > 1 && !out.flat_m) {
        out.flat_m = {0.1, 0.03}; // blocks, to see what is joined to what
        out.to_scale = false;
    }
    if (const auto sleeve = out.design.number(DesignFigure::sleeve_m); sleeve && out.diameter_m)
        *out.diameter_m += 2 * *sleeve;
}

} // namespace

Result<bool> BuildService::set_figure(Id build, DesignFigure figure, const std::string& value) {
    const Assembly* record = inventory_.build(build);
    if (record == nullptr)
        return no_such_build();
    BuildDesign tried = design(build);
    if (const auto fits = tried.set(figure, value); !fits)
        return fits;
    if (figure == DesignFigure::strip_material && !value.empty() &&
        inventory_.library().practice.strip_material(value) == nullptr)
        return Problem{"", 0, said("The library knows no strip of \"{}\".", value)};
    if (figure == DesignFigure::old_chemistry && !value.empty() && inventory_.library().chemistry(value) == nullptr)
        return Problem{"", 0, said("The library knows no chemistry \"{}\".", value)};
    if (tried.word(figure) == design(build).word(figure))
        return true;
    if (figure == DesignFigure::by_hand)
        if (const auto problem = welded(*record))
            return *problem;
    return session_.step([&] { session_.assemblies.set_figure(build, figure, value, session_.now()); },
                         ChangeSet::assembly(build));
}

BuildQuestion BuildService::question(Id build) const {
    BuildQuestion out;
    const Assembly* record = inventory_.build(build);
    if (record == nullptr)
        return out;
    out.build = build;
    out.series = record->layout.series;
    out.parallel = record->layout.parallel;
    out.cells_per_unit = record->layout.cells_per_unit;
    out.design = design(build);
    const auto& library = inventory_.library();
    if (const Chemistry* chemistry = library.chemistry(record->chemistry))
        out.chemistry = *chemistry;
    const BuildSheet now = sheet(build);
    out.groups.resize(static_cast<std::size_t>(out.series));
    constexpr double any_ohm = 1; // never shown: what needs a resistance is not answered then
    const double full_v = out.chemistry.full_v * out.cells_per_unit;
    bool first = true;
    for (const BuildLine& line : now.lines) {
        const auto g = static_cast<std::size_t>(line.group - 1);
        if (g >= out.groups.size())
            continue;
        out.groups[g].push_back(line.code);
        const bool fresh = line.voltage_v && line.voltage_v->holds();
        if (!fresh)
            out.unread.push_back(line.code);
        if (!line.resistance_ohm)
            out.without_resistance.push_back(line.code);
        if (!line.capacity_ah)
            out.without_capacity.push_back(line.code);
        out.units.push_back(
            {fresh ? line.voltage_v->value : full_v, line.resistance_ohm.value_or(Fact(any_ohm)).value});
        if (!line.leak_ah_per_day)
            out.without_leak.push_back(line.code);
        out.leak_ah_per_day.push_back(line.leak_ah_per_day ? line.leak_ah_per_day->value : 0);
        out.capacity_ah.push_back(line.capacity_ah ? line.capacity_ah->value : 0);
        out.capacity_uncertainty_ah.push_back(line.capacity_ah ? line.capacity_ah->uncertainty.value_or(0) : 0);
        const UnitModel* model = library.model(line.model);
        const exchange::Library* from = &library;
        const CellFormat* format = model == nullptr ? nullptr : from->format(model->format);
        take_size(out, format, first);
        if (first && model != nullptr) {
            out.unit_mass_kg = model->mass_kg;
            out.continuous_rating_a = model->continuous_a;
        }
        first = false;
    }
    finish_size(out);
    // In a holder each unit has a spring at both ends.
    if (const auto spring = out.design.number(DesignFigure::spring_ohm);
        spring && out.design.word(DesignFigure::joining) == code(JoiningKind::holder))
        for (JoinedCell& unit : out.units)
            unit.resistance_ohm += 2 * *spring;
    const auto& practice = library.practice;
    const std::string material = out.design.word(DesignFigure::strip_material);
    if (const auto* known = practice.strip_material(material))
        out.material = *known;
    const auto width = out.design.number(DesignFigure::strip_width_m);
    const auto thickness = out.design.number(DesignFigure::strip_thickness_m);
    if (out.material)
        out.density = practice.density_limits(*out.material);
    if (width && thickness && out.material)
        out.stock = StripStock{*width, *thickness, out.material->resistivity_ohm_m,
                               static_cast<int>(out.design.number(DesignFigure::link_layers).value_or(1)),
                               static_cast<int>(out.design.number(DesignFigure::end_layers).value_or(1))};
    return out;
}

std::vector<ConversionDesign> BuildService::conversions_for(Id build) const {
    const Assembly* record = inventory_.build(build);
    const auto device = design(build).device();
    if (record == nullptr || !device)
        return {};
    const Chemistry* own = inventory_.library().chemistry(record->chemistry);
    const BuildDesign& wanted = design(build);
    const Chemistry* old = inventory_.library().chemistry(wanted.word(DesignFigure::old_chemistry));
    const int old_series = static_cast<int>(wanted.number(DesignFigure::old_series).value_or(0));
    const int series = record->layout.series * record->layout.cells_per_unit;
    std::vector<const Chemistry*> all;
    for (const auto& [id, chemistry] : inventory_.library().chemistries)
        all.push_back(&chemistry);
    const bool old_known = old != nullptr && old_series > 0;
    if (own == nullptr && !old_known) { // begun without a chemistry, for a device whose old pack nobody knows
        if (all.empty())
            return {};
        constexpr int none_in_series = 200; // of a pack that is not among the designs
        auto any = conversions(*all.front(), none_in_series, *device, all);
        any.erase(any.begin());
        return any;
    }
    auto out = old_known ? conversions(*old, old_series, *device, all) : conversions(*own, series, *device, all);
    if (!old_known) // nobody knows what was in it: nothing is kept
        out.front() = hold_against(*own, series, *device);
    else if (own != nullptr && std::none_of(out.begin(), out.end(), [&](const ConversionDesign& d) {
                 return d.chemistry == own->id && d.series == series;
             }))
        out.insert(out.begin() + 1, hold_against(*own, series, *device));
    return out;
}

std::vector<BuildService::Filling> BuildService::fillings(Id build, const std::string& chemistry,
                                                          int cells_in_series) const {
    const Chemistry* of = inventory_.library().chemistry(chemistry);
    if (of == nullptr)
        return {};
    struct Pile {
        std::vector<double> capacities;
        int count = 0, cells = 1;
    };
    std::map<std::string, Pile> piles;
    for (const UnitState& unit : inventory_.units())
        if (unit.in_stock() && !unit.quarantined && unit.facts.chemistry == chemistry && inventory_.set_of(unit) == 0 &&
            static_cast<int>(unit.verdict.duty) < working_duty_count) {
            Pile& pile = piles[unit.record.model];
            ++pile.count;
            pile.cells = unit.reference.cells_in_series;
            if (unit.facts.capacity_ah)
                pile.capacities.push_back(*unit.facts.capacity_ah);
        }
    const BuildDesign& wanted = design(build);
    const DeviceDemand demand{wanted.number(DesignFigure::continuous_a), wanted.number(DesignFigure::load_w),
                              wanted.number(DesignFigure::run_s)};
    std::vector<Filling> out;
    for (auto& [name, pile] : piles) {
        if (pile.capacities.empty())
            continue;
        StockModel stock{name, pile.count, median(std::move(pile.capacities)), 0, 0, pile.cells};
        if (const UnitModel* model = inventory_.library().model(name)) {
            stock.continuous_a = model->continuous_a;
            stock.mass_kg = model->mass_kg;
        }
        if (const auto sizing = size_pack(cells_in_series, *of, stock, demand))
            out.push_back({std::move(stock), *sizing});
    }
    std::stable_sort(out.begin(), out.end(), [](const Filling& a, const Filling& b) {
        return std::tuple(!a.sizing.enough, a.sizing.units) < std::tuple(!b.sizing.enough, b.sizing.units);
    });
    return out;
}

std::vector<BuildService::GateGroup> BuildService::gate(Id build) const {
    std::vector<GateGroup> out;
    const Assembly* record = inventory_.build(build);
    if (record == nullptr)
        return out;
    const BuildSheet now = sheet(build);
    const Chemistry* chemistry = inventory_.library().chemistry(record->chemistry);
    for (std::size_t g = 0; g < now.joining.size(); ++g) {
        GateGroup& group = out.emplace_back();
        group.check = now.joining[g];
        GroupToJoin members;
        members.cells_per_unit = record->layout.cells_per_unit;
        for (const BuildLine& line : now.lines) {
            if (line.group != static_cast<int>(g) + 1)
                continue;
            group.units.push_back(line.code);
            if (line.voltage_v && line.voltage_v->holds())
                group.volts.push_back(*line.voltage_v);
            if (line.voltage_v && line.voltage_v->holds() && line.resistance_ohm && *line.resistance_ohm > 0)
                members.members.push_back({*line.voltage_v, *line.resistance_ohm,
                                           line.capacity_ah ? std::optional(line.capacity_ah->value) : std::nullopt});
            else
                group.unread.push_back(line.code);
        }
        if (group.unread.empty() && !members.members.empty() && chemistry != nullptr)
            group.plan = plan_joining(members, *chemistry, inventory_.library().practice.joining);
        group.passes = record->layout.parallel < 2 || group.check.advice == JoinAdvice::join ||
                       group.check.advice == JoinAdvice::within_limit;
    }
    return out;
}

std::vector<bool> BuildService::gate_passed(Id build) const {
    std::vector<bool> out;
    for (const GateGroup& group : gate(build))
        out.push_back(group.passes);
    return out;
}

std::optional<std::pair<BuildTask, int>> BuildService::next_item(Id build) const {
    const Assembly* record = inventory_.build(build);
    if (record == nullptr)
        return std::nullopt;
    const auto passed = gate_passed(build);
    const PackLayout& layout = record->layout;
    const BuildTask last = last_task(design(build).refills());
    for (int t = 0; t <= static_cast<int>(last); ++t) {
        const auto task = static_cast<BuildTask>(t);
        if (task == BuildTask::gate)
            continue;
        const int items = static_cast<int>(build_items(task, layout.series, layout.parallel).size());
        for (int i = 1; i <= items; ++i)
            if (!ticks(build).contains({task, i}) &&
                !missing_before({task, i}, ticks(build), passed, layout.series, layout.parallel))
                return std::pair(task, i);
    }
    return std::nullopt;
}

std::vector<UnsafeFinding> BuildService::safety(Id build, bool board_asked) const {
    const Assembly* record = inventory_.build(build);
    const Chemistry* chemistry = record == nullptr ? nullptr : inventory_.chemistry_of(*record);
    if (chemistry == nullptr)
        return {};
    SafetyQuestion q;
    q.chemistry = *chemistry;
    q.series = record->layout.series;
    q.parallel = record->layout.parallel;
    q.cells_per_unit = record->layout.cells_per_unit;
    q.design = design(build);
    std::set<std::string> chemistries;
    for (const Placement& placement : inventory_.placements(build)) {
        const UnitState* unit = placement.stands() ? inventory_.unit(placement.unit) : nullptr;
        if (unit == nullptr)
            continue;
        if (!unit->facts.chemistry.empty())
            chemistries.insert(unit->facts.chemistry);
        const UnitModel* model = inventory_.library().model(unit->record.model);
        const auto& ohm = unit->facts.dc_resistance_ohm ? unit->facts.dc_resistance_ohm : unit->facts.ac_resistance_ohm;
        if (ohm)
            q.unit_resistance_ohm = std::max(q.unit_resistance_ohm, ohm->value);
        if (model == nullptr)
            continue;
        // The weakest of them decides.
        if (model->continuous_a > 0 && (q.continuous_rating_a == 0 || model->continuous_a < q.continuous_rating_a))
            q.continuous_rating_a = model->continuous_a;
        if (model->peak_a > 0 && (q.peak_rating_a == 0 || model->peak_a < q.peak_rating_a))
            q.peak_rating_a = model->peak_a;
        if (model->charge_limit_v && q.chemistry.charge_limit_v)
            q.chemistry.charge_limit_v = std::min(*q.chemistry.charge_limit_v, *model->charge_limit_v);
        if (const CellFormat* format = inventory_.library().format(model->format)) {
            q.diameter_m = format->diameter_m;
            q.height_m = format->height_m;
        }
    }
    q.chemistries = std::max<std::size_t>(1, chemistries.size());
    return hold_safe(q, board_asked);
}

Result<bool> BuildService::tick(Id build, BuildTask task, int item) {
    const Assembly* record = inventory_.build(build);
    if (record == nullptr)
        return no_such_build();
    const PackLayout layout = record->layout;
    const int items = static_cast<int>(build_items(task, layout.series, layout.parallel).size());
    if (task == BuildTask::gate)
        return Problem{"", 0, said("The gate is not ticked: it opens with the voltages of the units.")};
    const BuildTask last = last_task(design(build).refills());
    if (task > last)
        return Problem{
            "", 0,
            said("Its groups go into an old pack: that one's links, leads and cover follow when they stand in it.")};
    if (item < 1 || item > items)
        return Problem{"", 0, said("This step has {} items.", items)};
    if (record->state == AssemblyState::planned)
        return Problem{"", 0, said("{}: take all its units from their trays first.", record->label)};
    if (record->state != AssemblyState::taken)
        return Problem{"", 0, said("{} is {} already.", record->label, code(record->state))};
    if (ticks(build).contains({task, item}))
        return true;
    if (const auto missing =
            missing_before({task, item}, ticks(build), gate_passed(build), layout.series, layout.parallel))
        return Problem{"", 0, as_told(wording::comes_first(missing->first, missing->second, layout).toStdString())};
    if (task > BuildTask::polarity)
        if (const auto unsafe = safety(build, task >= BuildTask::board); !unsafe.empty() && unsafe.front().refuses)
            return Problem{"", 0, as_told(wording::unsafe(unsafe.front()).toStdString())};
    BuildTicks after = ticks(build);
    after[{task, item}] = session_.now();
    const bool joined = all_done(after, layout, last);
    const std::string label = record->label;
    ChangeSet changes = ChangeSet::assembly(build);
    if (joined)
        for (const Placement& p : inventory_.placements(build))
            if (p.stands() && p.unit != 0)
                changes.units.insert(p.unit);
    return session_.step(
        [&] {
            session_.assemblies.tick(build, task, item, true, session_.now());
            if (joined) {
                session_.assemblies.set_state(build, AssemblyState::joined);
                session_.record_event("build joined", label);
            }
        },
        changes);
}

Result<bool> BuildService::take_back(Id build, BuildTask task, int item) {
    const Assembly* record = inventory_.build(build);
    if (record == nullptr)
        return no_such_build();
    if (!ticks(build).contains({task, item}))
        return Problem{"", 0, said("This step is not ticked.")};
    if (record->state != AssemblyState::taken && record->state != AssemblyState::joined)
        return Problem{"", 0, said("{} is {}: its steps stay as they are.", record->label, code(record->state))};
    // What stands on it.
    BuildTicks without = ticks(build);
    without.erase({task, item});
    const std::vector<bool> open(static_cast<std::size_t>(record->layout.series),
                                 true); // the gate held when it was asked
    for (const auto& [done, at] : without)
        if (const auto missing = missing_before(done, without, open, record->layout.series, record->layout.parallel);
            missing && *missing == std::pair(task, item))
            return Problem{"", 0,
                           as_told(wording::stands_on_it(done.first, done.second, record->layout).toStdString())};
    ChangeSet changes = ChangeSet::assembly(build);
    const bool was_joined = record->state == AssemblyState::joined;
    if (was_joined)
        for (const Placement& p : inventory_.placements(build))
            if (p.stands() && p.unit != 0)
                changes.units.insert(p.unit);
    const std::string label = record->label;
    return session_.step(
        [&] {
            session_.assemblies.tick(build, task, item, false, session_.now());
            if (was_joined) {
                session_.assemblies.set_state(build, AssemblyState::taken);
                session_.record_event("build not joined", label);
            }
        },
        changes);
}

} // namespace ingot
