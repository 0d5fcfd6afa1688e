#include "workshop/build_plan.h"

#include "exchange/pack_design_json.h"
#include "exchange/spice_netlist.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace ingot {

namespace {

constexpr double no_case_m = 100; // as long as nobody measured it: room for anything

// The best of each grid, then the best of another shape; the one that was chosen among them.
std::vector<Layout> few(std::vector<Layout> staggered, std::vector<Layout> square, const std::string& chosen) {
    std::vector<Layout> out;
    std::set<std::string> taken;
    const auto take = [&](const Layout& layout) {
        if (taken.insert(arrangement_of(layout)).second)
            out.push_back(layout);
    };
    constexpr std::size_t most = 3;
    for (const auto* all : {&staggered, &square})
        for (const Layout& layout : *all)
            if (arrangement_of(layout) == chosen)
                take(layout);
    const bool square_first = square.front().fits && !staggered.front().fits;
    take(square_first ? square.front() : staggered.front());
    take(square_first ? staggered.front() : square.front());
    for (const auto* all : {&square, &staggered})
        for (const Layout& layout : *all)
            if (out.size() < most && (layout.fits || !out.front().fits))
                take(layout);
    // In an order that does not change with the choice.
    std::sort(out.begin(), out.end(), [](const Layout& a, const Layout& b) {
        return std::tuple(!a.fits, a.kinds, a.strip_length_m, arrangement_of(a)) <
               std::tuple(!b.fits, b.kinds, b.strip_length_m, arrangement_of(b));
    });
    return out;
}

bool weldable(const BuildDesign& design, const StripStock& stock) {
    const auto welder = design.number(DesignFigure::welder_thickest_m);
    constexpr double hair = 1e-9;
    return !welder || stock.thickness_m <= *welder + hair; // layers are welded one after the other
}

std::vector<Remedy> remedies_for(const BuildQuestion& question, const Layout& layout, const PackJoints& joints,
                                 double load_a) {
    std::vector<Remedy> out;
    // Only what makes the worst piece better is one.
    constexpr double enough = 0.99;
    const double at_most = enough * joints.pieces[joints.worst].density_a_per_m2;
    const auto try_one = [&](RemedyKind kind, const StripStock& stock) {
        const auto loaded = load_joints(layout, question.units, stock, load_a);
        if (loaded && loaded.value().pieces[loaded.value().worst].density_a_per_m2 < at_most)
            out.push_back({kind, stock, loaded.value(), weldable(question.design, stock)});
    };
    const StripStock& now = *question.stock;
    constexpr int most_layers = 10;
    for (const RemedyKind kind : {RemedyKind::end_layer, RemedyKind::link_layer}) {
        StripStock more = now;
        int& layers = kind == RemedyKind::end_layer ? more.end_layers : more.link_layers;
        if (layers < most_layers) {
            ++layers;
            try_one(kind, more);
        }
    }
    // Usual thicknesses and widths of strip on sale; common practice, no source.
    for (const double thickness : {0.00010, 0.00012, 0.00015, 0.00020, 0.00025, 0.00030})
        if (thickness > now.thickness_m * 1.01) {
            StripStock thick = now;
            thick.thickness_m = thickness;
            try_one(RemedyKind::thicker, thick);
            break;
        }
    for (const double width : {0.005, 0.006, 0.007, 0.008, 0.010, 0.012, 0.015})
        if (width > now.width_m * 1.01) {
            StripStock wide = now;
            wide.width_m = width;
            try_one(RemedyKind::wider, wide);
            break;
        }
    return out;
}

} // namespace

