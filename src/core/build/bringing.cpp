#include "core/build/bringing.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

constexpr double meter_digit = 1e-9; // so that a difference of exactly 50 mV counts as 50 mV

class Planner {
public:
    Planner(const GroupToJoin& group, const Chemistry& chemistry, const JoinLimits& limits)
        : group_(group), chemistry_(chemistry), limits_(limits), cells_(std::max(1, group.cells_per_unit)) {
        for (std::size_t i = 0; i < group.members.size(); ++i)
            (group.members[i].voltage_v < 0 ? reversed_ : upright_).push_back(i);
    }

    JoinPlan plan() {
        JoinPlan out;
        out.reversed = reversed_;
        std::vector<double> volts;
        for (const auto& member : group_.members)
            volts.push_back(member.voltage_v);
        flow_now(volts, out);
        const auto [low, high] = std::minmax_element(volts.begin(), volts.end());
        out.spread_v = (*high - *low) / cells_;
        for (const std::size_t i : upright_)
            if (volts[i] / cells_ < chemistry_.bands.deep_below_v)
                out.deep.push_back(i);
        if (!reversed_.empty() || out.spread_v > limits_.resistor_below_v + meter_digit)
            out.advice = JoinAdvice::bring_to_voltage;
        else if (out.spread_v > limits_.largest_v + meter_digit || too_fierce(out.current_a))
            out.advice = JoinAdvice::through_resistor;
        else
            out.advice = JoinAdvice::join;
        if (out.advice != JoinAdvice::join && upright_.size() > 1)
            out.bring = bring();
        return out;
    }

private:
    [[nodiscard]] double per_cell(std::size_t member) const { return group_.members[member].voltage_v / cells_; }
    [[nodiscard]] double weight(std::size_t member) const { return group_.members[member].capacity_ah.value_or(1); }
    // Where charge can be told: that; else the voltage stands in for it.
    [[nodiscard]] double level(double cell_v) const {
        return chemistry_.voltage_tells_charge ? chemistry_.ocv.soc_at(cell_v) : cell_v;
    }

    void flow_now(const std::vector<double>& volts, JoinPlan& out) const {
        std::vector<JoinMember> members;
        for (std::size_t i = 0; i < volts.size(); ++i)
            members.push_back({volts[i], group_.members[i].resistance_ohm});
        const ParallelState state = share_current(members);
        out.common_v = state.voltage_v;
        out.current_a = state.current_a;
        for (std::size_t i = 0; i < volts.size(); ++i)
            if (std::fabs(state.current_a[i]) > out.largest_a) {
                out.largest_a = std::fabs(state.current_a[i]);
                out.worst = i;
            }
    }

    [[nodiscard]] bool too_fierce(const std::vector<double>& current_a) const {
        for (std::size_t i = 0; i < current_a.size(); ++i) {
            const auto& capacity = group_.members[i].capacity_ah;
            if (capacity && std::fabs(current_a[i]) > limits_.largest_share * *capacity + meter_digit)
                return true;
        }
        return false;
    }

    // The meeting voltage per cell: the lower of the medians, because a cell is handled more safely with less in it.
    [[nodiscard]] double meeting_v() const {
        std::vector<std::size_t> order = upright_;
        std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return per_cell(a) < per_cell(b); });
        double total = 0;
        for (const std::size_t i : order)
            total += weight(i);
        double below = 0;
        double found = per_cell(order.back());
        for (const std::size_t i : order) {
            below += weight(i);
            if (2 * below >= total * (1 - meter_digit)) {
                found = per_cell(i);
                break;
            }
        }
        return std::clamp(found, chemistry_.bands.low_below_v,
                          std::max(chemistry_.full_v, chemistry_.bands.low_below_v));
    }

    // Which window of that width around the meeting voltage leaves the least to move.
    [[nodiscard]] double best_window(double meet_v, double width_v) const {
        double best_from = meet_v - width_v;
        double least = -1;
        for (const std::size_t edge : upright_)
            for (const double from : {per_cell(edge), per_cell(edge) - width_v}) {
                if (from > meet_v + meter_digit || from + width_v < meet_v - meter_digit)
                    continue;
                double moved = 0;
                for (const std::size_t i : upright_)
                    if (per_cell(i) < from - meter_digit || per_cell(i) > from + width_v + meter_digit)
                        moved += weight(i) * std::fabs(level(per_cell(i)) - level(meet_v));
                if (least < 0 || moved < least) {
                    least = moved;
                    best_from = from;
                }
            }
        return best_from;
    }

    [[nodiscard]] std::vector<Bringing> bring() const {
        const double meet = meeting_v();
        constexpr int halvings = 12;
        double width = limits_.largest_v;
        std::vector<Bringing> out;
        for (int n = 0; n <= halvings; ++n, width /= 2) {
            out.clear();
            const double from = best_window(meet, width);
            std::vector<double> volts;
            std::vector<JoinMember> members;
            for (const std::size_t i : upright_) {
                const bool stays = per_cell(i) >= from - meter_digit && per_cell(i) <= from + width + meter_digit;
                members.push_back({(stays ? per_cell(i) : meet) * cells_, group_.members[i].resistance_ohm});
                if (stays)
                    continue;
                Bringing move{i, meet * cells_, std::nullopt};
                if (const auto& capacity = group_.members[i].capacity_ah; capacity && chemistry_.voltage_tells_charge)
                    move.charge_ah = *capacity * (level(meet) - level(per_cell(i)));
                out.push_back(move);
            }
            const auto after = share_current(members).current_a;
            bool calm = true;
            for (std::size_t k = 0; k < upright_.size(); ++k) {
                const auto& capacity = group_.members[upright_[k]].capacity_ah;
                calm = calm && (!capacity || std::fabs(after[k]) <= limits_.largest_share * *capacity + meter_digit);
            }
            if (calm)
                break;
        }
        return out;
    }

    const GroupToJoin& group_;
    const Chemistry& chemistry_;
    const JoinLimits& limits_;
    double cells_;
    std::vector<std::size_t> upright_, reversed_;
};

} // namespace

JoinPlan plan_joining(const GroupToJoin& group, const Chemistry& chemistry, const JoinLimits& limits) {
    return Planner(group, chemistry, limits).plan();
}

} // namespace ingot
