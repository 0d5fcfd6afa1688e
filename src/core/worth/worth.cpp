#include "core/worth/worth.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

constexpr std::array<const char*, route_count> route_codes{
    "repair-from-stock", "repair-from-donors", "repair-with-bought-units", "rebuild", "convert",
    "buy-new",           "buy-reconditioned",  "break-for-units"};

std::size_t at(WorthRoute route) {
    return static_cast<std::size_t>(route);
}

RouteFigures figures_of(WorthRoute route, const WorthCase& c) {
    const WorthPack& pack = c.pack;
    const WorthPrices& price = c.prices;
    const WorthHours& hours = c.hours;
    RouteFigures f;
    f.route = route;
    const auto impossible = [&](const char* why) {
        f.possible = false;
        f.obstacle = why;
    };
    const double full_wh = pack.units * pack.unit_wh;
    const double replaced = pack.units_to_replace;
    const double good = pack.units - replaced;
    const auto repair = [&](double unit_price) {
        f.parts = replaced * unit_price + price.strip_and_sundries;
        f.hours = hours.open_and_close + replaced * (hours.per_unit_replaced + hours.per_unit_tested) + hours.prove;
        f.wh = full_wh * pack.kept_share;
        if (replaced == 0)
            impossible("nothing-to-replace");
    };
    // A pack that is replaced leaves its good units, which must be taken out and tested to be worth anything.
    const auto leave_units = [&](bool opened) {
        const double hands = good * hours.per_unit_tested + (opened ? 0 : hours.open_and_close);
        const double value = good * price.stock_unit - hands * price.hour;
        f.left_over = std::max(value, 0.0) - price.recycling;
    };
    switch (route) {
    case WorthRoute::repair_from_stock:
        repair(price.stock_unit);
        if (pack.stock_at_hand < pack.units_to_replace)
            impossible("no-stock");
        break;
    case WorthRoute::repair_from_donors:
        repair(price.donor_unit);
        if (pack.donors_at_hand < pack.units_to_replace)
            impossible("no-donors");
        break;
    case WorthRoute::repair_with_bought_units:
        repair(price.bought_unit);
        if (price.bought_unit <= 0)
            impossible("no-price");
        break;
    case WorthRoute::rebuild:
        f.parts = pack.units * price.new_unit + price.strip_and_sundries;
        f.hours = hours.open_and_close + pack.units * hours.per_unit_built + hours.prove;
        f.wh = full_wh;
        leave_units(true);
        if (price.new_unit <= 0)
            impossible("no-price");
        break;
    case WorthRoute::convert:
        f.parts =
            pack.units * price.conversion_unit + price.board + price.conversion_charger + price.strip_and_sundries;
        f.hours = hours.open_and_close + pack.units * hours.per_unit_built + hours.conversion + hours.prove;
        f.wh = full_wh * c.conversion_wh_share;
        leave_units(true);
        if (price.conversion_unit <= 0)
            impossible("no-price");
        break;
    case WorthRoute::buy_new:
    case WorthRoute::buy_reconditioned:
        f.parts = route == WorthRoute::buy_new ? price.new_pack : price.reconditioned_pack;
        f.hours = hours.buying;
        f.wh = route == WorthRoute::buy_new ? full_wh : full_wh * pack.kept_share;
        leave_units(false);
        if (f.parts <= 0)
            impossible("no-price");
        break;
    case WorthRoute::break_for_units:
        f.parts = price.recycling;
        f.hours = hours.open_and_close + good * hours.per_unit_tested;
        f.wh = good * pack.unit_wh * pack.kept_share;
        if (good <= 0)
            impossible("nothing-left");
        break;
    }
    const RouteOutlook& outlook = c.outlook[at(route)];
    f.years = outlook.years;
    f.chance = outlook.chance;
    f.warranty_years = outlook.warranty_years;
    f.labour = f.hours * price.hour;
    f.cost = f.parts + f.labour - f.left_over;
    if (f.wh > 0) {
        f.cost_per_wh = f.cost / f.wh;
        f.cost_per_wh_year = f.cost / (f.wh * f.years * f.chance);
    }
    return f;
}

std::optional<WorthRoute> mark(std::vector<RouteFigures>& routes, const WorthWeights& weights) {
    double cheapest = 1e300;
    double quickest = 1e300;
    constexpr double least_cost = 1e-6; // per Wh and year: what is left over may pay for everything
    for (const RouteFigures& f : routes)
        if (f.possible) {
            cheapest = std::min(cheapest, std::max(f.cost_per_wh_year, least_cost));
            quickest = std::min(quickest, f.hours);
        }
    constexpr double an_hour = 1.0; // the difference between no time and an hour must not be infinite
    const double sum = weights.money + weights.time + weights.certainty;
    std::optional<WorthRoute> winner;
    double best = -1;
    for (RouteFigures& f : routes) {
        if (!f.possible)
            continue;
        f.money_mark = cheapest / std::max(f.cost_per_wh_year, least_cost);
        f.time_mark = (quickest + an_hour) / (f.hours + an_hour);
        f.certainty_mark = f.chance;
        f.mark =
            (weights.money * f.money_mark + weights.time * f.time_mark + weights.certainty * f.certainty_mark) / sum;
        if (f.mark > best) {
            best = f.mark;
            winner = f.route;
        }
    }
    return winner;
}

std::vector<RouteFigures> all_routes(const WorthCase& c) {
    std::vector<RouteFigures> out;
    out.reserve(route_count);
    for (int r = 0; r < route_count; ++r)
        out.push_back(figures_of(static_cast<WorthRoute>(r), c));
    return out;
}

std::optional<WorthRoute> winner_of(const WorthCase& c) {
    auto routes = all_routes(c);
    return mark(routes, c.weights);
}

