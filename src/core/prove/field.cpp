#include "core/prove/field.h"

#include "core/measure/regression.h"
#include "core/measure/statistics.h"

#include <boost/math/distributions/students_t.hpp>

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace ingot {

namespace {

constexpr double month_days = 30;
constexpr double year_days = 365;
constexpr double horizon_days = 5 * year_days;
constexpr double usual_meter_v = 0.001;
// What else makes two rounds differ that are alike: unfinished relaxation, warmth (common practice, no source). V a
// cell.
constexpr double round_noise_v = 0.0008;
// Groups of unlike size stand apart by another share at another charge (common practice, no source).
constexpr double size_noise = 0.0015;
constexpr double least_slope_v = 0.1; // 1 mV for 1 % of charge: less tells nothing

struct Line {
    std::vector<double> day, share;
    double noise = 0; // of one reading, a share; the largest
};

double middle_of(const FieldRound& round) {
    std::vector<double> volts;
    for (const auto& v : round.group_v)
        if (v)
            volts.push_back(*v);
    return median(std::move(volts));
}

// Where the line stands at `at`, how steep it is, and how sure that is. One reading: where it stands.
GroupDrift drift_of(const Line& line, double at) {
    GroupDrift out;
    const std::size_t n = line.day.size();
    if (n == 0)
        return out;
    if (n == 1) {
        out.now = line.share.front();
        return out;
    }
    std::vector<std::vector<double>> rows;
    rows.reserve(n);
    for (const double day : line.day)
        rows.push_back({1, day - at});
    const LeastSquares fit = least_squares(rows, line.share);
    out.now = fit.coefficients[0];
    out.per_day = fit.coefficients[1];
    // The scatter of a few rounds is large or small by chance: what the meter leaves is believed like four rounds more.
    constexpr double tail = 0.975;
    constexpr double believed = 4;
    const double freedom = believed + fit.degrees_of_freedom;
    const double variance = (believed * line.noise * line.noise + fit.residual_sum) / freedom;
    const boost::math::students_t student(freedom);
    const double wide = boost::math::quantile(student, tail);
    out.error = wide * std::sqrt(variance * fit.unscaled_covariance[1][1]);
    out.now_error = wide * std::sqrt(variance * fit.unscaled_covariance[0][0]);
    return out;
}

// The first day on which some pair of groups is `limit` apart, each pair going by its own pace and `side` of its error.
std::optional<double> reached(const std::vector<GroupDrift>& groups, double from_day, double limit, double side) {
    std::optional<double> first;
    for (const GroupDrift& high : groups)
        for (const GroupDrift& low : groups) {
            if (!high.now || !low.now || !high.per_day || !low.per_day)
                continue;
            const double apart = *high.now - *low.now + side * std::hypot(high.now_error, low.now_error);
            const double pace = *high.per_day - *low.per_day + side * std::hypot(*high.error, *low.error);
            if (apart >= limit)
                return from_day;
            if (pace <= 0)
                continue;
            const double days = (limit - apart) / pace;
            if (days <= horizon_days && (!first || from_day + days < *first))
                first = from_day + days;
        }
    return first;
}

} // namespace

const char* code(FieldState state) {
    switch (state) {
    case FieldState::unread:
        return "unread";
    case FieldState::first:
        return "first";
    case FieldState::steady:
        return "steady";
    case FieldState::drifting:
        return "drifting";
    case FieldState::balance_now:
        return "balance-now";
    case FieldState::going_apart:
        return "going-apart";
    case FieldState::not_told:
        return "not-told";
    }
    return "";
}

FieldTrend follow_field(const std::vector<FieldRound>& rounds, const Chemistry& chemistry, int cells_per_group,
                        double since_day, const FieldLimits& limits) {
    if (cells_per_group < 1)
        throw std::invalid_argument("a group holds at least one cell");
    FieldTrend out;
    out.next_day = since_day + limits.first_days;
    if (rounds.empty())
        return out;
    const std::size_t groups = rounds.front().group_v.size();
    std::vector<Line> lines(groups);
    for (std::size_t r = 0; r < rounds.size(); ++r) {
        const FieldRound& round = rounds[r];
        if (round.group_v.size() != groups || (r > 0 && !(round.day > rounds[r - 1].day)))
            throw std::invalid_argument("rounds of one pack, one after the other");
        FieldPoint& point = out.points.emplace_back();
        point.day = round.day;
        point.from_middle_v.resize(groups);
        if (std::none_of(round.group_v.begin(), round.group_v.end(), [](const auto& v) { return v.has_value(); }))
            continue;
        const double middle = middle_of(round);
        const double slope = chemistry.ocv.empty() ? 0 : chemistry.ocv.slope_at(middle / cells_per_group);
        const bool told = slope >= least_slope_v;
        const double meter_v = round.resolution.value_or(usual_meter_v) / std::sqrt(12.0);
        double least = 0;
        double most = 0;
        int read = 0;
        for (std::size_t g = 0; g < groups; ++g) {
            if (!round.group_v[g])
                continue;
            const double away = *round.group_v[g] - middle;
            point.from_middle_v[g] = away;
            least = read == 0 ? away : std::min(least, away);
            most = read == 0 ? away : std::max(most, away);
            ++read;
            if (!told)
                continue;
            lines[g].day.push_back(round.day);
            lines[g].share.push_back(away / cells_per_group / slope);
            lines[g].noise = std::max(lines[g].noise,
                                      std::hypot(meter_v / cells_per_group / slope, round_noise_v / slope, size_noise));
        }
        if (read > 1) {
            point.spread_v = (most - least) / cells_per_group;
            if (told)
                point.spread_share = *point.spread_v / slope;
        }
    }
    const double last = rounds.back().day;
    // Twice as long as between the last two, as long as nothing calls earlier.
    const double gap = rounds.size() > 1 ? last - rounds[rounds.size() - 2].day : last - since_day;
    out.next_day = last + std::clamp(2 * gap, limits.first_days, limits.longest_days);
    std::size_t told_rounds = 0;
    for (const Line& line : lines) {
        out.groups.push_back(drift_of(line, last));
        told_rounds = std::max(told_rounds, line.day.size());
    }
    if (told_rounds == 0) {
        out.state = FieldState::not_told;
        return out;
    }
    const FieldPoint& newest = out.points.back();
    if (told_rounds == 1) {
        out.state =
            newest.spread_share.value_or(0) >= limits.balance_share ? FieldState::balance_now : FieldState::first;
        return out;
    }
    out.balance_day = reached(out.groups, last, limits.balance_share, 0);
    out.earliest_day = reached(out.groups, last, limits.balance_share, 1);
    out.latest_day = reached(out.groups, last, limits.balance_share, -1);
    for (std::size_t g = 0; g < groups; ++g) {
        const GroupDrift& drift = out.groups[g];
        if (!drift.per_day || *drift.per_day + *drift.error >= 0)
            continue; // it may stand still
        if (!out.lowest || *drift.per_day < *out.groups[static_cast<std::size_t>(*out.lowest)].per_day)
            out.lowest = static_cast<int>(g);
    }
    const bool apart = newest.spread_share.value_or(0) >= limits.balance_share;
    const GroupDrift* lowest = out.lowest ? &out.groups[static_cast<std::size_t>(*out.lowest)] : nullptr;
    if (lowest != nullptr && (*lowest->per_day + *lowest->error) * month_days < -limits.going_apart_per_month)
        out.state = FieldState::going_apart;
    else if (apart)
        out.state = FieldState::balance_now;
    else if (out.balance_day && *out.balance_day - last <= year_days)
        out.state = FieldState::drifting;
    else
        out.state = FieldState::steady;
    if (out.earliest_day && *out.earliest_day > last)
        out.next_day = std::clamp(*out.earliest_day, last + limits.first_days, out.next_day);
    return out;
}

} // namespace ingot
