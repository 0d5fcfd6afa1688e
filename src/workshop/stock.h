// The stock: where every unit is, what it is promised to, how old its voltage is, and what storage asks for.
#pragma once

#include "workshop/workshop.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

// What storage asks of a unit now, or on a day to come.
enum class Care { none, look, charge_up, bring_down };
inline constexpr int care_count = 4;
[[nodiscard]] const char* code(Care care);

struct StockLine {
    Id unit = 0;
    Id build = 0;                   // it is reserved for; 0: free
    std::optional<double> volts;    // at rest; nothing where charge was moved since
    std::optional<double> age_days; // of that reading
    std::optional<double> charge;   // 0..1, where the voltage tells it
    Care care = Care::none;
    std::string due_at; // of the care; empty: nobody knows how it is kept, or nothing is asked
};

// Every unit in stock or reserved. What storage asks follows from its chemistry's record; a unit whose voltage nobody
// knows is to be looked at now, where its chemistry says how it is kept.
[[nodiscard]] std::vector<StockLine> stock_of(const Workshop& workshop);

struct StockCount {
    int units = 0, reserved = 0, due = 0;
};
[[nodiscard]] StockCount count_of(const std::vector<StockLine>& stock, const std::string& now);
// Due by now.
[[nodiscard]] bool due(const StockLine& line, const std::string& now);

} // namespace ingot
