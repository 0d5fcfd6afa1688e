#include "core/measure/conditioning.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace ingot {

namespace {

// Everything below is in shares of the rated capacity, so that one set of priors serves every unit.
constexpr double usual_bar_share = 0.77; // of rated, where rated is not known
constexpr std::array rates{0.04, 0.07, 0.11, 0.17, 0.25, 0.36, 0.5, 0.7, 1.0, 1.5};
constexpr std::array rate_priors{0.02, 0.04, 0.08, 0.12, 0.14, 0.14, 0.14, 0.12, 0.12, 0.08};
constexpr std::array noises{0.002, 0.004, 0.007, 0.012, 0.02, 0.035};
constexpr std::array noise_priors{0.10, 0.22, 0.28, 0.22, 0.12, 0.06};
constexpr std::array second_rates{0.2, 0.6};
constexpr double level_mean = 0.75;
constexpr double level_sigma = 0.30;
constexpr double climb_mean = 0.12; // L - C1
constexpr double climb_sigma = 0.25;
constexpr double second_mean = 0.08;
constexpr double second_sigma = 0.08;
constexpr double second_prior = 0.15;     // that a second climb lies among the cycles seen
constexpr double over_rated_sigma = 0.05; // the level is no more than a little over rated
constexpr double cut_short_factor = 12;   // noise of a cycle that a limit ended
constexpr double student_freedom = 4;
constexpr int weighing_rounds = 3;
constexpr int bins = 260; // of the level, 0 to 1.3 of rated
constexpr double bin_share = 1.3 / bins;
// The doubt: how probable a further climb is for a unit that has stood still for m cycles, and how large that climb is.
// Of those that will climb again, stand-stills of 2 to 8 cycles are equally usual, so each that passes speaks against.
constexpr double doubt_at_first = 0.40;
constexpr double shortest_still = 2;
constexpr double longest_still = 8;
constexpr double doubt_size = 0.10;    // of rated; larger climbs are rare
constexpr double patience = 14;        // cycles that anybody would still run
constexpr double not_held = 0.15;      // of those that were sure to reach it: they fall, or the meter erred
constexpr int a_set = 3;               // cycles that are run at a time by habit
constexpr double set_gain = 0.02;      // what still gained this in its last set is not given up
constexpr double set_reach = 0.30;     // unless it lacks more than this of the bar
constexpr double not_given_up = 0.08;  // the probability it then keeps at least
constexpr double fall_a_cycle = 0.005; // of rated
constexpr double fall_sigmas = 2.5;
constexpr double fall_in_all = 0.02;
constexpr double fall_at_once = 0.03;
constexpr double chance_only = 0.10;
// Cycles stand still when they creep by no more than this a cycle, of rated, and scatter no more than so many sigmas.
constexpr double still_creep = 0.004;
constexpr double still_sigmas = 3.0;
constexpr double may_fall_sigmas = 1.5;
constexpr double fall_looks_ahead = 5; // cycles
constexpr double z95 = 1.959963985;

double normal_cdf(double z) {
    return 0.5 * std::erfc(-z / std::sqrt(2.0));
}

struct Point {
    double n = 0; // cycle, the first is 1
    double y = 0;
    double widen = 1; // factor on the noise
    bool full = true;
};

// Linear-Gaussian model with up to three coefficients: level before the second climb, first climb, second climb.
struct Component {
    double rate = 0, noise = 0, second_at = 0, second_rate = 0;
    bool second = false;
    double log_weight = 0; // while it is fitted
    double weight = 0;     // among all, once all are
    std::array<double, 3> mean{};
    std::array<std::array<double, 3>, 3> cov{};