BuildPlan plan_build(const BuildQuestion& question, const StillWanted& wanted) {
    BuildPlan plan;
    plan.build = question.build;
    if (question.groups.empty() || question.units.empty())
        return plan;
    LayoutProblem problem;
    problem.groups = question.groups;
    constexpr double any_diameter_m = 0.02; // hazards do not ask where a unit stands
    problem.diameter_m = question.diameter_m.value_or(any_diameter_m);
    problem.pitch_m = question.design.number(DesignFigure::pitch_m).value_or(0);
    problem.case_width_m = question.design.number(DesignFigure::case_width_m).value_or(no_case_m);
    problem.case_height_m = question.design.number(DesignFigure::case_height_m).value_or(no_case_m);
    const auto square = propose_layouts(problem);
    if (!wanted())
        return plan;
    problem.staggered = true;
    const auto staggered = propose_layouts(problem);
    if (!square || !staggered) {
        plan.objection = (square ? staggered : square).problem().sentence;
        return plan;
    }
    const BuildTask last = last_task(question.design.refills());
    const std::string asked = question.design.word(DesignFigure::arrangement);
    std::vector<Layout> layouts = few(staggered.value(), square.value(), asked);
    if (!question.diameter_m) {
        plan.steps = build_steps(layouts.front(), question.units, false, last);
        plan.objection =
            said("These are no round cells of a known format, so they are not drawn: modules stand in a row, each plus "
                 "beside the next minus. Steps shows the order and what each step lays bare.");
        return plan;
    }
    const auto load = question.design.number(DesignFigure::continuous_a);
    for (Layout& layout : layouts) {
        LayoutProposal& proposal = plan.proposals.emplace_back();
        if (question.stock && load && question.without_resistance.empty()) {
            const auto joints = load_joints(layout, question.units, *question.stock, *load);
            if (joints)
                proposal.joints = joints.value();
        }
        if (arrangement_of(layout) == asked)
            plan.chosen = plan.proposals.size() - 1;
        proposal.layout = std::move(layout);
    }
    const LayoutProposal& now = *plan.now();
    plan.steps = build_steps(now.layout, question.units, true, last); // with the pieces of the chosen one
    plan.joins_as_designed = joins_as_designed(now.layout, static_cast<std::size_t>(question.series));
    if (question.stock)
        plan.clearance_m = nearest_foreign_strip_m(now.layout, question.stock->width_m);
    if (now.joints && question.density &&
        now.joints->pieces[now.joints->worst].density_a_per_m2 > question.density->fair_a_per_m2)
        plan.remedies = remedies_for(question, now.layout, *now.joints, *load);
    return plan;
}

namespace {

// Every cell of a unit on its own: units of several cells in series become as many groups.
PackDesign design_of(const BuildQuestion& question, double joint_ohm) {
    PackDesign design;
    design.joint_ohm = joint_ohm;
    const auto across = static_cast<std::size_t>(question.parallel);
    for (std::size_t g = 0; g < question.groups.size(); ++g)
        for (int c = 0; c < question.cells_per_unit; ++c) {
            auto& group = design.groups.emplace_back();
            for (std::size_t k = 0; k < across; ++k) {
                const std::size_t u = g * across + k;
                PackDesign::Cell& cell = group.emplace_back();
                cell.id = question.groups[g][k];
                cell.capacity_ah = question.capacity_ah[u];
                cell.resistance_ohm = question.units[u].resistance_ohm / question.cells_per_unit;
            }
        }
    return design;
}

// A unit more in each group, like the mean of those that are there.
void add_one_each(PackDesign& design) {
    for (auto& group : design.groups) {
        PackDesign::Cell more;
        more.id = "more";
        const auto n = static_cast<double>(group.size());
        for (const PackDesign::Cell& cell : group) {
            more.capacity_ah += cell.capacity_ah / n;
            more.resistance_ohm += cell.resistance_ohm / n;
        }
        group.push_back(more);
    }
}

// Back to the build's groups: of the cells of a unit the one that was lowest counts.
void fold(PackRun& run, int cells_per_unit) {
    if (cells_per_unit == 1)
        return;
    const auto n = static_cast<std::size_t>(cells_per_unit);
    PackRun folded = run;
    folded.groups.clear();
    folded.cells.clear();
    for (std::size_t g = 0; g < run.groups.size(); g += n) {
        folded.groups.push_back(run.groups[g]);
        folded.cells.push_back(run.cells[g]);
        for (std::size_t c = g; c < g + n; ++c)
            if (run.groups[c].lowest_v < folded.groups.back().lowest_v)
                folded.groups.back() = run.groups[c];
    }
    folded.ended_by = run.ended_by / n;
    folded.ended_at_v = run.ended_at_v * cells_per_unit;
    run = std::move(folded);
}

std::optional<double> share_of_uncertainty(const BuildQuestion& question, std::size_t group) {
    double sum = 0;
    double square = 0;
    const auto across = static_cast<std::size_t>(question.parallel);
    for (std::size_t u = group * across; u < (group + 1) * across; ++u) {
        if (question.capacity_uncertainty_ah[u] <= 0)
            return std::nullopt;
        sum += question.capacity_ah[u];
        square += question.capacity_uncertainty_ah[u] * question.capacity_uncertainty_ah[u];
    }
    return std::sqrt(square) / sum;
}

// Group by group as the units stand now.
void charge_build(const BuildQuestion& question, BuildRun& out) {
    // The charger of the design is the device's old one; this one ends where the cells must not go further.
    const auto amperes = question.design.number(DesignFigure::charger_a);
    if (!question.chemistry.charge_limit_v) {
        out.charge_objection =
            said("First charge: it does not end at a voltage; its charger and a thermometer end it.");
        return;
    }
    if (!amperes) {
        out.charge_objection = said("First charge: type what its charger gives, in A.");
        return;
    }
    if (!question.unread.empty()) {
        out.charge_objection = said(
            "First charge: {} units are not read since their last run; read them, the charge begins where they stand.",
            question.unread.size());
        return;
    }
    ChargeDesign design;
    design.charger_v = *question.chemistry.charge_limit_v * question.cells_per_unit * question.series;
    design.charger_a = *amperes;
    design.joint_ohm = out.joints_ohm;
    design.balance_a = question.design.number(DesignFigure::balance_a);
    const auto across = static_cast<std::size_t>(question.parallel);
    for (std::size_t g = 0; g < question.groups.size(); ++g) {
        ChargeGroup& group = design.groups.emplace_back();
        group.cells = question.cells_per_unit;
        double conductance = 0;
        double charge = 0;
        for (std::size_t u = g * across; u < (g + 1) * across; ++u) {
            group.capacity_ah += question.capacity_ah[u];
            conductance += 1 / question.units[u].resistance_ohm;
            charge += question.capacity_ah[u] *
                      question.chemistry.ocv.soc_at(question.units[u].voltage_v / question.cells_per_unit);
        }
        group.resistance_ohm = 1 / conductance;
        group.soc = charge / group.capacity_ah;
    }
    const auto run = charge_pack(design, question.chemistry);
    if (run)
        out.charge = run.value();
    else
        out.charge_objection = run.problem().sentence;
}

void shelve_build(const BuildQuestion& question, BuildRun& out) {
    if (!question.without_leak.empty()) {
        out.shelf_objection = said("On the shelf: the self-discharge of {} units is not known; let them rest.",
                                   question.without_leak.size());
        return;
    }
    const StorageCare& storage = question.chemistry.storage;
    constexpr double half = 0.5;
    out.shelf_soc = storage.high_soc > 0 ? (storage.low_soc + storage.high_soc) / 2 : half;
    std::vector<ShelfGroup> groups(question.groups.size());
    const auto across = static_cast<std::size_t>(question.parallel);
    for (std::size_t u = 0; u < question.capacity_ah.size(); ++u) {
        ShelfGroup& group = groups[std::min(u / across, groups.size() - 1)];
        group.capacity_ah += question.capacity_ah[u];
        group.leak_ah_per_day += std::max(0.0, question.leak_ah_per_day[u]);
    }
    const auto stay = leave_on_shelf(groups, question.chemistry, out.shelf_soc,
                                     question.design.number(DesignFigure::standby_a).value_or(0));
    if (stay)
        out.shelf = stay.value();
    else
        out.shelf_objection = stay.problem().sentence;
}

} // namespace

