#include "workshop/build_plan.h"

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

// In room that nobody measured they begin at its corner, not in the middle of nowhere.
void into_corner(Layout& layout, double diameter_m, const BuildDesign& design) {
    for (const auto& [figure, axis] :
         {std::pair(DesignFigure::case_width_m, &LayoutCell::x_m), {DesignFigure::case_height_m, &LayoutCell::y_m}}) {
        if (design.knows(figure) || layout.cells.empty())
            continue;
        double least = layout.cells.front().*axis;
        for (const LayoutCell& cell : layout.cells)
            least = std::min(least, cell.*axis);
        for (LayoutCell& cell : layout.cells)
            cell.*axis -= least - diameter_m / 2;
    }
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

BuildPlan lay_out_build(const BuildQuestion& question, const StillWanted& wanted) {
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
    const std::string asked = question.design.word(DesignFigure::arrangement);
    const auto load = question.design.number(DesignFigure::continuous_a);
    for (Layout& layout : few(staggered.value(), square.value(), asked)) {
        LayoutProposal& proposal = plan.proposals.emplace_back();
        into_corner(layout, problem.diameter_m, question.design);
        if (question.diameter_m && question.stock && load && question.without_resistance.empty()) {
            const auto joints = load_joints(layout, question.units, *question.stock, *load);
            if (joints)
                proposal.joints = joints.value();
        }
        if (arrangement_of(layout) == asked)
            plan.chosen = plan.proposals.size() - 1;
        proposal.layout = std::move(layout);
    }
    return plan;
}

BuildPlan plan_build(const BuildQuestion& question, const StillWanted& wanted) {
    BuildPlan plan = lay_out_build(question, wanted);
    if (plan.now() == nullptr)
        return plan;
    const BuildTask last = last_task(question.design.refills());
    if (!question.diameter_m) {
        plan.steps = build_steps(plan.proposals.front().layout, question.units, false, last);
        plan.proposals.clear();
        if (question.cells_per_unit > 1 && question.parallel == 1) {
            for (const auto& group : question.groups)
                plan.row.push_back(group.front());
            return plan;
        }
        plan.objection =
            said("These are no round cells of a known format, so they are not drawn: modules stand in a row, each plus "
                 "beside the next minus. Steps shows the order and what each step lays bare.");
        return plan;
    }
    const LayoutProposal& now = *plan.now();
    plan.steps = build_steps(now.layout, question.units, true, last); // with the pieces of the chosen one
    plan.joins_as_designed = joins_as_designed(now.layout, static_cast<std::size_t>(question.series));
    if (question.stock)
        plan.clearance_m = nearest_foreign_strip_m(now.layout, question.stock->width_m);
    if (now.joints && question.density &&
        now.joints->pieces[now.joints->worst].density_a_per_m2 > question.density->fair_a_per_m2)
        plan.remedies =
            remedies_for(question, now.layout, *now.joints, *question.design.number(DesignFigure::continuous_a));
    return plan;
}

} // namespace ingot
