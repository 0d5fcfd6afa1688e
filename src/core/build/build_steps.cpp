#include "core/build/build_steps.h"

#include <Eigen/Dense>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

namespace ingot {

namespace {

using Face = StripDrawing::Face;

constexpr std::array<const char*, build_task_count> task_codes{
    "rings",       "holder",     "polarity",    "gate", "parallel-front", "parallel-back", "links-front",
    "cover-front", "links-back", "sense-leads", "fuse", "board",          "cover"};

Face turned(Face face) {
    return face == Face::front ? Face::back : Face::front;
}

// What is joined so far, as nets of cell ends with the cells between them.
class Moment {
public:
    Moment(const Layout& layout, std::span<const JoinedCell> cells, const std::vector<char>& welded, bool cans)
        : layout_(layout), cells_(cells), cans_(cans), net_(2 * layout.cells.size()) {
        std::iota(net_.begin(), net_.end(), std::size_t{0});
        for (std::size_t p = 0; p < layout.pieces.size(); ++p)
            if (welded[p] != 0)
                for (const std::size_t cell : layout.pieces[p].cells)
                    net_[root(end(cell, layout.pieces[p].face))] =
                        root(end(layout.pieces[p].cells.front(), layout.pieces[p].face));
        // Chains: what hangs together through cells.
        std::vector<std::size_t> chain(net_.size());
        std::iota(chain.begin(), chain.end(), std::size_t{0});
        const auto chain_of = [&](std::size_t i) {
            while (chain[i] != i)
                i = chain[i] = chain[chain[i]];
            return i;
        };
        for (std::size_t c = 0; c < cells.size(); ++c)
            chain[chain_of(root(end(c, Face::front)))] = chain_of(root(end(c, Face::back)));
        for (std::size_t c = 0; c < cells.size(); ++c)
            chains_[chain_of(root(end(c, Face::front)))].push_back(c);
    }

    // The most that can be bridged on that face: most volts, among equals most amperes. With the sense leads on, every
    // net has a bare end beside the pack.
    [[nodiscard]] std::optional<BareHazard> worst_on(Face face, bool leads_out) {
        std::optional<BareHazard> worst;
        for (const auto& [root_net, members] : chains_)
            look_at(members, face, leads_out, worst);
        return worst;
    }

private:
    [[nodiscard]] std::size_t end(std::size_t cell, Face face) const {
        return (face == Face::front ? 0 : layout_.cells.size()) + cell;
    }
    std::size_t root(std::size_t i) {
        while (net_[i] != i)
            i = net_[i] = net_[net_[i]];
        return i;
    }

    struct Conductor {
        std::size_t node = 0, cell = 0;
        bool rim = false;
    };

    void look_at(const std::vector<std::size_t>& members, Face face, bool leads_out, std::optional<BareHazard>& worst) {
        std::map<std::size_t, int> node_of;
        const auto node = [&](std::size_t cell, Face at) {
            return static_cast<std::size_t>(
                node_of.try_emplace(root(end(cell, at)), static_cast<int>(node_of.size())).first->second);
        };
        for (const std::size_t c : members) {
            (void)node(c, Face::front);
            (void)node(c, Face::back);
        }
        // Kirchhoff's laws over the chain's nets, the first of them held: volts, and with the inverse the resistance
        // that any two of them see.
        const auto n = static_cast<Eigen::Index>(node_of.size());
        Eigen::MatrixXd conductance = Eigen::MatrixXd::Zero(n, n);
        Eigen::VectorXd driven = Eigen::VectorXd::Zero(n);
        std::map<std::pair<std::size_t, bool>, Conductor> bare; // one for each net, and one for each net as a rim
        for (const std::size_t c : members) {
            const Face plus_face = layout_.cells[c].plus;
            const std::size_t plus_node = node(c, plus_face);
            const std::size_t minus_node = node(c, turned(plus_face));
            const auto plus = static_cast<Eigen::Index>(plus_node);
            const auto minus = static_cast<Eigen::Index>(minus_node);
            const double g = 1 / cells_[c].resistance_ohm;
            conductance(plus, plus) += g;
            conductance(minus, minus) += g;
            conductance(plus, minus) -= g;
            conductance(minus, plus) -= g;
            driven(plus) += g * cells_[c].voltage_v;
            driven(minus) -= g * cells_[c].voltage_v;
            if (plus_face == face) {
                bare.try_emplace({plus_node, false}, Conductor{plus_node, c, false});
                if (cans_)
                    bare.try_emplace({minus_node, true}, Conductor{minus_node, c, true});
            }
            if (plus_face != face || leads_out)
                bare.try_emplace({minus_node, false}, Conductor{minus_node, c, false});
            if (leads_out)
                bare.try_emplace({plus_node, false}, Conductor{plus_node, c, false});
        }
        if (n < 2)
            return;
        const Eigen::MatrixXd inverse = conductance.bottomRightCorner(n - 1, n - 1).inverse();
        const Eigen::VectorXd solved = inverse * driven.tail(n - 1);
        const auto volts = [&](std::size_t i) { return i == 0 ? 0.0 : solved(static_cast<Eigen::Index>(i) - 1); };
        const auto z = [&](std::size_t i, std::size_t j) {
            return i == 0 || j == 0 ? 0.0 : inverse(static_cast<Eigen::Index>(i) - 1, static_cast<Eigen::Index>(j) - 1);
        };
        for (auto a = bare.begin(); a != bare.end(); ++a)
            for (auto b = std::next(a); b != bare.end(); ++b) {
                const std::size_t i = a->second.node;
                const std::size_t j = b->second.node;
                if (i == j)
                    continue;
                BareHazard found;
                found.volts = std::fabs(volts(i) - volts(j));
                found.amperes = found.volts / (z(i, i) + z(j, j) - 2 * z(i, j) + contact_ohm);
                found.from = a->second.cell;
                found.to = b->second.cell;
                found.rim = a->second.rim || b->second.rim;
                found.face = face;
                constexpr double same_v = 1e-3;
                if (!worst || found.volts > worst->volts + same_v ||
                    (found.volts > worst->volts - same_v && found.amperes > worst->amperes))
                    worst = found;
            }
    }

