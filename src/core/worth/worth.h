// Is it worth it? The routes for one pack side by side: what each costs in parts and hours, what it gives, how long it
// will last, how likely it works, what is left over. Prices and hours are the shop's; the defaults are common practice,
// no source. Money in the shop's own currency. See docs/methods/worth.md.
#pragma once

#include "core/cells/problem.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

enum class WorthRoute {
    repair_from_stock,
    repair_from_donors,
    repair_with_bought_units,
    rebuild, // all units new
    convert, // to another chemistry: new units, board and charger
    buy_new,
    buy_reconditioned,
    break_for_units,
};
inline constexpr int route_count = 8;
[[nodiscard]] const char* code(WorthRoute route);
[[nodiscard]] std::optional<WorthRoute> route_from(const std::string& code);

// What is known of the pack. Energies follow from these.
struct WorthPack {
    int units = 0;            // in the pack
    int units_to_replace = 0; // dead or too weak
    double unit_wh = 0;       // a new unit's energy: capacity times nominal voltage
    double kept_share = 0.8;  // of a new pack's energy that the repaired one holds (its weakest group decides), 0..1
    int donors_at_hand = 0;   // good units of sister packs that may be used
    int stock_at_hand = 0;    // matching units in stock
};

// The usual prices, hours and outlooks are in data/worth, not here.
struct WorthPrices {
    double hour = 0;
    double bought_unit = 0; // a used, tested unit of the same model
    double stock_unit = 0;  // what a unit in stock would bring
    double donor_unit = 0;  // what a unit of a sister pack would bring
    double new_unit = 0;
    double board = 0;
    double strip_and_sundries = 0; // strip, insulation, leads; for a pack
    double new_pack = 0;           // 0: cannot be had
    double reconditioned_pack = 0; // 0: cannot be had
    double conversion_unit = 0;    // a new unit of the other chemistry; 0: not considered
    double conversion_charger = 0;
    double recycling = 0; // for the whole pack, paid or (negative) received
};

struct WorthHours {
    double open_and_close = 0;
    double per_unit_replaced = 0; // cut, weld, insulate
    double per_unit_tested = 0;   // hands only; the bays work alone
    double prove = 0;
    double per_unit_built = 0; // of a pack built from nothing
    double conversion = 0;     // board, charger, labels, checking the device's limits
    double buying = 0;
};

// Expected years, chance that it works as promised, and warranty in years, by route.
struct RouteOutlook {
    double years = 0;
    double chance = 0;
    double warranty_years = 0;
};

// What counts, any scale: 0.6, 0.2, 0.2 or 3, 1, 1.
struct WorthWeights {
    double money = 0.6, time = 0.2, certainty = 0.2;
};

struct WorthCase {
    WorthPack pack;
    WorthPrices prices;
    WorthHours hours;
    std::array<RouteOutlook, route_count> outlook{};
    double conversion_wh_share = 0.85; // of the original energy that the other chemistry fits into the case
    WorthWeights weights;
};

struct RouteFigures {
    WorthRoute route{};
    bool possible = true;
    const char* obstacle = ""; // code: no-stock, no-donors, no-price, nothing-to-replace, nothing-left
    double parts = 0, hours = 0, labour = 0;
    double left_over = 0; // value of what remains: good units of a pack that is replaced
    double cost = 0;      // parts and labour less what is left over
    double wh = 0;
    double cost_per_wh = 0;
    double years = 0, chance = 0, warranty_years = 0;
    double cost_per_wh_year = 0;                              // counting the chance that it works
    double money_mark = 0, time_mark = 0, certainty_mark = 0; // 0..1
    double mark = 0;                                          // weighed
};

// What would make another route win: the figure, multiplied by the factor.
struct TurningPoint {
    enum class Figure { hour, bought_unit, new_unit, new_pack, reconditioned_pack, years_of_winner, chance_of_winner };
    Figure figure{};
    double factor = 1;
    double value = 0;    // the figure at that point
    WorthRoute winner{}; // then
};
[[nodiscard]] const char* code(TurningPoint::Figure figure);

struct WorthResult {
    std::vector<RouteFigures> routes; // all, in the order of the enum
    std::optional<WorthRoute> winner;
    std::optional<double> break_even_unit; // price of a bought unit at which repairing with bought units costs as much
                                           // per Wh and year as the best other route; none: it never does
    std::vector<TurningPoint> turning_points; // nearest first, at most three
};

// Problems: no units, more to replace than there are, an energy, price, hour, year or chance that cannot be, weights
// that are all zero.
[[nodiscard]] Result<WorthResult> weigh_routes(const WorthCase& worth);

} // namespace ingot
