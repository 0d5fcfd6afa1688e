#include "core/measure/self_discharge.h"

#include "core/measure/leak_models.h"
#include "core/measure/statistics.h"

#include <boost/math/distributions/students_t.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <stdexcept>

namespace ingot {

const char* code(LeakVerdict verdict) {
    switch (verdict) {
    case LeakVerdict::fit:
        return "fit";
    case LeakVerdict::leaking:
        return "leaking";
    case LeakVerdict::undecided:
        return "undecided";
    }
    return "";
}

namespace {

constexpr double hours_per_day = 24;
constexpr double mv = 1e-3;

using namespace leaks;

class Shelf {
public:
    Shelf(const std::vector<RestingUnit>& units, const LeakRules& rules, const Wanted& wanted)
        : rules_(rules), wanted_(wanted) {
        std::vector<double> times;
        for (const RestingUnit& unit : units)
            for (const RestReading& reading : unit.readings)
                times.push_back(reading.time_h);
        std::sort(times.begin(), times.end());
        constexpr double round_h = 1; // readings of one round lie within an hour
        for (const double t : times)
            if (round_h_.empty() || t - round_h_.back() > round_h)
                round_h_.push_back(t);
        for (const RestingUnit& unit : units) {
            auto& series = series_.emplace_back();
            series.reserve(unit.readings.size());
            // A unit relaxes from its own first reading on, whenever the others began.
            double first_h = round_h_.empty() ? 0 : round_h_.back();
            for (const RestReading& reading : unit.readings)
                first_h = std::min(first_h, reading.time_h);
            began_.push_back(round_h_.empty() ? 0 : (first_h - round_h_.front()) / hours_per_day);
            for (const RestReading& reading : unit.readings)
                series.push_back(
                    {(reading.time_h - first_h) / hours_per_day, reading.voltage_v, round_of(reading.time_h)});
            std::sort(series.begin(), series.end(), [](const Point& a, const Point& b) { return a.day < b.day; });
        }
        for (const auto& series : series_)
            siblings_ += series.size() > 1 ? 1 : 0;
        together_ = shared_rounds() > 1;
        if (together_)
            take_out_common();
        noise_ = first_noise();
        fit_all();
        if (!still(wanted_))
            return; // what was not fitted must not be looked at
        // Once more with the noise that the readings have themselves.
        learn_noise();
        fit_all();
        if (together_ && still(wanted_))
            fit_common();
    }

    [[nodiscard]] LeakResult result(std::size_t i, const RestingUnit& unit, const Chemistry& chemistry) const {
        LeakResult out;
        const auto& series = series_[i];
        if (series.empty())
            return out;
        for (const Point& p : series)
            out.own.push_back({hour_of(i, p.day), p.volts - series.front().volts});
        const Mixture& mixture = mixtures_[i];
        const double extra_mean = common_mean_;
        const double extra_variance = common_variance_;
        const double widen = widening(series);
        constexpr double tail = 0.025;
        const double middle = mixture.mean() + extra_mean;
        const double low = quantile_of(mixture, extra_mean, extra_variance, widen, tail);
        const double high = quantile_of(mixture, extra_mean, extra_variance, widen, 1 - tail);
        if (series.size() > 1) {
            out.v_per_day = middle;
            out.low_v_per_day = low;
            out.high_v_per_day = high;
            if (high <= rules_.limit_v_per_day)
                out.verdict = LeakVerdict::fit;
            else if (low > rules_.limit_v_per_day)
                out.verdict = LeakVerdict::leaking;
            double mean_v = 0;
            for (const RestReading& reading : unit.readings)
                mean_v += reading.voltage_v / static_cast<double>(unit.readings.size());
            if (unit.capacity_ah)
                out.ah_per_day = leak_ah_per_day(chemistry, mean_v, unit.cells_in_series, middle, *unit.capacity_ah);
            double late = 0;
            for (std::size_t c = 0; c < mixture.components.size(); ++c)
                late += mixture.components[c].since_day >= 0 ? mixture.weights[c] : 0;
            if (late > 0.5)
                out.leaks_more_since_h = hour_of(i, likeliest_late(mixture));
        }
        if (out.verdict == LeakVerdict::undecided)
            out.next_reading_h = next_reading(i, middle, widen);
        return out;
    }

private:
    // On the readings' own axis, of a day of one unit.
    [[nodiscard]] double hour_of(std::size_t unit, double day) const {
        return round_h_.front() + (began_[unit] + day) * hours_per_day;
    }
    [[nodiscard]] std::size_t round_of(double time_h) const {
        const auto after = std::upper_bound(round_h_.begin(), round_h_.end(), time_h);
        return static_cast<std::size_t>(after - round_h_.begin()) - 1;
    }

