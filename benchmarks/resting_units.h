// Simulated trays of units at rest, with known truth, for the self-discharge benchmark and its tests. Shares nothing
// with the estimator: relaxation is a stretched exponential, a logarithm or a sum of powers, never a plain exponential;
// the room has warm and cool days in rows, and weekends; leaks start late or fall with the voltage; rounds are
// irregular and some readings are missing.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace simulated {

// The last one was made when the estimator was done, and never used to change it.
enum class TrayKind { daily_fine, plain_meter, mixed_lot, long_shelf, after_discharge };
inline constexpr int tray_kinds = 5;
const char* name(TrayKind kind);

struct RestingCell {
    double leak_v_per_day = 0; // at the end of its readings
    double leaks_from_day = 0; // of one that starts late
    std::vector<double> time_h, voltage_v;
};
struct Tray {
    TrayKind kind{};
    double limit_v_per_day = 0;
    double resolution_v = 0;
    double days = 0;
    std::vector<RestingCell> cells; // 20
};

Tray make_tray(TrayKind kind, std::uint64_t seed);

} // namespace simulated
