// The rooms beside the route: pages that belong to no station, or to one thing that lies at a station.
#pragma once

#include <QString>

namespace ingot::app {

// The first three have a line of their own under the route.
enum class Room {
    ledger,
    library,
    practice,
    hazards,
    trays,
    strips,
    units,
    donors,
    worth,
    hand,
    book,
    limits,
    populations,
    stock,
    meter,
    testers
};
inline constexpr int room_count = 16;
inline constexpr int rooms_under_route = 3;
QString room_name(Room room);

} // namespace ingot::app
