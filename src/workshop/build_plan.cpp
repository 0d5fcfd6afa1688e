#include "workshop/build_plan.h"

#include "core/build/build_safety.h"

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
        constexpr double um = 1e6; // rounding decides nothing
        return std::tuple(!a.fits, a.kinds, std::lround(a.strip_length_m * um), arrangement_of(a)) <
               std::tuple(!b.fits, b.kinds, std::lround(b.strip_length_m * um), arrangement_of(b));
    });
    return out;
}

double case_of(const BuildDesign& design, DesignFigure figure) {
    return design.number(figure).value_or(no_case_m);
}

// In room that nobody measured they begin at its corner, not in the middle of nowhere.
void into_corner(Layout& layout, const BuildDesign& design) {
    for (const auto& [figure, axis, side] : {std::tuple(DesignFigure::case_width_m, &LayoutCell::x_m, layout.cell_m[0]),
                                             {DesignFigure::case_height_m, &LayoutCell::y_m, layout.cell_m[1]}}) {
        if (design.knows(figure) || layout.cells.empty())
            continue;
        double least = layout.cells.front().*axis;
        for (const LayoutCell& cell : layout.cells)
            least = std::min(least, cell.*axis);
        for (LayoutCell& cell : layout.cells)
            cell.*axis -= least - side / 2;
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

// Groups that go into an old pack bring their own bars; that pack's links, leads and sense leads are its own, at places
// that nobody typed.
void leave_bars_only(Layout& layout, const BuildDesign& design) {
    std::erase_if(layout.pieces, [](const LayoutPiece& piece) { return piece.kind != LayoutPiece::Kind::parallel; });
    layout.sense.clear();
    measure_layout(layout, case_of(design, DesignFigure::case_width_m), case_of(design, DesignFigure::case_height_m));
}

bool bars_join_groups(const Layout& layout, std::size_t parallel) {
    const auto nets = nets_of(layout);
    std::set<std::size_t> ends;
    for (const std::size_t net : nets)
        ends.insert(net);
    const std::size_t groups = layout.cells.size() / std::max<std::size_t>(1, parallel);
    return ends.size() == 2 * groups;
}

std::optional<PackJoints> joints_of(const Layout& layout, const BuildQuestion& question) {
    const auto load = question.design.number(DesignFigure::continuous_a);
    if (!question.drawn() || !question.to_scale || !question.stock || !load || !question.without_resistance.empty() ||
        question.design.refills() || question.design.word(DesignFigure::joining) == code(JoiningKind::holder))
        return std::nullopt;
    const auto joints = load_joints(layout, question.units, *question.stock, *load);
    return joints ? std::optional(joints.value()) : std::nullopt;
}

// What is asked of the chosen layout after every move.
void check_chosen(BuildPlan& plan, const BuildQuestion& question) {
    const Layout& layout = plan.now()->layout;
    plan.joins_as_designed = question.design.refills()
                                 ? bars_join_groups(layout, static_cast<std::size_t>(question.parallel))
                                 : joins_as_designed(layout, static_cast<std::size_t>(question.series));
    plan.clearance_m.reset();
    plan.covers = {};
    if (question.stock) {
        plan.clearance_m = nearest_foreign_strip_m(layout, question.stock->width_m);
        plan.covers = covers_of(layout, question.units, question.stock->width_m);
    }
    plan.gap_m = least_gap_m(layout);
}

// As the person's hand left it; what cannot be is said and left out.
void move_chosen(BuildPlan& plan, const BuildQuestion& question) {
    plan.as_proposed = plan.now()->layout;
    const std::string words = question.design.word(DesignFigure::by_hand);
    if (words.empty())
        return;
    const std::string arrangement = moved_arrangement(words);
    if (!arrangement.empty() && arrangement != arrangement_of(plan.as_proposed)) {
        plan.not_moved = said("What was moved by hand belongs to another arrangement ({}).", arrangement);
        return;
    }
    const auto moves = layout_moves_from(words);
    auto moved = moves ? with_moves(plan, question, moves.value()) : Result<BuildPlan>(moves.problem());
    if (moved)
        plan = std::move(moved.value());
    else
        plan.not_moved = moved.problem().sentence;
}

} // namespace

Result<BuildPlan> with_moves(const BuildPlan& plan, const BuildQuestion& question,
                             const std::vector<LayoutMove>& moves) {
    if (plan.now() == nullptr)
        return Problem{"", 0, said("there is no cell to move.")};
    auto moved = moved_by_hand(plan.as_proposed, moves, case_of(question.design, DesignFigure::case_width_m),
                               case_of(question.design, DesignFigure::case_height_m));
    if (!moved)
        return moved.problem();
    into_corner(moved.value(), question.design);
    BuildPlan out = plan;
    LayoutProposal& now = out.proposals[out.chosen];
    now.layout = std::move(moved.value());
    now.joints = joints_of(now.layout, question);
    check_chosen(out, question);
    return out;
}

BuildPlan lay_out_build(const BuildQuestion& question, const StillWanted& wanted) {
    BuildPlan plan;
    plan.build = question.build;
    if (question.groups.empty() || question.units.empty())
        return plan;
    LayoutProblem problem;
    problem.groups = question.groups;
    constexpr double any_diameter_m = 0.02; // hazards do not ask where a unit stands
    problem.diameter_m = question.diameter_m.value_or(any_diameter_m);
    if (question.flat_m) {
        problem.broad_m = (*question.flat_m)[0];
        problem.thick_m = (*question.flat_m)[1];
    }
    problem.pitch_m = question.design.number(DesignFigure::pitch_m).value_or(0);
    problem.case_width_m = case_of(question.design, DesignFigure::case_width_m);
    problem.case_height_m = case_of(question.design, DesignFigure::case_height_m);
    const auto square = propose_layouts(problem);
    if (!wanted())
        return plan;
    problem.staggered = !question.flat_m;
    const auto staggered = propose_layouts(problem);
    if (!square || !staggered) {
        plan.objection = (square ? staggered : square).problem().sentence;
        return plan;
    }
    const std::string asked = question.design.word(DesignFigure::arrangement);
    for (Layout& layout : few(staggered.value(), square.value(), asked)) {
        LayoutProposal& proposal = plan.proposals.emplace_back();
        if (question.design.refills() && question.drawn())
            leave_bars_only(layout, question.design);
        into_corner(layout, question.design);
        proposal.joints = joints_of(layout, question);
        if (arrangement_of(layout) == asked)
            plan.chosen = plan.proposals.size() - 1;
        proposal.layout = std::move(layout);
    }
    if (question.drawn())
        move_chosen(plan, question);
    return plan;
}

BuildPlan plan_build(const BuildQuestion& question, const StillWanted& wanted) {
    BuildPlan plan = lay_out_build(question, wanted);
    if (plan.now() == nullptr)
        return plan;
    const BuildTask last = last_task(question.design.refills());
    if (!question.drawn()) {
        plan.steps = build_steps(plan.proposals.front().layout, question.units, false, last);
        plan.proposals.clear();
        if (question.cells_per_unit > 1 && question.parallel == 1) {
            for (const auto& group : question.groups)
                plan.row.push_back(group.front());
            return plan;
        }
        plan.objection =
            said("Their format, or its size, is not known, so they are not drawn: give their model a format "
                 "of the library. Steps shows the order and what each step lays bare.");
        return plan;
    }
    const LayoutProposal& now = *plan.now();
    plan.steps = build_steps(now.layout, question.units, question.diameter_m.has_value(), last);
    check_chosen(plan, question);
    if (now.joints && question.density &&
        now.joints->pieces[now.joints->worst].density_a_per_m2 > question.density->fair_a_per_m2)
        plan.remedies =
            remedies_for(question, now.layout, *now.joints, *question.design.number(DesignFigure::continuous_a));
    return plan;
}

} // namespace ingot