    [[nodiscard]] std::array<double, 3> basis(double n) const {
        return {1.0, -std::exp(-rate * (n - 1)),
                second && n > second_at ? 1 - std::exp(-second_rate * (n - second_at)) : 0.0};
    }
    [[nodiscard]] double at(double n) const {
        const auto b = basis(n);
        return b[0] * mean[0] + b[1] * mean[1] + b[2] * mean[2];
    }
    [[nodiscard]] double variance(const std::array<double, 3>& b) const {
        double v = 0;
        for (std::size_t i = 0; i < 3; ++i)
            for (std::size_t j = 0; j < 3; ++j)
                v += b[i] * b[j] * cov[i][j];
        return std::max(v, 0.0);
    }
    [[nodiscard]] double level() const { return mean[0] + (second ? mean[2] : 0); }
    [[nodiscard]] double level_variance() const { return variance({1, 0, second ? 1.0 : 0.0}); }
};

// One observation at a time (a Kalman filter without motion): prior and evidence come out exactly.
void fit(Component& c, const std::vector<Point>& points) {
    c.mean = {level_mean, climb_mean, c.second ? second_mean : 0};
    c.cov = {};
    c.cov[0][0] = level_sigma * level_sigma;
    c.cov[1][1] = climb_sigma * climb_sigma;
    c.cov[2][2] = c.second ? second_sigma * second_sigma : 0;
    for (const Point& p : points) {
        const auto b = c.basis(p.n);
        const double noise = c.noise * p.widen;
        std::array<double, 3> gain{};
        for (std::size_t i = 0; i < 3; ++i)
            for (std::size_t j = 0; j < 3; ++j)
                gain[i] += c.cov[i][j] * b[j];
        double s = noise * noise;
        for (std::size_t i = 0; i < 3; ++i)
            s += b[i] * gain[i];
        const double residual = p.y - (b[0] * c.mean[0] + b[1] * c.mean[1] + b[2] * c.mean[2]);
        c.log_weight -= 0.5 * (residual * residual / s + std::log(s));
        for (std::size_t i = 0; i < 3; ++i) {
            c.mean[i] += gain[i] * residual / s;
            for (std::size_t j = 0; j < 3; ++j)
                c.cov[i][j] -= gain[i] * gain[j] / s;
        }
    }
}

// The cycles after which a second climb may have begun: it needs a first one and a stand-still, and a cycle that shows
// it. As many as were counted, however they are numbered (K13).
std::vector<double> where_it_may_climb_again(const std::vector<Point>& points) {
    constexpr double earliest = 3;
    constexpr std::size_t most = 24; // the latest: an old climb is the level by now
    std::vector<double> out;
    for (const Point& p : points)
        if (p.n >= earliest && p.n < points.back().n && (out.empty() || p.n > out.back()))
            out.push_back(p.n);
    if (out.size() > most)
        out.erase(out.begin(), out.end() - most);
    return out;
}

std::vector<Component> fit_all(const std::vector<Point>& points) {
    std::vector<Component> all;
    const std::vector<double> second_starts = where_it_may_climb_again(points);
    const auto starts = static_cast<double>(second_starts.size());
    all.reserve(rates.size() * noises.size() * (1 + second_rates.size() * second_starts.size()));
    for (std::size_t r = 0; r < rates.size(); ++r)
        for (std::size_t s = 0; s < noises.size(); ++s) {
            const double rate = rates[r];
            Component c;
            c.rate = rate;
            c.noise = noises[s];
            const double prior = std::log(noise_priors[s] * rate_priors[r]);
            c.log_weight = prior + std::log(starts > 0 ? 1 - second_prior : 1.0);
            fit(c, points);
            all.push_back(c);
            for (const double at : second_starts)
                for (const double second_rate : second_rates) {
                    Component d;
                    d.rate = rate;
                    d.noise = noises[s];
                    d.second = true;
                    d.second_at = at;
                    d.second_rate = second_rate;
                    d.log_weight = prior + std::log(second_prior / (starts * static_cast<double>(second_rates.size())));
                    fit(d, points);
                    if (d.mean[2] > 0) // a climb
                        all.push_back(d);
                }
        }
    double best = all.front().log_weight;
    for (const Component& c : all)
        best = std::max(best, c.log_weight);
    double sum = 0;
    for (Component& c : all)
        sum += c.weight = std::exp(c.log_weight - best);
    for (Component& c : all)
        c.weight /= sum;
    std::erase_if(all, [](const Component& c) { return c.weight < 1e-6; });
    return all;
}

// What the unit is measured as now and then, over all components.
struct Mixture {
    std::vector<Component> components;

