#include "core/prove/proof_causes.h"

#include "core/measure/statistics.h"
#include "core/prove/proof_signs.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace ingot {

namespace {

// Chances before anything is read; common practice, no source.
constexpr double share_of_bad_groups = 0.03;
constexpr std::array<double, proof_cause_count> share_of_cause{0, 0.30, 0.15, 0.17, 0.09, 0.12, 0.10, 0.02, 0.05};
constexpr double tails = 5;          // degrees of freedom: meters and people slip more often than a normal says
constexpr double open_joint_ohm = 1; // above, a joint lets so little through that its unit is out

double likelihood(double off, double sigma) {
    const double z = off / sigma;
    return std::pow(1 + z * z / tails, -(tails + 1) / 2) / sigma;
}

// A fault's mark on the same figures.
struct Mark {
    double rest = 0, top = 0, fall = 0, sag = 0;
    int place = 0;   // from 1
    double unit = 0; // V that this place stands off its group
    double unit_spread = 0;
    bool wider = false;
};

class Explainer {
public:
    Explainer(const ProvenPack& pack, const Proof& proof) : pack_(pack), signs_(read_proof_signs(pack, proof)) {}

    [[nodiscard]] std::vector<GroupCauses> explain() const {
        std::vector<GroupCauses> out;
        if (!signs_.any)
            return out;
        for (int g = 0; g < pack_.series; ++g)
            out.push_back(explain(static_cast<std::size_t>(g)));
        return out;
    }

private:
    [[nodiscard]] std::optional<double> volts(ProofRound round, std::size_t g) const {
        const auto r = static_cast<std::size_t>(round);
        return r < pack_.rounds.size() && g < pack_.rounds[r].group_v.size() ? pack_.rounds[r].group_v[g]
                                                                             : std::nullopt;
    }
    [[nodiscard]] double cells() const { return pack_.cells_per_unit; }

    [[nodiscard]] double chance(const GroupSigns& signs, const Mark& mark) const {
        double out = 1;
        const auto weigh = [&](const GroupSigns::One& sign, double expected) {
            if (sign.off)
                out *= likelihood(*sign.off - expected, sign.sigma * (mark.wider ? 2 : 1));
        };
        weigh(signs.rest, mark.rest);
        weigh(signs.top, mark.top);
        weigh(signs.fall, mark.fall);
        weigh(signs.sag, mark.sag);
        // Beside a group all of whose units are sound: only the marked one differs from that.
        const auto p = static_cast<std::size_t>(std::max(mark.place, 1)) - 1;
        if (mark.place > 0 && p < signs.units.size() && signs.units[p].off) {
            const GroupSigns::One& sign = signs.units[p];
            out *= likelihood(*sign.off - mark.unit, std::hypot(sign.sigma, mark.unit_spread)) /
                   likelihood(*sign.off, sign.sigma);
        }
        return out;
    }

    // What the marks of one cause say together: the mean chance, the place and the size that weigh most.
    struct Weighed {
        double sum = 0;
        double weight = 0;
        double best = -1;
        ProofExplanation explanation;
        std::map<int, double> by_place;
        void add(double chance, double prior, int place, double size) {
            sum += chance * prior;
            weight += prior;
            by_place[place] += chance * prior;
            if (chance * prior > best) {
                best = chance * prior;
                explanation.place = place;
                explanation.size = size;
            }
        }
        [[nodiscard]] double mean() const { return weight > 0 ? sum / weight : 0; }
    };

    [[nodiscard]] int places(std::size_t g) const {
        return g < pack_.units.size() && !pack_.units[g].empty() ? static_cast<int>(pack_.units[g].size())
                                                                 : pack_.parallel;
    }
    // Of units that were not read one by one so many are weighed; of more the others would say the same.
    [[nodiscard]] int weighed_places(std::size_t g) const {
        constexpr int enough = 8;
        return std::min(places(g), enough);
    }
    [[nodiscard]] double conductance(std::size_t g, int place) const {
        if (g < pack_.units.size() && place <= static_cast<int>(pack_.units[g].size()))
            if (const auto& ohm = pack_.units[g][static_cast<std::size_t>(place) - 1].resistance_ohm; ohm && *ohm > 0)
                return 1 / *ohm;
        return group_ohm(g) > 0 ? 1 / group_ohm(g) / places(g) : 0;
    }
    [[nodiscard]] double group_ohm(std::size_t g) const {
        if (signs_.ohm[g])
            return *signs_.ohm[g];
        return signs_.load_a > 0 ? signs_.usual_sag_v / signs_.load_a : 0;
    }
    [[nodiscard]] double share_of(std::size_t g, int place) const {
        if (signs_.capacity_ah[g] && place <= static_cast<int>(pack_.units[g].size()))
            return *pack_.units[g][static_cast<std::size_t>(place) - 1].capacity_ah / *signs_.capacity_ah[g];
        return 1.0 / places(g);
    }
    // How much higher a group ends its charge that holds `share` of what it should.
    [[nodiscard]] double higher(double share) const {
        if (signs_.gained <= 0 || share <= 0)
            return 0;
        return std::min(0.5, signs_.slope * signs_.gained * (1 / share - 1)) * cells();
    }