    // Rounds in which enough siblings were read that are read again.
    [[nodiscard]] std::size_t shared_rounds() const {
        std::vector<std::size_t> count(round_h_.size(), 0);
        for (const auto& series : series_)
            if (series.size() > 1)
                for (const Point& p : series)
                    ++count[p.round];
        return static_cast<std::size_t>(
            std::count_if(count.begin(), count.end(), [](std::size_t n) { return n >= siblings_needed; }));
    }

    // Median polish: each unit's level, each round's course. Half of the units may leak without moving it.
    void take_out_common() {
        course_.assign(round_h_.size(), 0);
        std::vector<double> level(series_.size(), 0);
        struct Read {
            std::size_t unit;
            double volts;
        };
        std::vector<std::vector<Read>> read_in(round_h_.size());
        for (std::size_t i = 0; i < series_.size(); ++i)
            if (series_[i].size() > 1)
                for (const Point& p : series_[i])
                    read_in[p.round].push_back({i, p.volts});
        constexpr int sweeps = 30;
        for (int n = 0; n < sweeps && still(wanted_); ++n) {
            for (std::size_t i = 0; i < series_.size(); ++i) {
                std::vector<double> left;
                for (const Point& p : series_[i])
                    left.push_back(p.volts - course_[p.round]);
                level[i] = median(left);
            }
            for (std::size_t r = 0; r < course_.size(); ++r) {
                if (read_in[r].size() < siblings_needed)
                    continue;
                std::vector<double> left;
                for (const Read& read : read_in[r])
                    left.push_back(read.volts - level[read.unit]);
                course_[r] = middle_mean(std::move(left));
            }
            fill_lone_rounds(read_in);
        }
        for (auto& series : series_)
            for (Point& p : series)
                p.volts -= course_[p.round];
        for (std::size_t r = 0; r < course_.size(); ++r)
            if (read_in[r].size() >= siblings_needed)
                common_.push_back({day_of(r), course_[r], r});
    }
    [[nodiscard]] double day_of(std::size_t round) const {
        return (round_h_[round] - round_h_.front()) / hours_per_day;
    }
    // In a round of too few units nobody can tell what all share: it lies between the rounds around it.
    template <class Reads> void fill_lone_rounds(const Reads& read_in) {
        std::vector<std::size_t> known;
        for (std::size_t r = 0; r < course_.size(); ++r)
            if (read_in[r].size() >= siblings_needed)
                known.push_back(r);
        std::size_t next = 0;
        for (std::size_t r = 0; r < course_.size(); ++r) {
            while (next < known.size() && known[next] < r)
                ++next;
            if (next < known.size() && known[next] == r)
                continue;
            if (next == 0 || next == known.size()) {
                course_[r] = course_[next == 0 ? known.front() : known.back()];
                continue;
            }
            const std::size_t before = known[next - 1];
            const std::size_t after = known[next];
            const double share = (day_of(r) - day_of(before)) / (day_of(after) - day_of(before));
            course_[r] = course_[before] + share * (course_[after] - course_[before]);
        }
    }
    // The mean of the middle half: as deaf to leakers as the median, and not caught on a meter's steps.
    static double middle_mean(std::vector<double> values) {
        std::sort(values.begin(), values.end());
        const std::size_t cut = values.size() / 4;
        double sum = 0;
        for (std::size_t i = cut; i < values.size() - cut; ++i)
            sum += values[i];
        return sum / static_cast<double>(values.size() - 2 * cut);
    }

    [[nodiscard]] double first_noise() const {
        constexpr double room_v = 0.15 * mv; // a kelvin at 0.1 to 0.2 mV/K, where nothing common can be taken out
        constexpr double share_of_step = 0.35;
        const double step = rules_.resolution_v * share_of_step;
        return together_ ? std::max(step, 0.02 * mv) : std::hypot(step, room_v);
    }

