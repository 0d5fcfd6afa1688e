#include "core/worth/worth.h"

#include "core/measure/statistics.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace ingot {

namespace {

constexpr std::array<const char*, route_count> route_codes{"repair-from-stock",
                                                           "repair-from-donors",
                                                           "repair-with-bought-units",
                                                           "rebuild",
                                                           "rebuild-other-size",
                                                           "convert",
                                                           "buy-new",
                                                           "buy-other-size",
                                                           "buy-reconditioned",
                                                           "other-kind-as-donor",
                                                           "adapter",
                                                           "whole-device",
                                                           "break-for-units",
                                                           "recycle"};
constexpr std::array<const char*, 3> part_codes{"none", "old", "new"};

std::size_t at(WorthRoute route) {
    return static_cast<std::size_t>(route);
}

double cost_of(WorthPart part, const std::optional<bool>& at_hand, double price) {
    const bool buy = part == WorthPart::new_one || (part == WorthPart::old_one && at_hand == false);
    return buy ? price : 0;
}

// One route's figures, before its chance is counted.
class Reckoning {
public:
    Reckoning(WorthRoute route, const WorthCase& worth) : c_(worth), t_(worth.of(route)) { f_.route = route; }

    RouteFigures run() {
        take_route();
        f_.charger = cost_of(t_.charger, c_.pack.charger_at_hand, c_.prices.charger);
        f_.board = cost_of(t_.board, c_.pack.board_sound, c_.prices.board);
        f_.parts += f_.charger + f_.board + t_.freight;
        f_.hours += t_.extra_hours;
        f_.days = t_.waiting_days;
        f_.years = t_.years;
        f_.chance = t_.chance;
        f_.warranty_years = t_.warranty_years;
        f_.labour = f_.hours * c_.prices.hour;
        f_.cost = f_.parts + f_.labour - f_.left_over;
        if (f_.wh > 0) {
            f_.cost_per_wh = f_.cost / f_.wh;
            f_.cost_per_wh_year = f_.cost / (f_.wh * f_.years * f_.chance);
        }
        if (gives_device(f_.route) != (c_.aim == WorthAim::device))
            impossible("not-wanted");
        return f_;
    }

private:
    void impossible(const char* why) {
        if (!f_.possible) // the first reason stands
            return;
        f_.possible = false;
        f_.obstacle = why;
    }
    [[nodiscard]] double good() const { return c_.pack.units - c_.pack.units_to_replace; }
    [[nodiscard]] double full_wh() const { return c_.pack.units * c_.pack.unit_wh; }

