#include "sim/unit.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace sim {

namespace {

constexpr std::array<const char*, 6> fault_names{"",           "high-resistance", "early-cutoff", "overheating",
                                                 "loose-clip", "reversed"};

} // namespace

Fault fault_from(const std::string& wanted) {
    const auto found = std::find(fault_names.begin(), fault_names.end(), wanted);
    return found == fault_names.end() ? Fault::none : static_cast<Fault>(found - fault_names.begin());
}

const char* name(Fault fault) {
    return fault_names.at(static_cast<std::size_t>(fault));
}

Unit::Unit(const UnitMake& make) : make_(make), dice_(make.seed * 0x9E3779B97F4A7C15ULL + 5) {
    const auto uniform = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(dice_);
    };
    const double kept = uniform(0.72, 0.97);
    level_ah_ = make.rated_ah * kept;
    capacity_ah_ = level_ah_;
    climb_rate_ = uniform(0.3, 0.9);
    if (make.kind == Kind::nickel && make.cells > 1) // a module that stood for years
        capacity_ah_ = level_ah_ * uniform(0.6, 0.92);
    charge_ = uniform(0.25, 0.55);
    const double aged = 1 + (1 - kept) * uniform(0.8, 2.0);
    series_ohm_ = make.new_ohm * 0.75 * aged;
    slow_ohm_ = make.new_ohm * 0.45 * aged;
    slow_s_ = uniform(12, 40);
    around_c_ = temperature_c_ = make.room_c;
    // Mass from the energy at about 150 Wh/kg, nickel 45 Wh/kg; 1000 J/(kg K).
    const double cell_v = make.kind == Kind::nickel ? 1.2 : make.kind == Kind::lithium ? 3.6 : 3.2;
    const double mass_kg = make.rated_ah * cell_v * make.cells / (make.kind == Kind::nickel ? 45 : 150);
    heat_capacity_ = 1000 * mass_kg;
    heat_loss_ = 0.9 * std::pow(mass_kg, 0.67);
    self_discharge_per_s_ = (make.kind == Kind::nickel ? 0.006 : 0.0005) / (24 * seconds_per_hour);
    switch (make.fault) {
    case Fault::high_resistance:
        series_ohm_ *= 3.2;
        slow_ohm_ *= 2;
        break;
    case Fault::early_cutoff:
        capacity_ah_ = level_ah_ = make.rated_ah * 0.38;
        break;
    case Fault::overheating:
        heat_factor_ = make.kind == Kind::nickel ? 25 : 45;
        break;
    case Fault::loose_clip:
        lost_after_ah_ = make.rated_ah * uniform(0.15, 0.5);
        break;
    case Fault::none:
    case Fault::reversed:
        break;
    }
    if (make.open_v)
        stand_at(*make.open_v);
}

void Unit::stand_at(double volts) {
    double low = -0.02;
    double high = 1.05;
    constexpr int halvings = 50;
    for (int i = 0; i < halvings; ++i)
        (make_.cells * cell_ocv((low + high) / 2) < volts ? low : high) = (low + high) / 2;
    charge_ = low;
    sunk_v_ = std::min(0.0, volts - make_.cells * cell_ocv(charge_)); // deeper than its curve goes
}

double Unit::cell_ocv(double charge) const {
    const double s = std::clamp(charge, -0.02, 1.05);
    switch (make_.kind) {
    case Kind::lithium:
        return 2.70 + 0.80 * (1 - std::exp(-17 * (s + 0.02))) + 0.70 * std::pow(std::max(s, 0.0), 1.15) +
               0.06 * std::exp((s - 1) / 0.05);
    case Kind::iron_phosphate:
        return 2.35 + 0.90 * (1 - std::exp(-28 * (s + 0.02))) + 0.07 * s + 0.16 * std::exp((s - 1) / 0.02);
    case Kind::nickel:
        return 0.86 + 0.38 * (1 - std::exp(-22 * (s + 0.02))) + 0.05 * s +
               0.075 * std::exp((std::min(s, 1.0) - 1) / 0.035) - 0.0035 * (temperature_c_ - make_.room_c);
    }
    return 0;
}

double Unit::open_volts() const {
    const double v = make_.cells * (cell_ocv(charge_) + hysteresis_v_) + sunk_v_;
    return make_.fault == Fault::reversed ? -v : v;
}

double Unit::volts(double amperes) const {
    if (lost_)
        return 0;
    const double drop = amperes * series_ohm_ + slow_v_;
    return make_.fault == Fault::reversed ? open_volts() - drop : open_volts() + drop;
}

void Unit::advance(double seconds, double amperes) {
    if (lost_)
        amperes = 0;
    double accepted = amperes;
    double wasted_w = 0;
    if (amperes > 0 && make_.kind == Kind::nickel) { // near full, charge turns into heat
        const double efficiency = 0.99 / (1 + std::exp((charge_ - 0.975) / 0.006));
        accepted = amperes * efficiency;
        wasted_w = amperes * (1 - efficiency) * make_.cells * 1.4;
    }
    charge_ += accepted * seconds / seconds_per_hour / capacity_ah_ - self_discharge_per_s_ * seconds;
    charge_ = std::clamp(charge_, -0.02, 1.06);
    constexpr double lifted_share = 0.02; // of the rating: a sunk voltage rises within the first minutes of a charge
    sunk_v_ *= std::exp(-std::max(0.0, amperes) * seconds / seconds_per_hour / (lifted_share * make_.rated_ah));
    slow_v_ += (amperes * slow_ohm_ - slow_v_) * (1 - std::exp(-seconds / slow_s_));
    if (make_.kind == Kind::nickel && amperes != 0) {
        const double towards = amperes > 0 ? 0.022 : -0.022;
        hysteresis_v_ += (towards - hysteresis_v_) * (1 - std::exp(-seconds / 600));
    }
    const double joule = amperes * amperes * series_ohm_ + slow_v_ * slow_v_ / std::max(slow_ohm_, 1e-6);
    const double heat = heat_factor_ * joule + wasted_w;
    temperature_c_ += (heat - heat_loss_ * (temperature_c_ - around_c_)) * seconds / heat_capacity_;
    passed_ah_ += std::fabs(amperes) * seconds / seconds_per_hour;
    if (passed_ah_ > lost_after_ah_)
        lost_ = true;
}

void Unit::emptied() {
    if (make_.kind != Kind::nickel || make_.cells < 2)
        return;
    const double before = capacity_ah_;
    capacity_ah_ += (level_ah_ - capacity_ah_) * (1 - std::exp(-climb_rate_));
    charge_ = charge_ * before / capacity_ah_;
}

} // namespace sim
