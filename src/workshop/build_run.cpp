#include "workshop/build_run.h"

#include "exchange/pack_design_json.h"
#include "exchange/spice_netlist.h"

#include <algorithm>
#include <cmath>

namespace ingot {

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

// A unit more in each group, like the mean of those that are there; of a mean nothing is "not measured".
BuildQuestion with_one_more(const BuildQuestion& question) {
    BuildQuestion out = question;
    const auto across = static_cast<std::size_t>(question.parallel);
    out.parallel = question.parallel + 1;
    out.units.clear();
    out.capacity_ah.clear();
    out.capacity_uncertainty_ah.clear();
    out.leak_ah_per_day.clear();
    const auto with_mean = [&](const std::vector<double>& from, std::vector<double>& to, std::size_t first) {
        double mean = 0;
        for (std::size_t u = first; u < first + across; ++u) {
            to.push_back(from[u]);
            mean += from[u] / static_cast<double>(across);
        }
        to.push_back(mean);
    };
    for (std::size_t g = 0; g < question.groups.size(); ++g) {
        const std::size_t first = g * across;
        out.groups[g].emplace_back("one more");
        with_mean(question.capacity_ah, out.capacity_ah, first);
        with_mean(question.capacity_uncertainty_ah, out.capacity_uncertainty_ah, first);
        with_mean(question.leak_ah_per_day, out.leak_ah_per_day, first);
        JoinedCell mean;
        for (std::size_t u = first; u < first + across; ++u) {
            out.units.push_back(question.units[u]);
            mean.voltage_v += question.units[u].voltage_v / static_cast<double>(across);
            mean.resistance_ohm += question.units[u].resistance_ohm / static_cast<double>(across);
        }
        out.units.push_back(mean);
    }
    return out;
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
void charge_build(const BuildQuestion& question, VariantRun& out) {
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

double storage_charge(const Chemistry& chemistry) {
    const StorageCare& storage = chemistry.storage;
    constexpr double half = 0.5;
    return storage.high_soc > 0 ? (storage.low_soc + storage.high_soc) / 2 : half;
}

void shelve_build(const BuildQuestion& question, VariantRun& out) {
    if (!question.without_leak.empty()) {
        out.shelf_objection = said("On the shelf: the self-discharge of {} units is not known; let them rest.",
                                   question.without_leak.size());
        return;
    }
    std::vector<ShelfGroup> groups(question.groups.size());
    const auto across = static_cast<std::size_t>(question.parallel);
    for (std::size_t u = 0; u < question.capacity_ah.size(); ++u) {
        ShelfGroup& group = groups[std::min(u / across, groups.size() - 1)];
        group.capacity_ah += question.capacity_ah[u];
        group.leak_ah_per_day += std::max(0.0, question.leak_ah_per_day[u]);
    }
    const auto stay = leave_on_shelf(groups, question.chemistry, storage_charge(question.chemistry),
                                     question.design.number(DesignFigure::standby_a).value_or(0));
    if (stay)
        out.shelf = stay.value();
    else
        out.shelf_objection = stay.problem().sentence;
}

// From one cell to its nearest.
double pitch_of(const Layout& layout, double diameter_m) {
    double nearest = 0;
    for (std::size_t i = 1; i < layout.cells.size(); ++i) {
        const double apart =
            std::hypot(layout.cells[i].x_m - layout.cells[0].x_m, layout.cells[i].y_m - layout.cells[0].y_m);
        if (nearest == 0 || apart < nearest)
            nearest = apart;
    }
    return nearest > 0 ? nearest : diameter_m;
}

// How warm each place becomes while the pack runs empty.
void warm_build(const BuildQuestion& question, VariantRun& out) {
    if (!out.layout || !question.diameter_m) {
        out.warmth_objection = said("Heat: only round cells of a known format have a place here.");
        return;
    }
    if (question.unit_mass_kg <= 0 || question.height_m <= 0) {
        out.warmth_objection = said("Heat: the model's mass or its format's height is not known.");
        return;
    }
    HeatedPack pack;
    pack.diameter_m = *question.diameter_m;
    pack.height_m = question.height_m;
    pack.pitch_m = std::max(pack.diameter_m, pitch_of(*out.layout, pack.diameter_m));
    pack.cell_mass_kg = question.unit_mass_kg;
    pack.duration_s = out.run.run_time_s;
    for (const LayoutCell& cell : out.layout->cells)
        pack.centres_m.push_back({cell.x_m, cell.y_m});
    for (const auto& group : out.run.cells)
        for (const PackRun::Cell& cell : group)
            pack.heat_w.push_back(cell.loss_w);
    const auto warmth = warm_pack(pack);
    if (warmth)
        out.warmth = warmth.value();
    else
        out.warmth_objection = warmth.problem().sentence;
}

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

// All that is asked of one design under one load; nothing: why.
Result<VariantRun> use_build(const BuildQuestion& question, const BuildPlan& plan, const PackLoad& load,
                             const StillWanted& wanted) {
    VariantRun out;
    const auto amperes = question.design.number(DesignFigure::continuous_a);
    if (const LayoutProposal* now = plan.now(); now != nullptr && question.diameter_m) {
        out.layout = now->layout;
        if (now->joints && amperes) { // they were loaded with it
            out.joints_ohm = now->joints->loss_w / (*amperes * *amperes);
            out.joints_known = true;
        }
    }
    // Of modules the bars, as they were read.
    if (const auto bar = question.design.number(DesignFigure::bar_ohm); bar && question.cells_per_unit > 1) {
        out.joints_ohm = *bar * std::max(0, question.series - 1);
        out.joints_known = true;
    }
    if (!wanted())
        return Problem{"", 0, said("No longer wanted.")};
    const auto found = run_pack(design_of(question, out.joints_ohm), question.chemistry, load,
                                {question.chemistry.test_cutoff_v, std::nullopt});
    if (!found)
        return found.problem();
    out.run = found.value();
    fold(out.run, question.cells_per_unit);
    out.continuous_rating_a = question.continuous_rating_a;
    out.mass_kg = question.unit_mass_kg * static_cast<double>(question.units.size());
    if (const auto off = question.design.number(DesignFigure::off_v))
        for (const PackRun::Sample& sample : out.run.curve)
            if (sample.terminal_v < *off && !out.device_off_s && sample.time_s < out.run.run_time_s)
                out.device_off_s = sample.time_s;
    warm_build(question, out);
    charge_build(question, out);
    shelve_build(question, out);
    return out;
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
    if (!load || !run_set_up(question, 0))
        return;
    BuildQuestion loaded = other;
    for (const DesignFigure figure :
         {DesignFigure::load_profile, DesignFigure::load_w, DesignFigure::continuous_a, DesignFigure::off_v})
        (void)loaded.design.set(figure, question.design.word(figure));
    if (!run_set_up(loaded, 0))
        return;
    const StillWanted always = [] { return true; };
    auto found = use_build(loaded, lay_out_build(loaded, always), load.value(), always);
    if (!found)
        return;
    VariantRun& added = run.variants.emplace_back(std::move(found.value()));
    added.variant = RunVariant::other_build;
    added.label = label;
}

BuildRun run_build(const BuildQuestion& question, const StillWanted& wanted) {
    BuildRun out;
    out.build = question.build;
    if (const auto set_up = run_set_up(question, 0); !set_up) {
        out.objection = set_up.problem().sentence;
        return out;
    }
    const PackLoad load = load_of(question.design).value();
    out.power = load.power;
    out.load = mean_of(load);
    out.profile = load.levels.size() > 1;
    out.until_v = question.chemistry.test_cutoff_v * question.cells_per_unit;
    out.shelf_soc = storage_charge(question.chemistry);
    const BuildPlan as_built = lay_out_build(question, wanted);
    const auto run = [&](RunVariant variant, const BuildQuestion& asked, const BuildPlan& plan, const PackLoad& under) {
        auto found = use_build(asked, plan, under, wanted);
        if (found) {
            out.variants.push_back(std::move(found.value()));
            out.variants.back().variant = variant;
        } else if (variant == RunVariant::as_built) {
            out.objection = found.problem().sentence;
        }
        return found.ok();
    };
    if (!run(RunVariant::as_built, question, as_built, load))
        return out;
    out.uncertain_share = share_of_uncertainty(question, out.variants.front().run.ended_by);
    const BuildQuestion one_more = with_one_more(question);
    (void)run(RunVariant::one_more, one_more, lay_out_build(one_more, wanted), load);
    if (out.variants.front().joints_known && question.stock) {
        BuildQuestion doubled = question;
        doubled.stock->link_layers *= 2;
        doubled.stock->end_layers *= 2;
        (void)run(RunVariant::doubled_strip, doubled, lay_out_build(doubled, wanted), load);
    }
    constexpr double tenth_more = 1.1;
    (void)run(RunVariant::heavier, question, as_built, scaled(load, tenth_more));
    return out;
}

} // namespace ingot