    void repair(double unit_price) {
        const double replaced = c_.pack.units_to_replace;
        f_.parts = replaced * unit_price + c_.prices.strip_and_sundries;
        f_.hours = c_.hours.open_and_close + replaced * (c_.hours.per_unit_replaced + c_.hours.per_unit_tested) +
                   c_.hours.prove;
        f_.wh = full_wh() * t_.kept_share;
        if (c_.pack.units_to_replace == 0)
            impossible("nothing-to-replace");
    }
    void build_anew() {
        const double units = t_.units > 0 ? t_.units : c_.pack.units;
        f_.parts = units * t_.price + c_.prices.strip_and_sundries;
        f_.hours = c_.hours.open_and_close + units * c_.hours.per_unit_built + c_.hours.prove;
        f_.wh = units * (t_.unit_wh > 0 ? t_.unit_wh : c_.pack.unit_wh) * t_.kept_share;
        leave_units(true);
        if (t_.price <= 0)
            impossible("no-price");
    }
    void buy_whole() {
        f_.parts = t_.pieces * t_.price + t_.core_deposit;
        f_.wh = t_.pieces * (t_.piece_wh > 0 ? t_.piece_wh : full_wh()) * t_.kept_share;
        leave_units(false);
        // Sent in unopened it brings the deposit back instead, and its recycling is the seller's.
        if (t_.core_deposit > 0)
            f_.left_over = std::max(f_.left_over, t_.core_deposit);
        if (t_.price <= 0)
            impossible("no-price");
    }
    // A pack that is replaced leaves its good units, which must be taken out and tested to be worth anything.
    void leave_units(bool opened) {
        const double hands = good() * c_.hours.per_unit_tested + (opened ? 0 : c_.hours.open_and_close);
        const double value = good() * c_.prices.stock_unit - hands * c_.prices.hour;
        f_.left_over = std::max(value, 0.0) - c_.prices.recycling;
    }
    void take_route() {
        switch (f_.route) {
        case WorthRoute::repair_from_stock:
            repair(c_.prices.stock_unit);
            if (c_.pack.stock_at_hand < c_.pack.units_to_replace)
                impossible("no-stock");
            break;
        case WorthRoute::repair_from_donors:
            repair(t_.price);
            if (c_.pack.donors_at_hand < c_.pack.units_to_replace)
                impossible("no-donors");
            break;
        case WorthRoute::repair_with_bought_units:
        case WorthRoute::other_kind_as_donor:
            repair(t_.price);
            if (t_.price <= 0)
                impossible("no-price");
            break;
        case WorthRoute::rebuild:
        case WorthRoute::rebuild_other_size:
        case WorthRoute::convert:
            build_anew();
            break;
        case WorthRoute::buy_new:
        case WorthRoute::buy_other_size:
        case WorthRoute::buy_reconditioned:
        case WorthRoute::adapter:
        case WorthRoute::whole_device:
            buy_whole();
            break;
        case WorthRoute::break_for_units:
            f_.parts = c_.prices.recycling;
            f_.hours = c_.hours.open_and_close + good() * c_.hours.per_unit_tested;
            f_.wh = good() * c_.pack.unit_wh * t_.kept_share;
            f_.left_over = good() * c_.prices.stock_unit * t_.chance; // those that pass
            if (good() <= 0)
                impossible("nothing-left");
            break;
        case WorthRoute::recycle:
            f_.parts = c_.prices.recycling;
            break;
        }
    }