    [[nodiscard]] double mean_at(double n) const {
        double m = 0;
        for (const Component& c : components)
            m += c.weight * c.at(n);
        return m;
    }
    [[nodiscard]] double sigma_at(double n) const {
        const double m = mean_at(n);
        double v = 0;
        for (const Component& c : components)
            v += c.weight * (c.variance(c.basis(n)) + (c.at(n) - m) * (c.at(n) - m));
        return std::sqrt(v);
    }
    [[nodiscard]] double over(double bar, double n) const {
        double p = 0;
        for (const Component& c : components) {
            const double sigma = std::sqrt(c.variance(c.basis(n))) + 1e-9;
            p += c.weight * normal_cdf((c.at(n) - bar) / sigma);
        }
        return p;
    }
    [[nodiscard]] double noise() const {
        double m = 0;
        for (const Component& c : components)
            m += c.weight * c.noise;
        return m;
    }
};

// Cycles that fit nothing weigh little: weights of a Student distribution, found in a few rounds.
Mixture fit_robustly(std::vector<Point>& points, std::vector<double>& weight) {
    Mixture mixture;
    weight.assign(points.size(), 1);
    for (std::size_t i = 0; i < points.size(); ++i)
        points[i].widen = points[i].full ? 1 : cut_short_factor;
    for (int round = 0; round < weighing_rounds; ++round) {
        mixture.components = fit_all(points);
        if (points.size() < 4)
            break;
        const double usual = std::max(mixture.noise(), noises[2]);
        for (std::size_t i = 0; i < points.size(); ++i) {
            if (!points[i].full)
                continue;
            const double z = (points[i].y - mixture.mean_at(points[i].n)) / usual;
            weight[i] = std::min(1.0, (student_freedom + 1) / (student_freedom + z * z));
            points[i].widen = 1 / std::sqrt(weight[i]);
        }
    }
    for (std::size_t i = 0; i < points.size(); ++i)
        if (!points[i].full)
            weight[i] = 1 / (cut_short_factor * cut_short_factor);
    return mixture;
}

std::vector<double> level_histogram(const Mixture& mixture) {
    std::vector<double> mass(bins, 0.0);
    for (const Component& c : mixture.components) {
        const double sigma = std::sqrt(c.level_variance()) + 1e-6;
        double before = normal_cdf((0 - c.level()) / sigma);
        for (int b = 0; b < bins; ++b) {
            const double upper = (b + 1) * bin_share;
            const double now = normal_cdf((upper - c.level()) / sigma);
            const double over = std::max(0.0, (upper - bin_share / 2 - 1) / over_rated_sigma);
            mass[static_cast<std::size_t>(b)] += c.weight * (now - before) * std::exp(-0.5 * over * over);
            before = now;
        }
    }
    const double sum = std::accumulate(mass.begin(), mass.end(), 0.0);
    if (sum > 0)
        for (double& m : mass)
            m /= sum;
    return mass;
}

double quantile_of_mass(const std::vector<double>& mass, double share) {
    double sum = 0;
    for (std::size_t b = 0; b < mass.size(); ++b) {
        if (sum + mass[b] >= share)
            return (static_cast<double>(b) + (mass[b] > 0 ? (share - sum) / mass[b] : 0)) * bin_share;
        sum += mass[b];
    }
    return static_cast<double>(bins) * bin_share;
}

// Full cycles only.
struct Recent {
    int full = 0;
    double last = 0, best_before = 0;
    double stood_still = 0; // cycles since the last real gain
    double gain_of_set = 0; // smoothed, over the last set
    double fall = 0;        // slope a cycle, negative = falls
    double fall_error = 0;
    double fallen = 0;   // from the best to the better of the last two
    double may_fall = 0; // slope over the last three where it is probably negative
};

Recent look_back(const std::vector<Point>& points, const std::vector<double>& weight, double noise) {
    Recent r;
    std::vector<Point> full;
    for (std::size_t i = 0; i < points.size(); ++i)
        if (points[i].full && (weight[i] > 0.3 || i + 1 == points.size()))
            full.push_back(points[i]);
    r.full = static_cast<int>(full.size());
    if (full.empty())
        return r;
    r.last = full.back().y;
    double low = full.back().y;
    double high = low;
    for (std::size_t i = full.size(); i-- > 0;) {
        low = std::min(low, full[i].y);
        high = std::max(high, full[i].y);
        if (high - low > still_creep * (full.back().n - full[i].n) + still_sigmas * noise)
            break;
        r.stood_still = full.back().n - full[i].n;
    }
    for (std::size_t i = 0; i + 1 < full.size(); ++i)
        r.best_before = std::max(r.best_before, full[i].y);
    // Slopes over the last cycles, by least squares.
    const auto slope = [&](std::size_t count, double& error) {
        const std::size_t from = full.size() - count;
        double mn = 0;
        double my = 0;
        for (std::size_t i = from; i < full.size(); ++i) {
            mn += full[i].n / static_cast<double>(count);
            my += full[i].y / static_cast<double>(count);
        }
        double sxx = 0;
        double sxy = 0;
        for (std::size_t i = from; i < full.size(); ++i) {
            sxx += (full[i].n - mn) * (full[i].n - mn);
            sxy += (full[i].n - mn) * (full[i].y - my);
        }
        error = sxx > 0 ? noise / std::sqrt(sxx) : 0;
        return sxx > 0 ? sxy / sxx : 0;
    };
    double ignored = 0;
    if (full.size() > a_set)
        r.gain_of_set = slope(a_set + 1, ignored) * a_set;
    else if (full.size() >= 2)
        r.gain_of_set = slope(full.size(), ignored) * a_set;
    // The fall counts over the span at which it is plainest.
    for (std::size_t count = 3; count <= std::min<std::size_t>(full.size(), 6); ++count) {
        double error = 0;
        const double s = slope(count, error);
        if (error > 0 && s < 0 && (r.fall_error == 0 || s / error < r.fall / r.fall_error)) {
            r.fall = s;
            r.fall_error = error;
        }
    }
    // Both of the last two must be lower: one low cycle may be spoiled.
    if (full.size() >= 3) {
        double best = 0;
        for (std::size_t i = 0; i + 2 < full.size(); ++i)
            best = std::max(best, full[i].y);
        r.fallen = best - std::max(full.back().y, full[full.size() - 2].y);
        double error = 0;
        const double s = slope(3, error);
        r.may_fall = s < -may_fall_sigmas * error ? s : 0;
    }
    return r;
}

ConditioningVerdict old_hands(const std::vector<Point>& points, double bar, double least_gain) {
    std::vector<double> full;
    for (const Point& p : points)
        if (p.full)
            full.push_back(p.y);
    if (full.empty())
        return ConditioningVerdict::keep_cycling;
    if (full.back() >= bar)
        return ConditioningVerdict::fit;
    if (full.size() <= 3)
        return ConditioningVerdict::keep_cycling;
    const double best = *std::max_element(full.begin(), full.end() - 3);
    const double since = *std::max_element(full.end() - 3, full.end());
    return since < best * (1 + least_gain) ? ConditioningVerdict::replace : ConditioningVerdict::keep_cycling;
}

double doubt_after(double stood_still) {
    const double stand_longer =
        std::clamp((longest_still + 1 - stood_still) / (longest_still + 1 - shortest_still), 0.0, 1.0);
    return doubt_at_first * stand_longer / (1 - doubt_at_first + doubt_at_first * stand_longer);
}

// One module's cycles in shares of its rating, the levels that fit them, and what follows.
class Judgement {
public:
    Judgement(const std::vector<ConditioningCycle>& cycles, const ConditioningRules& rules, double scale)
        : rules_(rules), scale_(scale), bar_(rules.bar_ah / scale), first_(cycles.front().number) {
        points_.reserve(cycles.size());
        for (const ConditioningCycle& c : cycles)
            points_.push_back({static_cast<double>(c.number - first_ + 1), c.capacity_ah / scale, 1, c.full});
    }