namespace {

// Over one round of the profile; a single level is its own.
double mean_of(const PackLoad& load) {
    const auto& levels = load.levels;
    if (levels.size() < 2)
        return levels.empty() ? 0 : levels.front().value;
    double sum = 0;
    double whole = 0;
    for (std::size_t i = 0; i < levels.size(); ++i) {
        const bool last = i + 1 == levels.size();
        const double lasts = last ? levels[i].from_s - levels[i - 1].from_s : levels[i + 1].from_s - levels[i].from_s;
        sum += lasts * levels[i].value;
        whole += lasts;
    }
    return whole > 0 ? sum / whole : levels.front().value;
}

PackLoad scaled(PackLoad load, double by) {
    for (PackLoad::Level& level : load.levels)
        level.value *= by;
    return load;
}

// Its profile, else its steady watts, else amperes.
Result<PackLoad> load_of(const BuildDesign& design) {
    if (design.knows(DesignFigure::load_profile))
        return exchange::read_pack_load(design.word(DesignFigure::load_profile), "load");
    const auto watts = design.number(DesignFigure::load_w);
    const auto amperes = design.number(DesignFigure::continuous_a);
    if (!watts && !amperes)
        return Problem{"", 0, said("No load is known: type it at Need, in W, or the current in A.")};
    return PackLoad{watts.has_value(), {{0, watts ? *watts : *amperes}}};
}

} // namespace