    void weigh_loose(std::size_t g, Weighed& out) const {
        static constexpr std::array joints{0.005, 0.01, 0.02, 0.035, 0.06, 0.1, 0.2, 0.4, 0.8, 0.0}; // ohm; 0: open
        const int all = places(g);
        if (all < 2)
            return;
        const int weighed = reads_units(g) ? all : weighed_places(g);
        for (int p = 1; p <= weighed; ++p)
            for (const double ohm : joints) {
                Mark mark;
                mark.place = p;
                const double whole = group_ohm(g) > 0 ? 1 / group_ohm(g) : 0;
                const double own = conductance(g, p);
                const bool open = ohm <= 0 || ohm > open_joint_ohm;
                const double left = whole - own + (open || own <= 0 ? 0 : 1 / (1 / own + ohm));
                if (whole > 0 && left > 0)
                    mark.sag = signs_.load_a * (1 / left - 1 / whole);
                if (open)
                    mark.top = higher(1 - share_of(g, p));
                const double prior = (open ? 4.0 : 1.0) / weighed;
                if (!reads_units(g)) {
                    out.add(chance(signs_.groups[g], mark), prior, p, open ? 0 : ohm);
                    continue;
                }
                // The can stands above its group by the joint's drop; of one that is out by the sag, less what it
                // missed of the charge.
                const double sag = left > 0 ? signs_.units_a / left : 0;
                if (!open) {
                    mark.unit = sag * ohm / (1 / std::max(own, 1e-9) + ohm);
                    constexpr double between_steps = 0.2; // of the grid of joints
                    mark.unit_spread = between_steps * mark.unit;
                    out.add(chance(signs_.groups[g], mark), prior, p, ohm);
                    continue;
                }
                static constexpr std::array missed{0.0, 0.2, 0.4, 0.6, 0.8, 1.0, 1.2, 1.4};
                for (const double share : missed) {
                    mark.unit = sag - left_behind(g) * share;
                    mark.unit_spread = left_behind(g) * missed[1] / 2;
                    out.add(chance(signs_.groups[g], mark), prior / missed.size(), p, 0);
                }
            }
    }
    [[nodiscard]] bool reads_units(std::size_t g) const { return !signs_.groups[g].units.empty(); }
    // By the charge: what a unit outside it lacks.
    [[nodiscard]] double left_behind(std::size_t g) const {
        const auto before = volts(ProofRound::at_rest, g);
        const auto after = volts(ProofRound::end_of_charge, g);
        constexpr double usual = 0.2;
        if (before && after)
            return std::max(0.01, *after - *before);
        return usual * cells();
    }

    void weigh_strip(std::size_t g, Weighed& out) const {
        static constexpr std::array joints{0.0005, 0.001, 0.0015, 0.002, 0.003, 0.0045, 0.007, 0.01, 0.02, 0.05};
        for (const double ohm : joints) {
            Mark mark;
            mark.sag = signs_.load_a * ohm;
            out.add(chance(signs_.groups[g], mark), 1, 0, ohm);
        }
    }

    // One unit holds less, and mostly has more resistance for it.
    void weigh_weak(std::size_t g, Weighed& out) const {
        static constexpr std::array lost{0.1, 0.2, 0.3, 0.45, 0.65, 0.9};
        static constexpr std::array harder{0.0, 1.0, 2.5};
        const double whole = group_ohm(g) > 0 ? 1 / group_ohm(g) : 0;
        for (int p = 1; p <= weighed_places(g); ++p)
            for (const double share : lost)
                for (const double factor : harder) {
                    Mark mark;
                    mark.top = higher(1 - share * share_of(g, p));
                    const double own = conductance(g, p);
                    const double left = whole - own + own / (1 + factor * share);
                    if (whole > 0 && left > 0)
                        mark.sag = signs_.load_a * (1 / left - 1 / whole);
                    out.add(chance(signs_.groups[g], mark), 1, 0, share);
                }
    }