    ConditioningResult result() {
        const Mixture mixture = fit_robustly(points_, out_.weight);
        recent_ = look_back(points_, out_.weight, mixture.noise());
        out_.rule_of_thumb = old_hands(points_, bar_, rules_.rule_of_thumb_gain);
        levels(mixture);
        chances(mixture);
        curve(mixture);
        decide(mixture);
        if (out_.verdict == ConditioningVerdict::keep_cycling)
            out_.cycles_to_run = cycles_to_run(mixture);
        return std::move(out_);
    }

private:
    [[nodiscard]] double now() const { return points_.back().n; }

    void levels(const Mixture& mixture) {
        mass_ = level_histogram(mixture);
        out_.noise_ah = mixture.noise() * scale_;
        out_.level_ah = quantile_of_mass(mass_, 0.5) * scale_;
        out_.level_low_ah = quantile_of_mass(mass_, 0.025) * scale_;
        out_.level_high_ah = quantile_of_mass(mass_, 0.975) * scale_;
    }

    void chances(const Mixture& mixture) {
        doubt_ = doubt_after(recent_.stood_still);
        double settles_over = 0;
        double climbs_again = 0;
        for (int b = 0; b < bins; ++b) {
            const double lacks = bar_ - (b + 0.5) * bin_share;
            const double here = mass_[static_cast<std::size_t>(b)];
            settles_over += lacks <= 0 ? here : 0;
            climbs_again += lacks > 0 ? here * doubt_ * std::exp(-lacks * lacks / (doubt_size * doubt_size)) : 0;
        }
        const double over_now = mixture.over(bar_, now());
        // A level that it would take dozens of cycles to reach is no hope.
        reaches_ = std::min(settles_over, std::max(mixture.over(bar_, now() + patience), over_now)) + climbs_again;
        still_gains_ = recent_.gain_of_set >= set_gain * bar_ && recent_.full >= 2;
        if (still_gains_ && bar_ - recent_.last < set_reach * bar_)
            reaches_ = std::max(reaches_, not_given_up);
        out_.pass_within_3 = std::min(reaches_, std::max(mixture.over(bar_, now() + 3), over_now));
        out_.pass_within_5 =
            std::clamp(mixture.over(bar_, now() + 5), out_.pass_within_3, std::max(reaches_, out_.pass_within_3));
    }