    [[nodiscard]] Priors priors(double relaxation_sd, double noise) const {
        constexpr double broad = 8; // drifts of several times the limit are ordinary among leakers
        return {0, broad * rules_.limit_v_per_day, relaxation_sd, noise};
    }

    void fit_all() {
        // How far units differ in their relaxation is learned from all of them.
        static constexpr std::array<double, 4> sizes{0.3 * mv, 1 * mv, 3 * mv, 12 * mv};
        double best = -1e300;
        double chosen = sizes.back();
        if (together_) {
            for (const double size : sizes) {
                double total = 0;
                for (const auto& series : series_) {
                    if (series.size() < 3)
                        continue;
                    if (!still(wanted_))
                        return;
                    double likely = -1e300;
                    for (const Shape& shape : shapes())
                        likely = std::max(likely, fit(series, shape, -1, priors(size, noise_)).log_evidence);
                    total += likely;
                }
                if (total > best) {
                    best = total;
                    chosen = size;
                }
            }
        }
        relaxation_sd_ = chosen;
        mixtures_.clear();
        std::vector<double> shared(shapes().size(), 0);
        for (const auto& series : series_) {
            Mixture& m = mixtures_.emplace_back();
            if (series.empty())
                continue;
            if (!still(wanted_))
                return;
            for (const Shape& shape : shapes())
                m.components.push_back(fit(series, shape, -1, priors(relaxation_sd_, noise_)));
            share_out(m, shared);
        }
        for (std::size_t i = 0; i < mixtures_.size() && still(wanted_); ++i)
            if (!series_[i].empty())
                weigh(mixtures_[i], series_[i], shared);
    }

    // What one unit says about the form of relaxation, to all others; bounded, so that no odd one speaks for all.
    void share_out(const Mixture& m, std::vector<double>& shared) const {
        constexpr double loudest = 2;
        double best = -1e300;
        for (const Component& c : m.components)
            best = std::max(best, c.log_evidence);
        for (std::size_t s = 0; s < shared.size(); ++s)
            shared[s] += std::max(-loudest, m.components[s].log_evidence - best);
    }

    void weigh(Mixture& m, const std::vector<Point>& series, const std::vector<double>& shared) const {
        constexpr double own_way = 0.3; // a unit may relax as no other does
        const std::size_t n = shapes().size();
        const double best = *std::max_element(shared.begin(), shared.end());
        double sum = 0;
        for (const double s : shared)
            sum += std::exp(s - best);
        std::vector<double> log_prior;
        log_prior.reserve(shared.size());
        for (const double s : shared)
            log_prior.push_back(std::log((together_ ? 1 - own_way : 0) * std::exp(s - best) / sum +
                                         (together_ ? own_way : 1) / static_cast<double>(n)));
        // A leak that starts late: from any of the readings in between.
        constexpr double late = 0.04;
        std::vector<double> starts;
        starts.reserve(series.size());
        for (std::size_t p = 1; p + 2 < series.size(); ++p)
            starts.push_back(series[p].day);
        std::array<std::size_t, 3> likely = likeliest_shapes(log_prior);
        for (const double start : starts)
            for (const std::size_t s : likely) {
                m.components.push_back(fit(series, shapes()[s], start, priors(relaxation_sd_, noise_)));
                log_prior.push_back(std::log(late / static_cast<double>(starts.size())) + log_prior[s]);
            }
        m.weigh(log_prior);
    }
    // The forms that the siblings show, and none at all: those that this unit seems to show would take the late start
    // for relaxation.
    static std::array<std::size_t, 3> likeliest_shapes(const std::vector<double>& log_prior) {
        std::vector<std::size_t> order(log_prior.size());
        for (std::size_t i = 0; i < order.size(); ++i)
            order[i] = i;
        std::partial_sort(order.begin() + 1, order.begin() + 3, order.end(),
                          [&](std::size_t x, std::size_t y) { return log_prior[x] > log_prior[y]; });
        return {0, order[1], order[2]};
    }
    static double likeliest_late(const Mixture& m) {
        double best = -1;
        double day = 0;
        for (std::size_t c = 0; c < m.components.size(); ++c)
            if (m.components[c].since_day >= 0 && m.weights[c] > best) {
                best = m.weights[c];
                day = m.components[c].since_day;
            }
        return day;
    }

