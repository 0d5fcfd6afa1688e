#include "core/prove/board_log.h"

#include "core/measure/regression.h"
#include "core/measure/statistics.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <stdexcept>

namespace ingot {

namespace {

constexpr double no_value = std::numeric_limits<double>::quiet_NaN();
constexpr double least_current_a = 0.02; // what boards show while nothing flows
constexpr double rest_share = 0.02;      // of the log's largest current
constexpr double least_jump_v = 0.008;   // a cell
constexpr double jump_over_noise = 8;    // robust spreads
constexpr double steady_share = 0.1;     // of the largest current: a step explains what the groups do
constexpr std::size_t jump_lasts = 3;    // rows
constexpr double least_rest_h = 1;
constexpr double into_load_s = 60;
constexpr double lasting_s = 20;
constexpr double seconds_an_hour = 3600;

class Reading {
public:
    Reading(const BoardLog& log, int cells) : log_(log), cells_(cells) {}

    BoardLogReading go() {
        currents();
        spreads();
        stretches();
        deviations();
        jumps();
        drifts();
        rows_for_the_proof();
        return std::move(out_);
    }

private:
    [[nodiscard]] bool whole(std::size_t row) const {
        return std::none_of(log_.group_v[row].begin(), log_.group_v[row].end(), [](double v) { return std::isnan(v); });
    }
    [[nodiscard]] double sum(std::size_t row) const {
        double out = 0;
        for (const double v : log_.group_v[row])
            out += v;
        return out;
    }

    // A step of the current moves the volts the same way where positive charges. Without a step: whether they rise
    // while it flows.
    void currents() {
        out_.charging_a.assign(log_.rows(), 0);
        if (log_.charging_a.empty())
            return;
        double by_steps = 0;
        double by_course = 0;
        for (std::size_t r = 0; r < log_.rows(); ++r) {
            const double a = log_.charging_a[r];
            out_.charging_a[r] = std::isnan(a) ? 0 : a;
            largest_a_ = std::max(largest_a_, std::fabs(out_.charging_a[r]));
            if (r == 0 || !whole(r) || !whole(r - 1))
                continue;
            const double change_v = sum(r) - sum(r - 1);
            const double change_a = out_.charging_a[r] - out_.charging_a[r - 1];
            by_steps += change_a * change_v;
            by_course += out_.charging_a[r] * change_v;
            steps_a_ = std::max(steps_a_, std::fabs(change_a));
        }
        out_.turned = steps_a_ > steady_share * largest_a_ ? by_steps < 0 : by_course < 0;
        if (out_.turned)
            for (double& a : out_.charging_a)
                a = -a;
    }

    void spreads() {
        out_.spread_v.assign(log_.rows(), no_value);
        for (std::size_t r = 0; r < log_.rows(); ++r)
            if (whole(r)) {
                const auto [low, high] = std::minmax_element(log_.group_v[r].begin(), log_.group_v[r].end());
                out_.spread_v[r] = (*high - *low) / cells_;
            }
    }

    [[nodiscard]] LogStretchKind kind_at(std::size_t row) const {
        const double still = std::max(least_current_a, rest_share * largest_a_);
        const double a = out_.charging_a[row];
        return a > still ? LogStretchKind::charge : a < -still ? LogStretchKind::load : LogStretchKind::rest;
    }

    void stretches() {
        for (std::size_t from = 0; from < log_.rows();) {
            LogStretch stretch;
            stretch.kind = kind_at(from);
            stretch.from = from;
            double total_a = 0;
            std::size_t row = from;
            for (; row < log_.rows() && kind_at(row) == stretch.kind; ++row) {
                total_a += out_.charging_a[row];
                const double spread = out_.spread_v[row];
                if (std::isnan(spread))
                    continue;
                if (!stretch.first_spread_v)
                    stretch.first_spread_v = spread;
                stretch.last_spread_v = spread;
                if (!stretch.widest_spread_v || spread > *stretch.widest_spread_v) {
                    stretch.widest_spread_v = spread;
                    stretch.widest_row = row;
                }
            }
            stretch.to = row;
            stretch.mean_a = total_a / static_cast<double>(row - from);
            if (stretch.widest_spread_v) {
                const auto& volts = log_.group_v[stretch.widest_row];
                const auto [low, high] = std::minmax_element(volts.begin(), volts.end());
                stretch.lowest = static_cast<std::size_t>(low - volts.begin());
                stretch.highest = static_cast<std::size_t>(high - volts.begin());
            }
            out_.stretches.push_back(stretch);
            from = row;
        }
    }

    // Of every group from the middle one, a cell.
    void deviations() {
        from_middle_.assign(log_.rows(), std::vector<double>(log_.groups(), no_value));
        for (std::size_t r = 0; r < log_.rows(); ++r) {
            if (!whole(r))
                continue;
            const double middle = median(log_.group_v[r]);
            for (std::size_t g = 0; g < log_.groups(); ++g)
                from_middle_[r][g] = (log_.group_v[r][g] - middle) / cells_;
        }
    }