    // Anything that a unit of another make does: more or less in it, more or less resistance.
    void weigh_other(std::size_t g, Weighed& out) const {
        static constexpr std::array holds{0.5, 0.7, 0.85, 1.15, 1.3, 1.6};
        static constexpr std::array resists{0.4, 0.6, 0.8, 1.25, 1.8, 2.6};
        const double whole = group_ohm(g) > 0 ? 1 / group_ohm(g) : 0;
        for (int p = 1; p <= weighed_places(g); ++p)
            for (const double more : holds)
                for (const double factor : resists) {
                    Mark mark;
                    mark.top = higher(1 + (more - 1) * share_of(g, p));
                    const double own = conductance(g, p);
                    const double left = whole - own + own / factor;
                    if (whole > 0 && left > 0)
                        mark.sag = signs_.load_a * (1 / left - 1 / whole);
                    out.add(chance(signs_.groups[g], mark), 1, 0, more - 1);
                }
    }

    void weigh_leak(std::size_t g, Weighed& out) const {
        static constexpr std::array falls{0.004, 0.007, 0.012, 0.02, 0.035, 0.06, 0.1, 0.2};
        for (const double fall : falls) {
            Mark mark;
            mark.fall = fall * cells();
            out.add(chance(signs_.groups[g], mark), 1, 0, fall);
        }
    }

    // At another charge than the others, which shows before the charge and after it.
    void weigh_balance(std::size_t g, Weighed& out) const {
        static constexpr std::array shares{-0.25, -0.15, -0.09, -0.05, 0.05, 0.09, 0.15, 0.25};
        constexpr double usual_slope = 0.6; // V a unit of charge
        const auto rest = volts(ProofRound::at_rest, g);
        const double before =
            rest && !pack_.ocv.empty() ? std::max(0.05, pack_.ocv.slope_at(*rest / cells())) : usual_slope;
        for (const double share : shares) {
            Mark mark;
            mark.rest = share * before * cells();
            // What it showed before is part of what is expected of it after; where voltage tells nothing it is not.
            if (!pack_.voltage_tells_charge)
                mark.top = share * usual_slope * cells();
            out.add(chance(signs_.groups[g], mark), 1, 0, share);
        }
    }

    void weigh_dead_cell(std::size_t g, Weighed& out) const {
        if (pack_.cells_per_unit < 2)
            return;
        std::vector<double> known;
        for (std::size_t k = 0; k < signs_.groups.size(); ++k)
            if (const auto v = volts(ProofRound::at_rest, k))
                known.push_back(*v);
        if (known.empty())
            return;
        const double cell = median(known) / cells();
        for (const double lacks : {0.6, 1.0, 2.0}) {
            Mark mark;
            mark.rest = mark.top = -lacks * cell;
            mark.wider = true;
            out.add(chance(signs_.groups[g], mark), 1, 0, lacks);
        }
    }

    // One figure alone is off, by anything.
    void weigh_misread(std::size_t g, Weighed& out) const {
        static constexpr std::array offs{-0.5, -0.2, -0.1, -0.05, -0.025, 0.025, 0.05, 0.1, 0.2, 0.5};
        for (const double off : offs)
            for (int figure = 0; figure < 4; ++figure) {
                Mark mark;
                (figure == 0 ? mark.rest : figure == 1 ? mark.top : figure == 2 ? mark.fall : mark.sag) = off;
                if (figure == 1) // it is one side of the fall too
                    mark.fall = off;
                if (figure == 2) // and what is read after rest is what the sag counts from
                    mark.sag = -off;
                mark.wider = true;
                out.add(chance(signs_.groups[g], mark), 1, 0, off);
            }
    }

