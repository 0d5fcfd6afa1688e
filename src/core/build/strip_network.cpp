#include "core/build/strip_network.h"

#include <Eigen/Sparse>
#include <Eigen/SparseLU>

#include <cmath>
#include <map>
#include <numeric>

namespace ingot {

namespace {

class Sets {
public:
    explicit Sets(std::size_t n) : parent_(n) { std::iota(parent_.begin(), parent_.end(), std::size_t{0}); }
    std::size_t of(std::size_t i) {
        while (parent_[i] != i)
            i = parent_[i] = parent_[parent_[i]];
        return i;
    }
    bool join(std::size_t a, std::size_t b) {
        a = of(a);
        b = of(b);
        parent_[a] = b;
        return a != b;
    }

private:
    std::vector<std::size_t> parent_;
};

struct Nodes {
    std::map<std::string, std::size_t> index;
    std::size_t of(const std::string& name) { return index.emplace(name, index.size()).first->second; }
};

struct Ends {
    std::size_t a = 0, b = 0;
};

struct Network {
    Nodes nodes;
    std::vector<Ends> pieces; // from, to
    std::vector<Ends> cells;  // plus, minus
};

std::optional<Problem> object_to(const std::vector<StripPiece>& pieces, const std::vector<StripCell>& cells,
                                 const StripLoad& load, Network& network) {
    for (const StripPiece& piece : pieces) {
        if (!(piece.resistance_ohm > 0) || !std::isfinite(piece.resistance_ohm))
            return Problem{"", 0, said("piece {} has no resistance. Give its sizes or a resistance over 0.", piece.id)};
        if (piece.from == piece.to)
            return Problem{"", 0, said("piece {} begins and ends at {}. Join two nodes.", piece.id, piece.from)};
        network.pieces.push_back({network.nodes.of(piece.from), network.nodes.of(piece.to)});
    }
    for (const StripCell& cell : cells) {
        if (!(cell.resistance_ohm >= 0) || !std::isfinite(cell.resistance_ohm))
            return Problem{"", 0, said("cell {}: a resistance cannot be negative.", cell.id)};
        if (cell.plus == cell.minus)
            return Problem{"", 0, said("both ends of cell {} are at {}: it is shorted.", cell.id, cell.plus)};
        network.cells.push_back({network.nodes.of(cell.plus), network.nodes.of(cell.minus)});
    }
    for (const auto& [what, name] : {std::pair{"--plus", load.plus}, std::pair{"--minus", load.minus}})
        if (!network.nodes.index.contains(name))
            return Problem{"", 0, said("{} names {}, which no piece and no cell touches.", what, name)};
    Sets ideal(network.nodes.index.size());
    Sets all(network.nodes.index.size());
    for (const Ends& ends : network.pieces)
        all.join(ends.a, ends.b);
    std::string loop;
    for (std::size_t i = 0; i < cells.size(); ++i) {
        const Ends ends = network.cells[i];
        all.join(ends.a, ends.b);
        if (cells[i].resistance_ohm > 0)
            continue;
        loop += (loop.empty() ? "" : ", ") + cells[i].id;
        if (!ideal.join(ends.a, ends.b))
            return Problem{"", 0, said("cells without resistance make a loop ({}). Give them their resistance.", loop)};
    }
    const std::size_t ground = all.of(network.nodes.index.at(load.minus));
    for (std::size_t i = 0; i < pieces.size(); ++i)
        if (all.of(network.pieces[i].a) != ground)
            return Problem{"", 0,
                           said("piece {} ({} to {}) is an island: nothing joins it to {}.", pieces[i].id,
                                pieces[i].from, pieces[i].to, load.minus)};
    for (std::size_t i = 0; i < cells.size(); ++i)
        if (all.of(network.cells[i].a) != ground)
            return Problem{"", 0,
                           said("cell {} ({}, {}) is an island: nothing joins it to {}.", cells[i].id, cells[i].plus,
                                cells[i].minus, load.minus)};
    return std::nullopt;
}

// Modified nodal analysis: a voltage for every node but the pack's minus, a current for every ideal cell.
class Nodal {
public:
    Nodal(const Network& network, const std::vector<StripPiece>& pieces, const std::vector<StripCell>& cells,
          const StripLoad& load)
        : ground_(network.nodes.index.at(load.minus)), nodes_(network.nodes.index.size()) {
        std::size_t unknowns = nodes_ - 1;
        for (const StripCell& cell : cells)
            unknowns += cell.resistance_ohm > 0 ? 0 : 1;
        right_ = Eigen::VectorXd::Zero(static_cast<Eigen::Index>(unknowns));
        for (std::size_t i = 0; i < pieces.size(); ++i)
            conduct(network.pieces[i], 1 / pieces[i].resistance_ohm);
        std::size_t branch = nodes_ - 1;
        for (std::size_t i = 0; i < cells.size(); ++i) {
            const Ends ends = network.cells[i];
            if (cells[i].resistance_ohm > 0) {
                conduct(ends, 1 / cells[i].resistance_ohm);
                inject(ends.a, cells[i].voltage_v / cells[i].resistance_ohm);
                inject(ends.b, -cells[i].voltage_v / cells[i].resistance_ohm);
                continue;
            }
            for (const auto& [node, sign] : {std::pair{ends.a, 1.0}, std::pair{ends.b, -1.0}})
                if (node != ground_) {
                    entries_.emplace_back(row(branch), row(unknown(node)), sign);
                    entries_.emplace_back(row(unknown(node)), row(branch), -sign);
                }
            right_[row(branch)] = cells[i].voltage_v;
            ++branch;
        }
        inject(network.nodes.index.at(load.plus), -load.current_a);
    }