    // From what the likeliest models leave over, all units together; never under what the meter's step leaves.
    void learn_noise() {
        std::vector<double> variances;
        double squares = 0;
        double degrees = 0;
        double beside = 0; // products of neighbours
        double neighbours = 0;
        for (std::size_t i = 0; i < series_.size(); ++i) {
            const auto n = static_cast<double>(series_[i].size());
            const double k = 2 + 1; // level and drift, and what relaxation takes of a third
            if (n <= k)
                continue;
            const double left = residual_squares(series_[i], mixtures_[i].likeliest());
            variances.push_back(left / (n - k));
            beside += neighbour_products(series_[i], mixtures_[i].likeliest());
            neighbours += left * (n - 1) / n;
            squares += left;
            degrees += n - k;
        }
        const double start = first_noise();
        constexpr double start_degrees = 4;
        // With many units the middle one counts, so that a few odd ones do not speak for all.
        const double own = variances.size() > siblings_needed
                               ? std::max(median(variances), 0.5 * squares / degrees) * degrees
                               : squares;
        degrees_ = degrees + start_degrees;
        const double floor = rules_.resolution_v / std::sqrt(12.0);
        noise_ = std::max(floor, std::sqrt((start_degrees * start * start + own) / degrees_));
        // Where what is left over goes in rows, many readings say less than as many apart.
        constexpr double few = 30; // degrees of freedom from which on this is believed
        constexpr double most_alike = 0.8;
        const double alike =
            neighbours > 0 ? std::clamp(beside / neighbours * degrees / (degrees + few), 0.0, most_alike) : 0;
        rows_ = (1 + alike) / (1 - alike);
    }
    static double neighbour_products(const std::vector<Point>& series, const Component& c) {
        double out = 0;
        for (std::size_t p = 1; p < series.size(); ++p)
            out += (series[p].volts - c.row_at(series[p].day).dot(c.coefficients)) *
                   (series[p - 1].volts - c.row_at(series[p - 1].day).dot(c.coefficients));
        return out;
    }

    // What all share: relaxation, room and meter, and the drift of a sound unit.
    void fit_common() {
        constexpr double room_v = 0.15 * mv;
        constexpr double relaxation_v = 15 * mv;
        // A unit in the middle of its siblings is sound more often than not.
        constexpr double sound_share = 0.3;
        constexpr double sound_spread = 0.35;
        Priors p{sound_share * rules_.limit_v_per_day, sound_spread * rules_.limit_v_per_day, relaxation_v, 0};
        const double reading = noise_ / std::sqrt(static_cast<double>(siblings_));
        double room = room_v;
        // Warm and cool days come in rows, so that readings close together say less about the drift than as many apart.
        constexpr double row_days = 2.5;
        const double days = common_.back().day - common_.front().day;
        const double gap = days / static_cast<double>(std::max<std::size_t>(1, common_.size() - 1));
        const double alike = std::exp(-gap / row_days);
        const double rows = std::sqrt((1 + alike) / (1 - std::min(alike, 0.95)));
        Mixture m;
        for (int pass = 0; pass < 3; ++pass) {
            p.noise = std::hypot(room * rows, reading);
            m = {};
            for (const Shape& shape : shapes())
                m.components.push_back(fit(common_, shape, -1, p));
            m.weigh(std::vector<double>(shapes().size(), 0.0));
            constexpr double room_degrees = 4;
            constexpr double taken = 1.5; // what the models take of a slow room
            const double left = residual_squares(common_, m.likeliest());
            const double spare = std::max(0.0, static_cast<double>(common_.size()) - 3);
            const double apart = 1 / (rows * rows); // how many readings count as one
            room = std::sqrt((room_degrees * room_v * room_v + taken * left * apart) / (room_degrees + spare * apart));
        }
        common_mean_ = m.mean();
        common_variance_ = m.variance();
        common_mixture_ = std::move(m);
        room_noise_ = std::hypot(room * rows, reading);
    }