    [[nodiscard]] GroupCauses explain(std::size_t g) const {
        GroupCauses out;
        out.group = static_cast<int>(g) + 1;
        std::array<Weighed, proof_cause_count> causes;
        const auto of = [&](ProofCause cause) -> Weighed& { return causes[static_cast<std::size_t>(cause)]; };
        of(ProofCause::sound).add(chance(signs_.groups[g], {}), 1, 0, 0);
        weigh_loose(g, of(ProofCause::loose_unit));
        weigh_strip(g, of(ProofCause::strip_joint));
        weigh_weak(g, of(ProofCause::weak_unit));
        weigh_other(g, of(ProofCause::other_unit));
        weigh_leak(g, of(ProofCause::leaking_unit));
        weigh_balance(g, of(ProofCause::out_of_balance));
        weigh_dead_cell(g, of(ProofCause::dead_cell));
        weigh_misread(g, of(ProofCause::misread));
        double total = 0;
        double possible = 0;
        for (int c = 1; c < proof_cause_count; ++c)
            possible +=
                causes[static_cast<std::size_t>(c)].weight > 0 ? share_of_cause[static_cast<std::size_t>(c)] : 0;
        std::array<double, proof_cause_count> weight{};
        for (int c = 0; c < proof_cause_count; ++c) {
            const auto i = static_cast<std::size_t>(c);
            const double prior = c == 0 ? 1 - share_of_bad_groups : share_of_bad_groups * share_of_cause[i] / possible;
            weight[i] = causes[i].weight > 0 ? prior * causes[i].mean() : 0;
            total += weight[i];
        }
        if (!(total > 0)) // beyond everything that is known here
            return out;
        out.sound = weight[0] / total;
        for (int c = 1; c < proof_cause_count; ++c) {
            const auto i = static_cast<std::size_t>(c);
            if (!(weight[i] > 0))
                continue;
            ProofExplanation explanation = causes[i].explanation;
            explanation.cause = static_cast<ProofCause>(c);
            explanation.probability = weight[i] / total;
            const double at_place = causes[i].by_place.at(explanation.place);
            constexpr double sure_of_place = 0.6;
            if (explanation.place > 0 && at_place < sure_of_place * causes[i].sum)
                explanation.place = 0;
            out.explanations.push_back(explanation);
        }
        std::stable_sort(out.explanations.begin(), out.explanations.end(),
                         [](const auto& a, const auto& b) { return a.probability > b.probability; });
        settle(g, out);
        return out;
    }

    // Which causes a check tells apart: those with the same number look alike in it.
    [[nodiscard]] static int outcome(ProofCheck check, ProofCause cause) {
        using enum ProofCause;
        switch (check) {
        case ProofCheck::read_again:
            return cause == misread || cause == sound ? 1 : 0; // it would not be read a second time
        case ProofCheck::joints_under_load:
            return cause == loose_unit ? 1 : cause == strip_joint ? 2 : 0;
        case ProofCheck::rest_again:
            return cause == leaking_unit ? 1 : 0;
        case ProofCheck::run:
            return cause == weak_unit || cause == other_unit ? 1 : cause == loose_unit ? 2 : 0;
        }
        return 0;
    }
    void settle(std::size_t g, GroupCauses& out) const {
        // Minutes of hands; common practice, no source.
        const double units = places(g);
        const std::array<double, proof_check_count> minutes{0.5, 1 + 0.3 * units, 4, 15};
        constexpr double worth_asking = 0.08; // bit
        constexpr double sure = 0.97;
        if (out.sound > 0.8 || (!out.explanations.empty() && out.explanations.front().probability > sure))
            return;
        double best = 0;
        for (int c = 0; c < proof_check_count; ++c) {
            const auto check = static_cast<ProofCheck>(c);
            if (check == ProofCheck::joints_under_load && reads_units(g)) // that is what they were read for
                continue;
            std::array<double, 3> chance{};
            chance[static_cast<std::size_t>(outcome(check, ProofCause::sound))] += out.sound;
            for (const ProofExplanation& e : out.explanations)
                chance[static_cast<std::size_t>(outcome(check, e.cause))] += e.probability;
            double bits = 0;
            for (const double p : chance)
                if (p > 0)
                    bits -= p * std::log2(p);
            const double gain = bits / minutes[static_cast<std::size_t>(c)];
            if (bits > worth_asking && gain > best) {
                best = gain;
                out.settle_by = check;
                out.minutes = minutes[static_cast<std::size_t>(c)];
            }
        }
    }

    const ProvenPack& pack_;
    const ProofSigns signs_;
};

} // namespace

const char* code(ProofCause cause) {
    static constexpr std::array<const char*, proof_cause_count> codes{"sound",          "loose-unit", "strip-joint",
                                                                      "weak-unit",      "other-unit", "leaking-unit",
                                                                      "out-of-balance", "dead-cell",  "misread"};
    return codes.at(static_cast<std::size_t>(cause));
}

const char* code(ProofCheck check) {
    static constexpr std::array<const char*, proof_check_count> codes{"read-again", "joints-under-load", "rest-again",
                                                                      "run"};
    return codes.at(static_cast<std::size_t>(check));
}

std::vector<GroupCauses> explain_proof(const ProvenPack& pack, const Proof& proof) {
    return Explainer(pack, proof).explain();
}

} // namespace ingot