    void curve(const Mixture& mixture) {
        constexpr int ahead = 6;
        constexpr int most_drawn = 120;
        const int last = static_cast<int>(now()) + ahead;
        const int step = 1 + last / most_drawn;
        out_.curve.reserve(static_cast<std::size_t>(last / step) + 1);
        for (int n = 1; n <= last; n += step) {
            const double middle = mixture.mean_at(n);
            // Beyond the last cycle the doubt grows with the horizon.
            const double beyond = std::max(0.0, n - now()) * doubt_ * doubt_size;
            const double half = z95 * mixture.sigma_at(n);
            out_.curve.push_back({static_cast<double>(n + first_ - 1), middle * scale_,
                                  std::max(0.0, middle - half) * scale_, (middle + half + beyond) * scale_});
        }
    }

    void decide(const Mixture& mixture) {
        const double noise = mixture.noise();
        const bool falls = recent_.fall < -fall_a_cycle && recent_.fall < -fall_sigmas * recent_.fall_error &&
                           recent_.fallen > std::max(fall_in_all, 2 * noise);
        const bool lost_much =
            recent_.full >= 2 && recent_.best_before - recent_.last > std::max(fall_at_once, 3 * noise);
        const bool heads_under = recent_.may_fall < 0 && recent_.last + fall_looks_ahead * recent_.may_fall < bar_;
        const bool may_fall = !falls && (lost_much || heads_under);
        const bool over_last = recent_.full > 0 && recent_.last >= bar_;
        using V = ConditioningVerdict;
        using R = ConditioningReason;
        const auto say = [this](V verdict, R reason) {
            out_.verdict = verdict;
            out_.reason = reason;
        };
        if (falls) {
            say(V::replace, R::falls);
            reaches_ = std::min(reaches_, rules_.give_up_below / 2);
        } else if (over_last && may_fall) {
            say(V::keep_cycling, R::may_fall);
        } else if (over_last && recent_.full >= 3 && mixture.over(bar_, now()) < chance_only) {
            say(V::keep_cycling, R::by_chance);
        } else if (over_last) {
            say(V::fit, R::at_the_bar);
            reaches_ = 1;
        } else if (!points_.back().full && recent_.full < 2) {
            say(V::keep_cycling, R::last_cut_short);
        } else if (reaches_ < rules_.give_up_below) {
            say(lost_much ? V::keep_cycling : V::replace, lost_much ? R::may_fall : R::too_far);
        } else {
            say(V::keep_cycling, still_gains_ ? R::climbs : R::stood_still_doubt);
        }
        out_.pass_probability = reaches_;
        if (out_.verdict == V::keep_cycling)
            for (double* stated : {&out_.pass_probability, &out_.pass_within_3, &out_.pass_within_5})
                *stated *= 1 - not_held * reaches_;
    }

