// Is it worth it? The routes for one pack side by side: what each costs in parts and hours, what it gives, how long it
// will last, how likely it works, what is left over. What is wanted comes first: the device working, or stock. Prices,
// hours and outlooks are the shop's; the defaults are common practice, no source. Money in the shop's own currency. See
// docs/methods/worth.md.
#pragma once

#include "core/cells/problem.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

enum class WorthAim { device, stock };
[[nodiscard]] const char* code(WorthAim aim);
[[nodiscard]] std::optional<WorthAim> aim_from(const std::string& code);

enum class WorthRoute {
    repair_from_stock,
    repair_from_donors,
    repair_with_bought_units,
    rebuild,            // all units new, of the same model
    rebuild_other_size, // all units new, smaller or larger ones
    convert,            // to another chemistry, with its own number of units
    buy_new,
    buy_other_size, // another pack that fits, or several
    buy_reconditioned,
    other_kind_as_donor, // the units of another kind of pack
    adapter,             // another pack through an adapter
    whole_device,
    break_for_units, // for stock
    recycle,         // as it is
};
inline constexpr int route_count = 14;
[[nodiscard]] const char* code(WorthRoute route);
[[nodiscard]] std::optional<WorthRoute> route_from(const std::string& code);
[[nodiscard]] bool gives_device(WorthRoute route); // else stock

// What is known of the pack. Energies follow from these.
struct WorthPack {
    int units = 0;                                    // in the pack
    int units_to_replace = 0;                         // dead or too weak
    double unit_wh = 0;                               // a new unit's energy: capacity times nominal voltage
    int donors_at_hand = 0;                           // good units of sister packs that may be used
    int stock_at_hand = 0;                            // matching units in stock
    std::optional<bool> charger_at_hand, board_sound; // nothing: nobody knows, and nothing is charged for it
};

// The usual prices, hours and outlooks are in data/worth, not here.
struct WorthPrices {
    double hour = 0;
    double stock_unit = 0; // what a unit in stock would bring
    double board = 0;
    double charger = 0;
    double strip_and_sundries = 0; // strip, insulation, leads; for a pack
    double recycling = 0;          // for the whole pack, paid or (negative) received
};

struct WorthHours {
    double open_and_close = 0;
    double per_unit_replaced = 0; // cut, weld, insulate
    double per_unit_tested = 0;   // hands only; the bays work alone
    double prove = 0;
    double per_unit_built = 0; // of a pack built from nothing
    double day_waited = 0;     // what a day without the device counts for beside hands, h
};

enum class WorthPart {
    none,
    old_one, // the old one goes on serving, where there is one
    new_one,
};
[[nodiscard]] const char* code(WorthPart part);
[[nodiscard]] std::optional<WorthPart> part_from(const std::string& code);

// What is the route's own.
struct RouteTerms {
    double price = 0;    // of a unit that goes in, or of what is bought whole; 0: it cannot be had (nothing for stock)
    int units = 0;       // that go in all new; 0: as many as the pack has
    double unit_wh = 0;  // of one of them; 0: as the pack's
    int pieces = 1;      // bought whole: so many
    double piece_wh = 0; // of one of them; 0: as the whole pack when it was new
    double freight = 0;
    double core_deposit = 0; // comes back when the old pack is sent in, unopened
    double waiting_days = 0;
    double extra_hours = 0; // beside those that are counted
    WorthPart charger = WorthPart::old_one;
    WorthPart board = WorthPart::none;
    double kept_share = 1; // of the energy of new units or of a new pack, 0..1
    double years = 0;
    double chance = 0; // that it works as promised, 0..1
    double warranty_years = 0;
};

// What counts, any scale: 0.6, 0.2, 0.2 or 3, 1, 1. For stock only money does.
struct WorthWeights {
    double money = 0.6, time = 0.2, certainty = 0.2;
};

struct WorthCase {
    WorthAim aim = WorthAim::device;
    WorthPack pack;
    WorthPrices prices;
    WorthHours hours;
    std::array<RouteTerms, route_count> terms{};
    WorthWeights weights;
    [[nodiscard]] RouteTerms& of(WorthRoute route) { return terms[static_cast<std::size_t>(route)]; }
    [[nodiscard]] const RouteTerms& of(WorthRoute route) const { return terms[static_cast<std::size_t>(route)]; }
};

struct RouteFigures {
    WorthRoute route{};
    bool possible = true;
    const char* obstacle = ""; // code: not-wanted, no-stock, no-donors, no-price, nothing-to-replace, nothing-left
    double parts = 0, hours = 0, labour = 0;
    double charger = 0, board = 0; // of the parts: what is bought because it is missing or must be another
    double left_over = 0;          // value of what remains: good units of a pack that is replaced, or its deposit
    double cost = 0;               // parts and labour less what is left over
    double wh = 0;
    double cost_per_wh = 0;
    double days = 0; // waited
    double years = 0, chance = 0, warranty_years = 0;
    double cost_per_wh_year = 0;                              // counting the chance that it works
    double money_mark = 0, time_mark = 0, certainty_mark = 0; // 0..1
    double mark = 0;                                          // weighed
};

// What decides about one route: it wins as long as the figure is more, or less, than the value.
struct TurningPoint {
    enum class Figure { price, extra_hours, kept_share, years, chance, hour };
    WorthRoute route{}; // whose figure it is; `hour` is the shop's
    Figure figure{};
    bool more = false; // it must be more than the value, else less
    bool wins = false; // the route wins now, and loses beyond the value
    double now = 0;
    double value = 0; // rounded as it is said, to the side on which the sentence is true
};
[[nodiscard]] const char* code(TurningPoint::Figure figure);
// The figure, in the case.
[[nodiscard]] double& figure_of(WorthCase& worth, WorthRoute route, TurningPoint::Figure figure);

struct WorthResult {
    std::vector<RouteFigures> routes; // all, in the order of the enum
    std::optional<WorthRoute> winner;
    std::optional<double> break_even_unit; // price of a bought unit at which repairing with bought units costs as much
                                           // per Wh and year as the best other route; none: it never does
    std::optional<double> unit_cost;       // of a good unit taken out, before it is worth anything
    std::vector<TurningPoint> turning_points; // of the winner first, then the nearest of each other route, nearest
                                              // first; at most one a figure of the winner and two a route
};

// Problems: no units, more to replace than there are, an energy, price, hour, year, share or chance that cannot be,
// weights that are all zero.
[[nodiscard]] Result<WorthResult> weigh_routes(const WorthCase& worth);

// What the shop's own jobs say: how many times the estimated hours the route took, by its middle job.
struct JobDone {
    WorthRoute route{};
    double hours = 0, estimated = 0; // both over 0
};
inline constexpr std::size_t least_jobs = 3; // so many have to be known before they say anything
[[nodiscard]] std::optional<double> hours_factor(const std::vector<JobDone>& jobs, WorthRoute route);

} // namespace ingot