double* figure(WorthCase& c, TurningPoint::Figure which, WorthRoute winner) {
    using F = TurningPoint::Figure;
    switch (which) {
    case F::hour:
        return &c.prices.hour;
    case F::bought_unit:
        return &c.prices.bought_unit;
    case F::new_unit:
        return &c.prices.new_unit;
    case F::new_pack:
        return &c.prices.new_pack;
    case F::reconditioned_pack:
        return &c.prices.reconditioned_pack;
    case F::years_of_winner:
        return &c.outlook[at(winner)].years;
    case F::chance_of_winner:
        return &c.outlook[at(winner)].chance;
    }
    return nullptr;
}

// The nearest factor, up or down, at which another route wins.
std::vector<TurningPoint> turning_points(const WorthCase& c, WorthRoute winner) {
    constexpr double farthest = 4;
    constexpr int steps = 160;
    std::vector<TurningPoint> out;
    for (int k = 0; k <= static_cast<int>(TurningPoint::Figure::chance_of_winner); ++k) {
        const auto which = static_cast<TurningPoint::Figure>(k);
        std::optional<TurningPoint> nearest;
        for (const double side : {1.0, -1.0})
            for (int i = 1; i <= steps; ++i) {
                const double factor = std::pow(farthest, side * i / steps);
                WorthCase changed = c;
                double* value = figure(changed, which, winner);
                if (*value <= 0)
                    break;
                *value *= factor;
                if (which == TurningPoint::Figure::chance_of_winner && *value > 1)
                    break;
                const auto now = winner_of(changed);
                if (!now || *now == winner)
                    continue;
                if (!nearest || std::fabs(std::log(factor)) < std::fabs(std::log(nearest->factor)))
                    nearest = TurningPoint{which, factor, *value, *now};
                break;
            }
        if (nearest)
            out.push_back(*nearest);
    }
    std::stable_sort(out.begin(), out.end(), [](const TurningPoint& a, const TurningPoint& b) {
        return std::fabs(std::log(a.factor)) < std::fabs(std::log(b.factor));
    });
    constexpr std::size_t most = 3;
    if (out.size() > most)
        out.resize(most);
    return out;
}

Problem objection(Sentence sentence) {
    return Problem{"", 0, std::move(sentence)};
}

} // namespace

const char* code(WorthRoute route) {
    return route_codes[at(route)];
}
std::optional<WorthRoute> route_from(const std::string& code) {
    for (std::size_t i = 0; i < route_codes.size(); ++i)
        if (code == route_codes[i])
            return static_cast<WorthRoute>(i);
    return std::nullopt;
}
const char* code(TurningPoint::Figure figure) {
    constexpr std::array<const char*, 7> codes{
        "hour", "bought-unit", "new-unit", "new-pack", "reconditioned-pack", "years-of-winner", "chance-of-winner"};
    return codes[static_cast<std::size_t>(figure)];
}

Result<WorthResult> weigh_routes(const WorthCase& c) {
    if (c.pack.units < 1)
        return objection(said("the pack has no units. Give at least one."));
    if (c.pack.units_to_replace < 0 || c.pack.units_to_replace > c.pack.units)
        return objection(said("more units are to be replaced than the pack has. Correct one of the two."));
    if (!(c.pack.unit_wh > 0))
        return objection(
            said("a unit's energy must be more than nothing. Give capacity times nominal voltage, in Wh."));
    if (!(c.pack.kept_share > 0 && c.pack.kept_share <= 1))
        return objection(said("the share of energy that a repaired pack holds must lie over 0 and up to 1."));
    if (!(c.conversion_wh_share > 0))
        return objection(said("the share of energy after converting must be more than nothing."));
    const auto& p = c.prices;
    for (const double price :
         {p.hour, p.bought_unit, p.stock_unit, p.donor_unit, p.new_unit, p.board, p.strip_and_sundries, p.new_pack,
          p.reconditioned_pack, p.conversion_unit, p.conversion_charger})
        if (!(price >= 0) || !std::isfinite(price))
            return objection(said("a price is negative. Only recycling may pay."));
    const auto& h = c.hours;
    for (const double hours :
         {h.open_and_close, h.per_unit_replaced, h.per_unit_tested, h.prove, h.per_unit_built, h.conversion, h.buying})
        if (!(hours >= 0) || !std::isfinite(hours))
            return objection(said("a number of hours is negative."));
    for (const RouteOutlook& o : c.outlook)
        if (!(o.years > 0) || !(o.chance > 0 && o.chance <= 1) || !(o.warranty_years >= 0))
            return objection(said("years must be more than nothing, a chance over 0 and up to 1."));
    if (c.weights.money < 0 || c.weights.time < 0 || c.weights.certainty < 0 ||
        !(c.weights.money + c.weights.time + c.weights.certainty > 0))
        return objection(said("the weights of money, time and certainty must not be negative, nor all nothing."));
    WorthResult out;
    out.routes = all_routes(c);
    out.winner = mark(out.routes, c.weights);

    const RouteFigures& bought = out.routes[at(WorthRoute::repair_with_bought_units)];
    double best_other = 1e300;
    for (const RouteFigures& f : out.routes)
        if (f.possible && f.route != bought.route && f.route != WorthRoute::break_for_units)
            best_other = std::min(best_other, f.cost_per_wh_year);
    if (c.pack.units_to_replace > 0 && best_other < 1e300) {
        const double may_cost = best_other * bought.wh * bought.years * bought.chance;
        const double without = bought.cost - c.pack.units_to_replace * c.prices.bought_unit;
        const double even = (may_cost - without) / c.pack.units_to_replace;
        if (even > 0)
            out.break_even_unit = even;
    }
    if (out.winner)
        out.turning_points = turning_points(c, *out.winner);
    return out;
}

} // namespace ingot