    const WorthCase& c_;
    const RouteTerms& t_;
    RouteFigures f_;
};

// For stock only money counts: the mark is how far a route lies from the dearest one.
std::optional<WorthRoute> mark_stock(std::vector<RouteFigures>& routes) {
    const RouteFigures* best = nullptr;
    double dearest = -std::numeric_limits<double>::infinity();
    for (const RouteFigures& f : routes)
        if (f.possible) {
            dearest = std::max(dearest, f.cost);
            if (best == nullptr || f.cost < best->cost)
                best = &f;
        }
    if (best == nullptr)
        return std::nullopt;
    const double cheapest = best->cost;
    const WorthRoute winner = best->route;
    for (RouteFigures& f : routes)
        if (f.possible)
            f.mark = f.money_mark = dearest > cheapest ? (dearest - f.cost) / (dearest - cheapest) : 1;
    return winner;
}

std::optional<WorthRoute> mark(std::vector<RouteFigures>& routes, const WorthCase& worth) {
    if (worth.aim == WorthAim::stock)
        return mark_stock(routes);
    const WorthWeights& weights = worth.weights;
    constexpr double least_cost = 1e-6; // per Wh and year: what is left over may pay for everything
    constexpr double an_hour = 1.0;     // the difference between no time and an hour must not be infinite
    const auto time_of = [&](const RouteFigures& f) { return f.hours + f.days * worth.hours.day_waited + an_hour; };
    double cheapest = std::numeric_limits<double>::infinity();
    double quickest = std::numeric_limits<double>::infinity();
    for (const RouteFigures& f : routes)
        if (f.possible) {
            cheapest = std::min(cheapest, std::max(f.cost_per_wh_year, least_cost));
            quickest = std::min(quickest, time_of(f));
        }
    const double sum = weights.money + weights.time + weights.certainty;
    std::optional<WorthRoute> winner;
    double best = -1;
    for (RouteFigures& f : routes) {
        if (!f.possible)
            continue;
        f.money_mark = cheapest / std::max(f.cost_per_wh_year, least_cost);
        f.time_mark = quickest / time_of(f);
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

std::vector<RouteFigures> all_routes(const WorthCase& worth) {
    std::vector<RouteFigures> out;
    out.reserve(route_count);
    for (int r = 0; r < route_count; ++r)
        out.push_back(Reckoning(static_cast<WorthRoute>(r), worth).run());
    return out;
}

std::optional<WorthRoute> winner_of(const WorthCase& worth) {
    auto routes = all_routes(worth);
    return mark(routes, worth);
}

using Figure = TurningPoint::Figure;
constexpr std::array<Figure, 6> all_figures{Figure::price, Figure::extra_hours, Figure::kept_share,
                                            Figure::years, Figure::chance,      Figure::hour};

// What one step of its last shown digit is worth.
double step_of(Figure figure) {
    switch (figure) {
    case Figure::price:
    case Figure::hour:
    case Figure::kept_share: // whole per cents
    case Figure::chance:
        return 0.01;
    case Figure::extra_hours:
    case Figure::years:
        return 0.1;
    }
    return 1;
}

// Where the figure may go: its own range, at most fourfold from where it is.
std::pair<double, double> range_of(Figure figure, double now) {
    constexpr double farthest = 4;
    const double most = farthest * now;
    return figure == Figure::kept_share || figure == Figure::chance
               ? std::pair(step_of(figure), 1.0)
               : std::pair(figure == Figure::years || figure == Figure::price ? step_of(figure) : 0.0, most);
}

bool wins_at(const WorthCase& worth, WorthRoute route, Figure figure, double value) {
    WorthCase tried = worth;
    figure_of(tried, route, figure) = value;
    return winner_of(tried) == route;
}

// The nearest place, going one way, at which winning turns; nothing: it never does. Between two looks it is halved.
std::optional<double> turns_at(const WorthCase& worth, WorthRoute route, Figure figure, double now, double end) {
    constexpr int looks = 24;
    constexpr int halvings = 40;
    const bool wins = wins_at(worth, route, figure, now);
    double before = now;
    for (int i = 1; i <= looks; ++i) {
        double here = now + (end - now) * i / looks;
        if (wins_at(worth, route, figure, here) == wins) {
            before = here;
            continue;
        }
        for (int h = 0; h < halvings; ++h) {
            const double middle = (before + here) / 2;
            (wins_at(worth, route, figure, middle) == wins ? before : here) = middle;
        }
        return (before + here) / 2;
    }
    return std::nullopt;
}

// Rounded to the side on which the sentence holds: "more than" upwards, "less than" downwards.
double rounded(double value, Figure figure, bool more) {
    const double step = step_of(figure);
    constexpr double slack = 1e-6; // of a step: what is exact stays
    return (more ? std::ceil(value / step - slack) : std::floor(value / step + slack)) * step;
}

std::optional<TurningPoint> turning_point(const WorthCase& worth, WorthRoute route, Figure figure, bool wins) {
    WorthCase copy = worth;
    const double now = figure_of(copy, route, figure);
    if (!(now > 0))
        return std::nullopt;
    const auto [low, high] = range_of(figure, now);
    std::optional<TurningPoint> nearest;
    for (const double end : {high, low}) {
        const auto turn = std::fabs(end - now) > 0 ? turns_at(worth, route, figure, now, end) : std::nullopt;
        if (!turn)
            continue;
        TurningPoint point;
        point.route = route;
        point.figure = figure;
        point.wins = wins;
        point.now = now;
        // It wins on this side of a turn that is met upwards where it wins already, beyond it where it does not.
        point.more = (end > now) != wins;
        point.value = rounded(*turn, figure, point.more);
        const double said = point.value + (point.more ? 1 : -1) * step_of(figure) / 2;
        const bool in_range = point.more ? point.value < high : point.value > low;
        if (!in_range || !wins_at(worth, route, figure, said))
            continue;
        if (!nearest || std::fabs(point.value - now) < std::fabs(nearest->value - now))
            nearest = point;
    }
    return nearest;
}

double distance(const TurningPoint& point) {
    return std::fabs(std::log(std::max(point.value, 1e-9) / point.now));
}

std::vector<TurningPoint> turning_points(const WorthCase& worth, const std::vector<RouteFigures>& routes,
                                         WorthRoute winner) {
    constexpr std::size_t most_a_route = 2;
    const auto nearer = [](const TurningPoint& a, const TurningPoint& b) { return distance(a) < distance(b); };
    std::vector<TurningPoint> of_winner;
    std::vector<TurningPoint> of_others;
    for (const RouteFigures& f : routes) {
        if (!f.possible)
            continue;
        std::vector<TurningPoint> mine;
        for (const Figure figure : all_figures)
            if (auto point = turning_point(worth, f.route, figure, f.route == winner))
                mine.push_back(*point);
        std::stable_sort(mine.begin(), mine.end(), nearer);
        if (f.route != winner && mine.size() > most_a_route)
            mine.resize(most_a_route);
        auto& into = f.route == winner ? of_winner : of_others;
        into.insert(into.end(), mine.begin(), mine.end());
    }
    std::stable_sort(of_others.begin(), of_others.end(), nearer);
    of_winner.insert(of_winner.end(), of_others.begin(), of_others.end());
    return of_winner;
}

Problem objection(Sentence sentence) {
    return Problem{"", 0, std::move(sentence)};
}

std::optional<Problem> check_terms(const WorthCase& c) {
    for (int r = 0; r < route_count; ++r) {
        const RouteTerms& t = c.terms[static_cast<std::size_t>(r)];
        const char* name = code(static_cast<WorthRoute>(r));
        for (const double figure : {t.price, t.unit_wh, t.piece_wh, t.freight, t.core_deposit, t.waiting_days,
                                    t.extra_hours, t.warranty_years})
            if (!(figure >= 0) || !std::isfinite(figure))
                return objection(said("a figure of {} is negative. Give nothing or more.", name));
        if (t.units < 0 || t.pieces < 1)
            return objection(said("{} is of one piece at least, and of no negative number of units.", name));
        if (!(t.kept_share > 0 && t.kept_share <= 1))
            return objection(said("the share of energy that {} gives must lie over 0 and up to 1.", name));
        if (!(t.years > 0) || !std::isfinite(t.years) || !(t.chance > 0 && t.chance <= 1))
            return objection(said("years of {} must be more than nothing, its chance over 0 and up to 1.", name));
    }
    return std::nullopt;
}

std::optional<Problem> check_case(const WorthCase& c) {
    if (c.pack.units < 1)
        return objection(said("the pack has no units. Give at least one."));
    if (c.pack.units_to_replace < 0 || c.pack.units_to_replace > c.pack.units)
        return objection(said("more units are to be replaced than the pack has. Correct one of the two."));
    if (!(c.pack.unit_wh > 0) || !std::isfinite(c.pack.unit_wh))
        return objection(
            said("a unit's energy must be more than nothing. Give capacity times nominal voltage, in Wh."));
    const auto& p = c.prices;
    for (const double price : {p.hour, p.stock_unit, p.board, p.charger, p.strip_and_sundries})
        if (!(price >= 0) || !std::isfinite(price))
            return objection(said("a price is negative. Only recycling may pay."));
    if (!std::isfinite(p.recycling))
        return objection(said("what recycling costs or pays must be a number."));
    const auto& h = c.hours;
    for (const double hours :
         {h.open_and_close, h.per_unit_replaced, h.per_unit_tested, h.prove, h.per_unit_built, h.day_waited})
        if (!(hours >= 0) || !std::isfinite(hours))
            return objection(said("a number of hours is negative."));
    const auto& w = c.weights;
    const double sum = w.money + w.time + w.certainty;
    if (!(w.money >= 0 && w.time >= 0 && w.certainty >= 0 && sum > 0) || !std::isfinite(sum))
        return objection(said("the weights of money, time and certainty must not be negative, nor all nothing."));
    return check_terms(c);
}

// At which price of a bought unit the repair costs as much per Wh and year as the best other route.
std::optional<double> break_even(const WorthCase& c, const std::vector<RouteFigures>& routes) {
    const RouteFigures& bought = routes[at(WorthRoute::repair_with_bought_units)];
    double best_other = std::numeric_limits<double>::infinity();
    for (const RouteFigures& f : routes)
        if (f.possible && f.route != bought.route)
            best_other = std::min(best_other, f.cost_per_wh_year);
    if (c.aim != WorthAim::device || c.pack.units_to_replace == 0 || !std::isfinite(best_other))
        return std::nullopt;
    const double may_cost = best_other * bought.wh * bought.years * bought.chance;
    const double without = bought.cost - c.pack.units_to_replace * c.of(bought.route).price;
    const double even = (may_cost - without) / c.pack.units_to_replace;
    return even > 0 ? std::optional(even) : std::nullopt;
}

} // namespace

const char* code(WorthAim aim) {
    return aim == WorthAim::device ? "device" : "stock";
}
std::optional<WorthAim> aim_from(const std::string& text) {
    return text == "device"  ? std::optional(WorthAim::device)
           : text == "stock" ? std::optional(WorthAim::stock)
                             : std::nullopt;
}
const char* code(WorthRoute route) {
    return route_codes[at(route)];
}
std::optional<WorthRoute> route_from(const std::string& code) {
    for (std::size_t i = 0; i < route_codes.size(); ++i)
        if (code == route_codes[i])
            return static_cast<WorthRoute>(i);
    return std::nullopt;
}
bool gives_device(WorthRoute route) {
    return route != WorthRoute::break_for_units && route != WorthRoute::recycle;
}
const char* code(WorthPart part) {
    return part_codes[static_cast<std::size_t>(part)];
}
std::optional<WorthPart> part_from(const std::string& code) {
    for (std::size_t i = 0; i < part_codes.size(); ++i)
        if (code == part_codes[i])
            return static_cast<WorthPart>(i);
    return std::nullopt;
}
const char* code(TurningPoint::Figure figure) {
    constexpr std::array<const char*, 6> codes{"price", "extra-hours", "kept-share", "years", "chance", "hour"};
    return codes[static_cast<std::size_t>(figure)];
}

double& figure_of(WorthCase& worth, WorthRoute route, TurningPoint::Figure figure) {
    RouteTerms& terms = worth.of(route);
    switch (figure) {
    case Figure::price: // of repairing from stock it is what the stock would bring
        return route == WorthRoute::repair_from_stock || route == WorthRoute::break_for_units ? worth.prices.stock_unit
                                                                                              : terms.price;
    case Figure::extra_hours:
        return terms.extra_hours;
    case Figure::kept_share:
        return terms.kept_share;
    case Figure::years:
        return terms.years;
    case Figure::chance:
        return terms.chance;
    case Figure::hour:
        break;
    }
    return worth.prices.hour;
}

Result<WorthResult> weigh_routes(const WorthCase& c) {
    if (auto problem = check_case(c))
        return *std::move(problem);
    WorthResult out;
    out.routes = all_routes(c);
    out.winner = mark(out.routes, c);
    out.break_even_unit = break_even(c, out.routes);
    const RouteFigures& taken_out = out.routes[at(WorthRoute::break_for_units)];
    const double passing = (c.pack.units - c.pack.units_to_replace) * taken_out.chance;
    if (passing > 0)
        out.unit_cost = (taken_out.parts + taken_out.labour) / passing;
    if (out.winner)
        out.turning_points = turning_points(c, out.routes, *out.winner);
    return out;
}

std::optional<double> hours_factor(const std::vector<JobDone>& jobs, WorthRoute route) {
    std::vector<double> factors;
    for (const JobDone& job : jobs)
        if (job.route == route && job.hours > 0 && job.estimated > 0)
            factors.push_back(job.hours / job.estimated);
    return factors.size() < least_jobs ? std::nullopt : std::optional(median(std::move(factors)));
}

} // namespace ingot
