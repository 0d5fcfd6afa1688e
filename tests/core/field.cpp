// A pack in the field: by hand, and on packs whose leaks are known, read at whatever charge they came back with.
#include "core/prove/field.h"
#include "core/cells/random.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>

using namespace ingot;

namespace {

// A sloping curve of the usual shape: steeper below, flatter in the middle, steeper above. Invented.
Chemistry sloping() {
    Chemistry c;
    c.ocv = OcvCurve({0, 0.05, 0.2, 0.4, 0.6, 0.8, 1.0}, {3.0, 3.38, 3.55, 3.65, 3.80, 3.98, 4.18});
    return c;
}

FieldRound field_round(double day, std::vector<double> volts) {
    FieldRound out;
    out.day = day;
    out.resolution = 0.001;
    for (const double v : volts)
        out.group_v.emplace_back(v);
    return out;
}

double field_normal(Random& random) {
    return std::sqrt(-2 * std::log(std::max(1e-12, random.unit()))) * std::cos(2 * 3.141592653589793 * random.unit());
}

// A pack of which everything is known: shares of charge by which each group is off at first, and loses a day.
struct TruePack {
    std::vector<double> off, loss_per_day;
    double capacity_mismatch = 0;

    FieldRound read(double day, Random& random, const Chemistry& chemistry, const std::vector<double>& size) const {
        const double charge = 0.45 + 0.45 * random.unit();
        std::vector<double> volts;
        for (std::size_t g = 0; g < off.size(); ++g) {
            // What went out of a smaller group is a larger share of it.
            const double soc = 1 - (1 - charge) / size[g] + off[g] - loss_per_day[g] * day;
            const double v = chemistry.ocv.ocv_at(std::clamp(soc, 0.02, 0.999)) + 0.0005 * field_normal(random);
            volts.push_back(std::round(v * 1000) / 1000);
        }
        return field_round(day, volts);
    }
};

} // namespace

TEST_CASE(
    "In the field: one round says where groups stand, two where they go, and nothing is said of what nobody read") {
    const Chemistry c = sloping();
    CHECK(follow_field({}, c, 1, 100).state == FieldState::unread);
    CHECK(follow_field({}, c, 1, 100).next_day == 107);
    // 3.70 V: the curve rises 0.75 V over the whole charge there. 7.5 mV are 1 %.
    const auto one = follow_field({field_round(110, {3.700, 3.700, 3.6925, 3.700})}, c, 1, 100);
    CHECK(one.state == FieldState::first);
    CHECK(*one.points[0].spread_share == Approx(0.01));
    CHECK(*one.groups[2].now == Approx(-0.01));
    CHECK_FALSE(one.groups[2].per_day);
    CHECK_FALSE(one.balance_day);
    CHECK(one.next_day == 130); // ten days in service: twenty more
    CHECK(follow_field({field_round(110, {3.700, 3.700, 3.670, 3.700})}, c, 1, 100).state == FieldState::balance_now);
    // Group 3 loses 1 % in 20 days; from 2 % to 3 % it takes 20 more.
    const auto two = follow_field(
        {field_round(110, {3.700, 3.700, 3.6925, 3.700}), field_round(130, {3.700, 3.700, 3.685, 3.700})}, c, 1, 100);
    CHECK(*two.groups[2].per_day == Approx(-0.0005));
    CHECK(*two.balance_day == Approx(150));
    CHECK(*two.earliest_day < 150);
    CHECK((!two.latest_day || *two.latest_day > 150));
    // The same in blocks of two cells, in their volts.
    const auto blocks = follow_field(
        {field_round(110, {7.400, 7.400, 7.385, 7.400}), field_round(130, {7.400, 7.400, 7.370, 7.400})}, c, 2, 100);
    CHECK(*blocks.balance_day == Approx(150));
    // A group that was not read is not counted; a flat curve says nothing.
    FieldRound hole = field_round(110, {3.700, 3.700, 3.690});
    hole.group_v[1].reset();
    CHECK_FALSE(follow_field({hole}, c, 1, 100).groups[1].now);
    Chemistry flat;
    flat.ocv = OcvCurve({0, 0.1, 0.9, 1}, {2.8, 3.25, 3.31, 3.45});
    const auto told = follow_field({field_round(110, {3.29, 3.28, 3.29})}, flat, 1, 100);
    CHECK(told.state == FieldState::not_told);
    CHECK(*told.points[0].spread_v == Approx(0.010));
    CHECK_THROWS(follow_field({field_round(2, {3.7}), field_round(1, {3.7})}, c, 1, 0));
    CHECK_THROWS(follow_field({field_round(2, {3.7})}, c, 0, 0));
}