    // False: the equations have no single solution.
    bool solve() {
        Eigen::SparseMatrix<double> matrix(right_.size(), right_.size());
        matrix.setFromTriplets(entries_.begin(), entries_.end());
        if (right_.size() == 0)
            return true;
        Eigen::SparseLU<Eigen::SparseMatrix<double>> factors(matrix);
        if (factors.info() != Eigen::Success)
            return false;
        solution_ = factors.solve(right_);
        // Twice: the last digits matter where strips of microohms stand beside cells of tens of milliohms.
        for (int n = 0; n < 2; ++n) {
            const Eigen::VectorXd left_over = right_ - matrix * solution_;
            const Eigen::VectorXd step = factors.solve(left_over);
            solution_ += step;
        }
        return solution_.allFinite();
    }
    [[nodiscard]] double volts(std::size_t node) const { return node == ground_ ? 0 : solution_[row(unknown(node))]; }
    // Of the n-th ideal cell, discharging.
    [[nodiscard]] double ideal_a(std::size_t n) const { return solution_[row(nodes_ - 1 + n)]; }

private:
    static Eigen::Index row(std::size_t i) { return static_cast<Eigen::Index>(i); }
    [[nodiscard]] std::size_t unknown(std::size_t node) const { return node < ground_ ? node : node - 1; }
    void inject(std::size_t node, double amps) {
        if (node != ground_)
            right_[row(unknown(node))] += amps;
    }
    void conduct(const Ends& ends, double siemens) {
        for (const auto& [at, other] : {std::pair{ends.a, ends.b}, std::pair{ends.b, ends.a}}) {
            if (at == ground_)
                continue;
            entries_.emplace_back(row(unknown(at)), row(unknown(at)), siemens);
            if (other != ground_)
                entries_.emplace_back(row(unknown(at)), row(unknown(other)), -siemens);
        }
    }

    std::size_t ground_, nodes_;
    std::vector<Eigen::Triplet<double>> entries_;
    Eigen::VectorXd right_, solution_;
};

} // namespace

Result<StripCurrents> solve_strips(const std::vector<StripPiece>& pieces, const std::vector<StripCell>& cells,
                                   const StripLoad& load) {
    Network network;
    if (auto objection = object_to(pieces, cells, load, network))
        return std::move(*objection);
    Nodal nodal(network, pieces, cells, load);
    if (!nodal.solve())
        return Problem{"", 0,
                       said("the network has no single solution. Look for resistances of wildly different size.")};
    StripCurrents out;
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        StripCurrents::Piece piece;
        piece.drop_v = nodal.volts(network.pieces[i].a) - nodal.volts(network.pieces[i].b);
        piece.current_a = piece.drop_v / pieces[i].resistance_ohm;
        piece.loss_w = piece.drop_v * piece.current_a;
        if (pieces[i].area_m2)
            piece.density_a_per_m2 = std::fabs(piece.current_a) / *pieces[i].area_m2;
        out.strip_loss_w += piece.loss_w;
        out.pieces.push_back(piece);
    }
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        if (!out.worst) {
            out.worst = i;
            continue;
        }
        const auto& worst = out.pieces[*out.worst];
        const auto& piece = out.pieces[i];
        const bool denser = piece.density_a_per_m2.value_or(-1) > worst.density_a_per_m2.value_or(-1);
        const bool no_size = !piece.density_a_per_m2 && !worst.density_a_per_m2;
        if (denser || (no_size && piece.loss_w > worst.loss_w))
            out.worst = i;
    }
    std::size_t ideal = 0;
    for (std::size_t i = 0; i < cells.size(); ++i) {
        const double across = nodal.volts(network.cells[i].a) - nodal.volts(network.cells[i].b);
        out.cell_a.push_back(cells[i].resistance_ohm > 0 ? (cells[i].voltage_v - across) / cells[i].resistance_ohm
                                                         : nodal.ideal_a(ideal++));
    }
    out.terminal_v = nodal.volts(network.nodes.index.at(load.plus));
    return out;
}

} // namespace ingot