    const Layout& layout_;
    std::span<const JoinedCell> cells_;
    bool cans_;
    std::vector<std::size_t> net_;
    std::map<std::size_t, std::vector<std::size_t>> chains_;
};

// Pieces of one kind on one face, those of one group (or of one joint between groups) together.
std::vector<std::vector<std::size_t>> pieces_of(const Layout& layout, LayoutPiece::Kind kind, Face face) {
    std::map<std::size_t, std::vector<std::size_t>> by_group;
    for (std::size_t p = 0; p < layout.pieces.size(); ++p)
        if (layout.pieces[p].kind == kind && layout.pieces[p].face == face)
            by_group[layout.cells[layout.pieces[p].cells.front()].group].push_back(p);
    std::vector<std::vector<std::size_t>> out;
    out.reserve(by_group.size());
    for (auto& [group, pieces] : by_group)
        out.push_back(std::move(pieces));
    return out;
}

} // namespace

const char* code(BuildTask task) {
    return task_codes.at(static_cast<std::size_t>(task));
}

std::optional<BuildTask> build_task_from(const std::string& code) {
    for (std::size_t i = 0; i < task_codes.size(); ++i)
        if (task_codes[i] == code)
            return static_cast<BuildTask>(i);
    return std::nullopt;
}

std::vector<std::vector<int>> build_items(BuildTask task, int series, int parallel) {
    std::vector<std::vector<int>> out;
    // Groups stand alternately plus up and plus down: joints lie on the front and on the back in turn.
    const auto joints = [&](int first) {
        for (int g = first; g < series; g += 2)
            out.push_back({g, g + 1});
    };
    switch (task) {
    case BuildTask::gate:
    case BuildTask::parallel_front:
    case BuildTask::parallel_back:
        if (parallel > 1)
            for (int g = 1; g <= series; ++g)
                out.push_back({g});
        break;
    case BuildTask::links_front:
        joints(1);
        break;
    case BuildTask::links_back:
        joints(2);
        break;
    case BuildTask::sense_leads:
        out.resize(static_cast<std::size_t>(series) + 1);
        break;
    case BuildTask::cover_front:
        out.resize(series > 2 ? 1 : 0); // nothing is joined on the back otherwise
        break;
    case BuildTask::rings:
    case BuildTask::holder:
    case BuildTask::polarity:
    case BuildTask::fuse:
    case BuildTask::board:
    case BuildTask::cover:
        out.resize(1);
        break;
    }
    return out;
}

std::optional<std::pair<BuildTask, int>> missing_before(std::pair<BuildTask, int> item, const BuildTicks& done,
                                                        const std::vector<bool>& gate, int series, int parallel) {
    using Missing = std::optional<std::pair<BuildTask, int>>;
    const auto all_of = [&](std::initializer_list<BuildTask> tasks) -> Missing {
        for (const BuildTask task : tasks) {
            const int count = static_cast<int>(build_items(task, series, parallel).size());
            for (int i = 1; i <= count; ++i)
                if (!done.contains({task, i}))
                    return std::pair(task, i);
        }
        return std::nullopt;
    };
    // Of the groups that the item is about.
    const auto here = [&](BuildTask task) -> Missing {
        const auto items = build_items(item.first, series, parallel);
        for (const int group : items.at(static_cast<std::size_t>(item.second) - 1)) {
            const std::pair wanted(task, group);
            const bool is =
                task == BuildTask::gate ? gate.at(static_cast<std::size_t>(group) - 1) : done.contains(wanted);
            if (parallel > 1 && !is)
                return wanted;
        }
        return std::nullopt;
    };
    const auto first = [](std::initializer_list<Missing> missing) -> Missing {
        for (const Missing& m : missing)
            if (m)
                return m;
        return std::nullopt;
    };
    using T = BuildTask;
    switch (item.first) {
    case T::rings:
        return std::nullopt;
    case T::holder:
        return all_of({T::rings});
    case T::polarity:
    case T::gate:
        return all_of({T::rings, T::holder});
    case T::parallel_front:
        return first({all_of({T::rings, T::holder, T::polarity}), here(T::gate)});
    case T::parallel_back:
        return here(T::parallel_front);
    case T::links_front:
        return first({all_of({T::rings, T::holder, T::polarity}), here(T::parallel_back)});
    case T::cover_front:
        return all_of({T::parallel_front, T::parallel_back, T::links_front});
    case T::links_back:
        return all_of({T::cover_front});
    case T::sense_leads:
        if (const Missing before = all_of({T::polarity, T::parallel_back, T::links_front, T::links_back}))
            return before;
        for (int lead = 1; lead < item.second; ++lead)
            if (!done.contains({T::sense_leads, lead}))
                return std::pair(T::sense_leads, lead);
        return std::nullopt;
    case T::fuse:
        return all_of({T::sense_leads});
    case T::board:
        return all_of({T::fuse});
    case T::cover:
        return all_of({T::board});
    }
    return std::nullopt;
}

std::vector<BuildStep> build_steps(const Layout& layout, std::span<const JoinedCell> cells, bool cans, BuildTask last) {
    std::vector<BuildStep> out;
    if (layout.cells.empty())
        return out;
    using Kind = LayoutPiece::Kind;
    const int series = static_cast<int>(layout.cells.back().group) + 1;
    const int parallel = static_cast<int>(layout.cells.size()) / series;
    const auto step = [&](BuildTask task, const std::vector<std::vector<std::size_t>>& welded = {}) {
        const auto items = build_items(task, series, parallel);
        if (items.empty() || task > last)
            return;
        BuildStep& added = out.emplace_back();
        added.task = task;
        for (std::size_t i = 0; i < items.size(); ++i)
            added.items.push_back({items[i], i < welded.size() ? welded[i] : std::vector<std::size_t>()});
    };
    for (const BuildTask task : {BuildTask::rings, BuildTask::holder, BuildTask::polarity, BuildTask::gate})
        step(task);
    step(BuildTask::parallel_front, pieces_of(layout, Kind::parallel, Face::front));
    step(BuildTask::parallel_back, pieces_of(layout, Kind::parallel, Face::back));
    // The joints that close the pack are made on one face while the other lies covered; leads come last, as bare ends
    // of the whole pack.
    step(BuildTask::links_front, pieces_of(layout, Kind::series, Face::front));
    step(BuildTask::cover_front);
    step(BuildTask::links_back, pieces_of(layout, Kind::series, Face::back));
    step(BuildTask::sense_leads);
    std::vector<std::size_t> leads;
    for (std::size_t p = 0; p < layout.pieces.size(); ++p)
        if (layout.pieces[p].kind == Kind::lead)
            leads.push_back(p);
    step(BuildTask::fuse, {leads});
    for (const BuildTask task : {BuildTask::board, BuildTask::cover})
        step(task);

    std::vector<char> welded(layout.pieces.size(), 0);
    bool front_covered = false, leads_out = false;
    std::optional<BareHazard> front, back;
    bool look = true;
    for (BuildStep& now : out) {
        for (const auto& item : now.items)
            for (const std::size_t piece : item.pieces) {
                welded[piece] = 1;
                look = true;
            }
        leads_out |= now.task == BuildTask::sense_leads;
        if (look || now.task == BuildTask::sense_leads) { // nothing else changes what can be bridged
            Moment moment(layout, cells, welded, cans);
            front = moment.worst_on(Face::front, leads_out);
            back = moment.worst_on(Face::back, leads_out);
            look = false;
        }
        front_covered |= now.task == BuildTask::cover_front;
        // Up to the cover the front lies up, but for the bars on the back.
        const bool back_up = front_covered || now.task == BuildTask::parallel_back;
        now.here = back_up ? back : front;
        now.covered = back_up ? front : back;
    }
    return out;
}

} // namespace ingot