TEST_CASE("In the field: what all groups share is no drift, and the order of groups does not matter") {
    const Chemistry c = sloping();
    std::vector<FieldRound> rounds{field_round(10, {3.70, 3.71, 3.69, 3.70}), field_round(30, {3.70, 3.71, 3.68, 3.70}),
                                   field_round(70, {3.70, 3.71, 3.66, 3.70})};
    const auto before = follow_field(rounds, c, 1, 0);
    auto turned = rounds;
    for (FieldRound& r : turned)
        std::reverse(r.group_v.begin(), r.group_v.end());
    const auto after = follow_field(turned, c, 1, 0);
    CHECK(*after.groups[1].per_day == Approx(*before.groups[2].per_day));
    CHECK(after.state == before.state);
    CHECK(*after.lowest == 1);
    // Later by a year, it is the same story a year later.
    auto later = rounds;
    for (FieldRound& r : later)
        r.day += 365;
    CHECK(*follow_field(later, c, 1, 365).balance_day == Approx(*before.balance_day + 365));
}

TEST_CASE(
    "In the field: leaking groups of known packs are found, sound ones left alone, and the balance day is bracketed") {
    const Chemistry c = sloping();
    // Two populations: groups of one size, and groups that differ by 1 % (1 sigma), whose offsets change with the
    // charge a pack comes back with: not in the model that is fitted.
    for (const double mismatch : {0.0, 0.01}) {
        Random random(mismatch > 0 ? 71 : 70);
        int leakers = 0, found = 0, sound = 0, alarms = 0, slopes = 0, covered = 0, days = 0, bracketed = 0;
        for (int p = 0; p < 400; ++p) {
            const int series = 4 + static_cast<int>(random.unit() * 11);
            TruePack pack;
            std::vector<double> size;
            for (int g = 0; g < series; ++g) {
                pack.off.push_back(0.003 * field_normal(random));
                pack.loss_per_day.push_back(0.002 / 30 * std::exp(0.5 * field_normal(random)));
                size.push_back(1 + mismatch * field_normal(random));
            }
            const bool leaks = random.unit() < 0.4;
            if (leaks)
                pack.loss_per_day[static_cast<std::size_t>(random.unit() * series)] =
                    (0.05 + 0.05 * random.unit()) / 30;
            std::vector<FieldRound> rounds;
            for (const double day : {7.0, 21.0, 42.0, 63.0, 84.0})
                rounds.push_back(pack.read(day, random, c, size));
            const FieldTrend trend = follow_field(rounds, c, 1, 0);
            (leaks ? leakers : sound) += 1;
            (leaks ? found : alarms) += trend.state == FieldState::going_apart ? 1 : 0;
            std::vector<double> losses = pack.loss_per_day;
            std::nth_element(losses.begin(), losses.begin() + series / 2, losses.end());
            for (std::size_t g = 0; g < pack.off.size(); ++g) {
                ++slopes;
                covered += std::fabs(*trend.groups[g].per_day - (losses[static_cast<std::size_t>(series) / 2] -
                                                                 pack.loss_per_day[g])) <= *trend.groups[g].error
                               ? 1
                               : 0;
            }
            // When highest and lowest truly stand 3 % apart.
            double truly = 1e9;
            for (std::size_t i = 0; i < pack.off.size(); ++i)
                for (std::size_t j = 0; j < pack.off.size(); ++j) {
                    const double apart = pack.off[i] - pack.off[j];
                    const double pace = pack.loss_per_day[j] - pack.loss_per_day[i];
                    if (pace > 0)
                        truly = std::min(truly, (0.03 - apart) / pace);
                }
            if (truly > 84 && truly < 365) {
                ++days;
                bracketed += trend.earliest_day && *trend.earliest_day <= truly &&
                                     (!trend.latest_day || *trend.latest_day >= truly)
                                 ? 1
                                 : 0;
            }
        }
        CAPTURE(mismatch, leakers, found, sound, alarms, slopes, covered, days, bracketed);
        CHECK(found >= 0.95 * leakers);
        CHECK(alarms <= 0.02 * sound);
        CHECK(covered >= (mismatch > 0 ? 0.90 : 0.93) * slopes);
        CHECK(bracketed >= 0.90 * days);
        CHECK(days > 30);
        WARN("field: mismatch " << mismatch << ": leakers found " << found << " of " << leakers << ", alarms " << alarms
                                << " of " << sound << ", slopes covered " << static_cast<double>(covered) / slopes
                                << ", balance day bracketed " << bracketed << " of " << days);
    }
}