    // Student's for what little is known of the noise; and rounding that does not average, where a unit hardly moves
    // over the steps of the meter.
    [[nodiscard]] double widening(const std::vector<Point>& series) const {
        constexpr double share = 0.975;
        constexpr double normal = 1.959964;
        const boost::math::students_t student(std::max(2.0, degrees_));
        const double from_noise = boost::math::quantile(student, share) / normal;
        const auto n = static_cast<double>(series.size());
        const double span = noise_ < rules_.resolution_v ? moved(series) / rules_.resolution_v : n;
        constexpr double at_least = 4;
        constexpr double each_step = 3;
        return from_noise * std::sqrt(std::max(rows_, n / (at_least + each_step * span)));
    }
    [[nodiscard]] double moved(const std::vector<Point>& series) const {
        double low = 1e300;
        double high = -1e300;
        for (const Point& p : series) {
            const double volts = p.volts + (together_ ? course_[p.round] : 0);
            low = std::min(low, volts);
            high = std::max(high, volts);
        }
        return high - low;
    }

    [[nodiscard]] double next_reading(std::size_t unit, double middle, double widen) const {
        const Mixture& mixture = mixtures_[unit];
        constexpr double normal = 1.959964;
        const double last = series_[unit].back().day;
        // As long as little is known of the drift, it may well turn out farther from the limit than it seems.
        constexpr double half_of_normal = 0.6745;
        const double unsure = std::min(std::sqrt(mixture.variance() + common_variance_), rules_.limit_v_per_day);
        const double margin = std::hypot(middle - rules_.limit_v_per_day, half_of_normal * unsure);
        const auto decided = [&](double day) {
            double variance = mixture.variance_after(day, noise_);
            if (together_)
                variance += common_mixture_.variance_after(began_[unit] + day, room_noise_);
            return margin > normal * widen * std::sqrt(variance);
        };
        constexpr double soonest = 0.5;
        constexpr double latest = 30;
        double high = soonest;
        while (high < latest && !decided(last + high))
            high *= 1.25;
        high = std::min(high, latest);
        return hour_of(unit, last + high);
    }

    const LeakRules& rules_;
    const Wanted& wanted_;
    std::vector<double> round_h_;            // the first reading of each round
    std::vector<std::vector<Point>> series_; // days from each unit's own first reading
    std::vector<double> began_;              // that, in days from the first of all
    std::vector<double> course_;             // what all share, by round
    std::vector<Point> common_;
    std::size_t siblings_ = 0;
    bool together_ = false;
    double noise_ = 0, relaxation_sd_ = 0, degrees_ = 4, rows_ = 1;
    std::vector<Mixture> mixtures_;
    Mixture common_mixture_;
    double common_mean_ = 0, common_variance_ = 0, room_noise_ = 0;
};

} // namespace

std::vector<LeakResult> judge_leaks(const std::vector<RestingUnit>& units, const Chemistry& chemistry,
                                    const LeakRules& rules, const Wanted& wanted) {
    if (!(rules.limit_v_per_day > 0) || !(rules.resolution_v > 0))
        throw std::invalid_argument("judge_leaks: limit and resolution must be positive");
    std::vector<LeakResult> out(units.size());
    if (std::all_of(units.begin(), units.end(), [](const RestingUnit& u) { return u.readings.empty(); }))
        return out;
    const Shelf shelf(units, rules, wanted);
    for (std::size_t i = 0; i < units.size() && still(wanted); ++i)
        out[i] = shelf.result(i, units[i], chemistry);
    return out;
}

std::optional<double> leak_ah_per_day(const Chemistry& chemistry, double voltage_v, int cells_in_series,
                                      double v_per_day, double capacity_ah) {
    constexpr double least_slope_v = 0.1; // over the whole curve: 1 mV for 1 %
    const int cells = std::max(1, cells_in_series);
    const double slope = chemistry.ocv.slope_at(voltage_v / cells);
    if (chemistry.ocv.empty() || slope < least_slope_v)
        return std::nullopt;
    return v_per_day / cells / slope * capacity_ah;
}

Retention retention(double before_ah, double stored_ah, double recharged_ah) {
    if (!(before_ah > 0))
        throw std::invalid_argument("retention: no capacity before");
    Retention out;
    out.retention = stored_ah / before_ah;
    out.recovery = recharged_ah / before_ah;
    out.lost_for_good = 1 - out.recovery;
    out.self_discharged = out.recovery - out.retention;
    return out;
}

} // namespace ingot