    [[nodiscard]] int cycles_to_run(const Mixture& mixture) const {
        using R = ConditioningReason;
        if (out_.reason == R::may_fall || out_.reason == R::by_chance || out_.reason == R::last_cut_short)
            return 1;
        int run = std::min(a_set, rules_.most_cycles_at_a_time);
        if (out_.reason == R::stood_still_doubt) // until the doubt has gone
            run = std::clamp(static_cast<int>(std::ceil(longest_still + 1 - recent_.stood_still)), 1, run);
        for (int n = 1; n <= rules_.most_cycles_at_a_time; ++n)
            if (mixture.over(bar_, now() + n) >= 0.5)
                return n;
        return std::max(1, run);
    }

    const ConditioningRules& rules_;
    double scale_, bar_;
    int first_;
    std::vector<Point> points_;
    Recent recent_;
    std::vector<double> mass_;
    double doubt_ = 0, reaches_ = 0;
    bool still_gains_ = false;
    ConditioningResult out_;
};

} // namespace

const char* code(ConditioningVerdict verdict) {
    switch (verdict) {
    case ConditioningVerdict::fit:
        return "fit";
    case ConditioningVerdict::replace:
        return "replace";
    case ConditioningVerdict::keep_cycling:
        break;
    }
    return "keep-cycling";
}

const char* code(ConditioningReason reason) {
    switch (reason) {
    case ConditioningReason::no_cycle:
        return "no-cycle";
    case ConditioningReason::at_the_bar:
        return "at-the-bar";
    case ConditioningReason::by_chance:
        return "by-chance";
    case ConditioningReason::falls:
        return "falls";
    case ConditioningReason::may_fall:
        return "may-fall";
    case ConditioningReason::too_far:
        return "too-far";
    case ConditioningReason::climbs:
        return "climbs";
    case ConditioningReason::stood_still_doubt:
        return "stood-still";
    case ConditioningReason::last_cut_short:
        return "last-cut-short";
    }
    return "";
}

ConditioningResult judge_conditioning(std::vector<ConditioningCycle> cycles, const ConditioningRules& rules) {
    if (cycles.empty() || rules.bar_ah <= 0) {
        ConditioningResult result;
        result.cycles_to_run = a_set;
        return result;
    }
    std::stable_sort(cycles.begin(), cycles.end(),
                     [](const ConditioningCycle& a, const ConditioningCycle& b) { return a.number < b.number; });
    double scale = rules.rated_ah.value_or(rules.bar_ah / usual_bar_share);
    for (const ConditioningCycle& c : cycles) // a rating that the unit itself exceeds was wrong
        if (c.full)
            scale = std::max(scale, c.capacity_ah / 1.1);
    return Judgement(cycles, rules, scale).result();
}

} // namespace ingot