Result<RunSetUp> run_set_up(const BuildQuestion& question, double joints_ohm) {
    const auto load = load_of(question.design);
    if (!load)
        return load.problem();
    if (!question.without_capacity.empty())
        return Problem{"", 0,
                       said("{} and {} others have no capacity. Measure them at Test; nothing is filled in here.",
                            question.without_capacity.front(), question.without_capacity.size() - 1)};
    if (!question.without_resistance.empty())
        return Problem{"", 0,
                       said("{} and {} others have no resistance. Measure them at Test; nothing is filled in here.",
                            question.without_resistance.front(), question.without_resistance.size() - 1)};
    if (question.chemistry.ocv.empty())
        return Problem{"", 0, said("The library has no curve of this chemistry.")};
    const auto across = static_cast<std::size_t>(question.parallel);
    if (question.groups.empty() || std::any_of(question.groups.begin(), question.groups.end(),
                                               [&](const auto& group) { return group.size() != across; }))
        return Problem{"", 0, said("The groups are of unlike size. Each takes as many units as the others.")};
    return RunSetUp{design_of(question, joints_ohm), load.value(), question.chemistry.test_cutoff_v};
}

Result<std::string> spice_of_build(const BuildQuestion& question, double joints_ohm, double until_s) {
    const auto set_up = run_set_up(question, joints_ohm);
    if (!set_up)
        return set_up.problem();
    return exchange::write_spice_netlist(set_up.value().design, question.chemistry, set_up.value().load, until_s);
}

void add_other_build(BuildRun& run, const BuildQuestion& question, const BuildQuestion& other,
                     const std::string& label) {
    const auto load = load_of(question.design);
    const auto plan = plan_build(other);
    const LayoutProposal* now = plan.now();
    const auto load_a = other.design.number(DesignFigure::continuous_a);
    const double joints_ohm = now != nullptr && now->joints && load_a ? now->joints->loss_w / (*load_a * *load_a) : 0;
    BuildQuestion loaded = other;
    (void)loaded.design.set(DesignFigure::load_profile, question.design.word(DesignFigure::load_profile));
    for (const DesignFigure figure : {DesignFigure::load_w, DesignFigure::continuous_a})
        (void)loaded.design.set(figure, question.design.word(figure));
    const auto set_up = run_set_up(loaded, joints_ohm);
    if (!load || !set_up)
        return;
    const auto found =
        run_pack(set_up.value().design, other.chemistry, load.value(), {set_up.value().cell_until_v, std::nullopt});
    if (!found)
        return;
    VariantRun& added = run.variants.emplace_back();
    added.variant = RunVariant::other_build;
    added.label = label;
    added.run = found.value();
    fold(added.run, other.cells_per_unit);
}

BuildRun run_build(const BuildQuestion& question, const StillWanted& wanted) {
    BuildRun out;
    out.build = question.build;
    const auto amperes = question.design.number(DesignFigure::continuous_a);
    if (const auto set_up = run_set_up(question, 0); !set_up) {
        out.objection = set_up.problem().sentence;
        return out;
    }
    const PackLoad load = load_of(question.design).value();
    out.power = load.power;
    out.load = mean_of(load);
    out.profile = load.levels.size() > 1;
    const double cell_until_v = question.chemistry.test_cutoff_v;
    out.until_v = cell_until_v * question.cells_per_unit;
    const BuildPlan plan = plan_build(question, wanted);
    if (const LayoutProposal* now = plan.now(); now != nullptr && now->joints && amperes) {
        const double load_a = *amperes; // they were loaded with it
        out.joints_ohm = now->joints->loss_w / (load_a * load_a);
        out.joints_known = true;
    }
    const auto off = question.design.number(DesignFigure::off_v);
    const auto run = [&](RunVariant variant, const PackDesign& design, const PackLoad& under) -> bool {
        if (!wanted())
            return false;
        const auto found = run_pack(design, question.chemistry, under, {cell_until_v, std::nullopt});
        if (!found) {
            if (variant == RunVariant::as_built)
                out.objection = found.problem().sentence;
            return false;
        }
        VariantRun& added = out.variants.emplace_back();
        added.variant = variant;
        added.run = found.value();
        fold(added.run, question.cells_per_unit);
        if (off)
            for (const PackRun::Sample& sample : added.run.curve)
                if (sample.terminal_v < *off && !added.device_off_s && sample.time_s < added.run.run_time_s)
                    added.device_off_s = sample.time_s;
        return true;
    };
    const PackDesign as_built = design_of(question, out.joints_ohm);
    if (!run(RunVariant::as_built, as_built, load))
        return out;
    out.uncertain_share = share_of_uncertainty(question, out.variants.front().run.ended_by);
    PackDesign more = as_built;
    add_one_each(more);
    (void)run(RunVariant::one_more, more, load);
    if (out.joints_known) {
        constexpr double half = 0.5;
        (void)run(RunVariant::doubled_strip, design_of(question, out.joints_ohm * half), load);
    }
    constexpr double tenth_more = 1.1;
    (void)run(RunVariant::heavier, as_built, scaled(load, tenth_more));
    charge_build(question, out);
    shelve_build(question, out);
    return out;
}

} // namespace ingot
