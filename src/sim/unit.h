// A simulated unit for the simulated tester: open-circuit voltage, resistance, one slow pair, heat, self-discharge,
// nickel's fall of voltage when full, conditioning of nickel modules, and faults. Shares nothing with Ingot's
// estimators.
#pragma once

#include <cstdint>
#include <optional>
#include <random>
#include <string>

namespace sim {

inline constexpr double seconds_per_hour = 3600;

enum class Kind { lithium, iron_phosphate, nickel };
enum class Fault { none, high_resistance, early_cutoff, overheating, loose_clip, reversed };
Fault fault_from(const std::string& name); // "" and unknown names: none
const char* name(Fault fault);

struct UnitMake {
    Kind kind = Kind::lithium;
    double rated_ah = 2.6;
    int cells = 1;          // in series
    double new_ohm = 0.045; // DC, of the whole unit
    std::uint64_t seed = 1; // the same seed is the same unit
    Fault fault = Fault::none;
    double room_c = 21;
    std::optional<double> open_v; // at its terminals when it is put in; nothing: partly charged
};

class Unit {
public:
    explicit Unit(const UnitMake& make);

    // One step of time with a current (charge positive). Steps up to a second are exact enough.
    void advance(double seconds, double amperes);
    void set_surroundings(double celsius) { around_c_ = celsius; }
    [[nodiscard]] double room_c() const { return make_.room_c; }
    // At the terminals, with this current flowing.
    [[nodiscard]] double volts(double amperes) const;
    [[nodiscard]] double open_volts() const;
    [[nodiscard]] double temperature_c() const { return temperature_c_; }
    [[nodiscard]] bool contact() const { return !lost_; }
    [[nodiscard]] double capacity_ah() const { return capacity_ah_; } // true, of a full discharge
    [[nodiscard]] double ohm() const { return series_ohm_; }
    [[nodiscard]] double slow_ohm() const { return slow_ohm_; }
    [[nodiscard]] double slow_s() const { return slow_s_; }
    // Discharged to its cutoff: a nickel module climbs a little.
    void emptied();

private:
    void stand_at(double volts);
    [[nodiscard]] double cell_ocv(double charge) const;

    UnitMake make_;
    std::mt19937_64 dice_;
    double capacity_ah_ = 0, level_ah_ = 0, climb_rate_ = 0;
    double charge_ = 0.4; // 0 to a little over 1
    double series_ohm_ = 0, slow_ohm_ = 0, slow_s_ = 20;
    double slow_v_ = 0, hysteresis_v_ = 0, sunk_v_ = 0;
    double around_c_ = 21;
    double temperature_c_ = 21, heat_capacity_ = 40, heat_loss_ = 0.15;
    double self_discharge_per_s_ = 0;
    double heat_factor_ = 1;
    double passed_ah_ = 0, lost_after_ah_ = 1e9;
    bool lost_ = false;
};

} // namespace sim