    void jumps() {
        const double digit = log_.resolution_v.value_or(0) / cells_;
        for (std::size_t g = 0; g < log_.groups() && log_.groups() > 2; ++g) {
            std::vector<double> changes;
            changes.reserve(log_.rows());
            for (std::size_t r = 1; r < log_.rows(); ++r)
                if (const double by = from_middle_[r][g] - from_middle_[r - 1][g]; !std::isnan(by))
                    changes.push_back(by);
            if (changes.size() < 2 * jump_lasts)
                continue;
            const double least = std::max({least_jump_v, 3 * digit, jump_over_noise * robust_spread(changes).scale});
            for (std::size_t r = jump_lasts; r + jump_lasts <= log_.rows(); ++r) {
                const double step_a = std::fabs(out_.charging_a[r] - out_.charging_a[r - 1]);
                if (std::fabs(from_middle_[r][g] - from_middle_[r - 1][g]) < least ||
                    step_a > std::max(least_current_a, steady_share * largest_a_))
                    continue;
                const double by = middle_of(g, r, r + jump_lasts) - middle_of(g, r - jump_lasts, r);
                if (std::fabs(by) >= least)
                    out_.jumps.push_back({log_.time_s[r], g, by});
            }
        }
        std::sort(out_.jumps.begin(), out_.jumps.end(), [](const LogJump& a, const LogJump& b) {
            return a.time_s != b.time_s ? a.time_s < b.time_s : a.group < b.group;
        });
    }
    [[nodiscard]] double middle_of(std::size_t group, std::size_t from, std::size_t to) const {
        std::vector<double> values;
        for (std::size_t r = from; r < to; ++r)
            if (!std::isnan(from_middle_[r][group]))
                values.push_back(from_middle_[r][group]);
        return values.empty() ? no_value : median(values);
    }

    void drifts() {
        const LogStretch* longest = nullptr;
        for (const LogStretch& stretch : out_.stretches)
            if (stretch.kind == LogStretchKind::rest && (longest == nullptr || lasts_s(stretch) > lasts_s(*longest)))
                longest = &stretch;
        if (longest == nullptr || lasts_s(*longest) < least_rest_h * seconds_an_hour || log_.groups() < 3)
            return;
        const double hours = lasts_s(*longest) / seconds_an_hour;
        const double digit = std::max(log_.resolution_v.value_or(0) / cells_, 1e-6);
        for (std::size_t g = 0; g < log_.groups(); ++g) {
            std::vector<std::vector<double>> x;
            std::vector<double> y;
            for (std::size_t r = longest->from; r < longest->to; ++r)
                if (!std::isnan(from_middle_[r][g])) {
                    x.push_back({1, (log_.time_s[r] - log_.time_s[longest->from]) / seconds_an_hour});
                    y.push_back(from_middle_[r][g]);
                }
            constexpr std::size_t enough = 5;
            if (x.size() < enough)
                continue;
            const LeastSquares line = least_squares(x, y);
            const double slope = line.coefficients[1];
            // Rows follow one another too closely to be as many independent ones: the digit bounds what is known.
            const double error = std::max(2 * line.standard_errors[1], digit / hours);
            if (std::fabs(slope) > error)
                out_.drifts.push_back({g, slope, error});
        }
    }
    [[nodiscard]] double lasts_s(const LogStretch& stretch) const {
        return log_.time_s[stretch.to - 1] - log_.time_s[stretch.from];
    }

    void rows_for_the_proof() {
        const LogStretch* heaviest = nullptr;
        for (const LogStretch& stretch : out_.stretches) {
            if (stretch.kind == LogStretchKind::charge)
                out_.end_of_charge = last_whole(stretch.from, stretch.to);
            if (stretch.kind == LogStretchKind::load && lasts_s(stretch) >= lasting_s &&
                (heaviest == nullptr || stretch.mean_a < heaviest->mean_a))
                heaviest = &stretch;
        }
        if (heaviest == nullptr)
            return;
        std::size_t to = heaviest->from;
        while (to < heaviest->to && log_.time_s[to] <= log_.time_s[heaviest->from] + into_load_s)
            ++to;
        out_.under_load = last_whole(heaviest->from, to);
        for (const LogStretch& stretch : out_.stretches)
            if (stretch.to == heaviest->from && stretch.kind == LogStretchKind::rest)
                out_.before_load = last_whole(stretch.from, stretch.to);
    }
    [[nodiscard]] std::optional<std::size_t> last_whole(std::size_t from, std::size_t to) const {
        for (std::size_t r = to; r > from; --r)
            if (whole(r - 1))
                return r - 1;
        return std::nullopt;
    }

    const BoardLog& log_;
    double cells_;
    double largest_a_ = 0, steps_a_ = 0;
    std::vector<std::vector<double>> from_middle_;
    BoardLogReading out_;
};

} // namespace

BoardLogReading read_board_log(const BoardLog& log, int cells_per_group) {
    if (cells_per_group < 1)
        throw std::invalid_argument("read_board_log: a group has one cell at least");
    if (log.group_v.size() != log.rows() || (!log.charging_a.empty() && log.charging_a.size() != log.rows()) ||
        (!log.terminals_v.empty() && log.terminals_v.size() != log.rows()) ||
        std::any_of(log.group_v.begin(), log.group_v.end(),
                    [&](const auto& row) { return row.size() != log.groups(); }))
        throw std::invalid_argument("read_board_log: rows of unlike length");
    return Reading(log, cells_per_group).go();
}

} // namespace ingot
