#include "resting_units.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace simulated {

namespace {

constexpr int cells_in_tray = 20;
constexpr double mv = 1e-3;

class Chance {
public:
    explicit Chance(std::uint64_t seed) : engine_(seed) {}
    double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(engine_); }
    double normal(double sd) { return std::normal_distribution<double>(0, sd)(engine_); }
    double lognormal(double median, double spread) { return median * std::exp(normal(spread)); }
    bool happens(double share) { return between(0, 1) < share; }

private:
    std::mt19937_64 engine_;
};

// Degrees away from the usual, by the hour: rows of warm and cool days, nights, weekends without heating.
std::vector<double> room(Chance& chance, double days, double weekend_k) {
    std::vector<double> out;
    double slow = chance.normal(1.0);
    const double first_day = chance.between(0, 7);
    for (int h = 0; h <= static_cast<int>(days * 24) + 48; ++h) {
        slow = slow * 0.985 + chance.normal(0.17);
        const double day = first_day + h / 24.0;
        const bool weekend = std::fmod(day, 7) >= 5;
        out.push_back(slow + 0.3 * std::sin(2 * 3.14159265 * day) - (weekend ? weekend_k : 0));
    }
    return out;
}

struct Make {
    double limit_v, resolution_v, noise_v, days, gap_low, gap_high, missing, weekend_k, amplitude_v;
};

Make make_of(TrayKind kind) {
    switch (kind) {
    case TrayKind::daily_fine:
        return {0.5 * mv, 0.1 * mv, 0.05 * mv, 30, 0.8, 1.6, 0.02, 0.0, 8 * mv};
    case TrayKind::plain_meter:
        return {1.0 * mv, 1.0 * mv, 0.25 * mv, 42, 1.0, 4.0, 0.05, 1.0, 6 * mv};
    case TrayKind::mixed_lot:
        return {0.4 * mv, 0.1 * mv, 0.1 * mv, 40, 1.0, 3.0, 0.10, 1.5, 10 * mv};
    case TrayKind::long_shelf:
        return {0.6 * mv, 1.0 * mv, 0.4 * mv, 60, 2.0, 6.0, 0.05, 2.0, 5 * mv};
    case TrayKind::after_discharge:
        return {0.5 * mv, 1.0 * mv, 0.3 * mv, 35, 0.7, 3.5, 0.08, 1.0, 9 * mv};
    }
    return {};
}

struct Relaxation {
    TrayKind kind;
    double amplitude_v, days, exponent;
    [[nodiscard]] double at(double day) const {
        switch (kind) {
        case TrayKind::daily_fine:
            return amplitude_v * std::exp(-std::pow(day / days, exponent));
        case TrayKind::plain_meter: // goes on by decades
            return -amplitude_v / 4 * std::log((day + 0.05) / 40);
        case TrayKind::mixed_lot:
            return amplitude_v * (0.5 * std::exp(-std::pow(day / (0.2 * days), 0.7)) + 0.5 / (1 + day / days));
        case TrayKind::long_shelf:
            return amplitude_v * (0.6 * std::pow(1 + day / days, -0.7) + 0.4 * std::pow(1 + day / (4 * days), -2));
        case TrayKind::after_discharge: // rises, as diffusion through a sheet evens out
            return -amplitude_v * std::erfc(std::sqrt(day / (2 * days))) -
                   0.3 * amplitude_v * std::exp(-std::sqrt(day / 3));
        }
        return 0;
    }
};

} // namespace

const char* name(TrayKind kind) {
    switch (kind) {
    case TrayKind::daily_fine:
        return "daily, 0.1 mV";
    case TrayKind::plain_meter:
        return "plain meter, 1 mV";
    case TrayKind::mixed_lot:
        return "mixed lot, 0.1 mV";
    case TrayKind::long_shelf:
        return "long shelf, 1 mV";
    case TrayKind::after_discharge:
        return "after discharge";
    }
    return "";
}

Tray make_tray(TrayKind kind, std::uint64_t seed) {
    Chance chance(seed * 7919 + static_cast<std::uint64_t>(kind));
    const Make make = make_of(kind);
    Tray tray{kind, make.limit_v, make.resolution_v, make.days, {}};
    const auto warmth = room(chance, make.days, make.weekend_k);
    std::vector<double> rounds;
    for (double day = chance.between(0.2, 1.2); day < make.days; day += chance.between(make.gap_low, make.gap_high))
        rounds.push_back(day);
    const double lot_amplitude = make.amplitude_v * chance.between(0.5, 1.5);
    const double lot_days = chance.lognormal(1.2, 0.4);
    const double lot_exponent = chance.between(0.4, 0.8);
    const double lot_per_kelvin = chance.between(0.05, 0.2) * mv;
    for (int c = 0; c < cells_in_tray; ++c) {
        RestingCell cell;
        const Relaxation relax{kind, lot_amplitude * chance.lognormal(1, 0.15), lot_days * chance.lognormal(1, 0.15),
                               lot_exponent};
        const double per_kelvin = lot_per_kelvin * chance.lognormal(1, 0.1);
        const double sound = make.limit_v * chance.lognormal(0.2, 0.5);
        enum class Leak { none, plain, near, late, falling } leak = Leak::none;
        const double draw = chance.between(0, 1);
        if (draw > 0.98)
            leak = Leak::late;
        else if (draw > 0.96)
            leak = Leak::falling;
        else if (draw > 0.93)
            leak = Leak::near;
        else if (draw > 0.83)
            leak = Leak::plain;
        double rate = sound;
        if (leak == Leak::plain || leak == Leak::late || leak == Leak::falling)
            rate = make.limit_v * chance.lognormal(3.5, 0.6);
        if (leak == Leak::near)
            rate = make.limit_v * chance.between(0.7, 1.4);
        const double start = leak == Leak::late ? chance.between(0.2, 0.5) * make.days : 0;
        cell.leaks_from_day = start;
        const double level = 4.150 + chance.normal(8 * mv);
        for (const double day : rounds) {
            if (chance.happens(make.missing))
                continue;
            double lost = rate * day;
            if (leak == Leak::late)
                lost = sound * day + (rate - sound) * std::max(0.0, day - start);
            constexpr double fall_days = 60; // a leak through a resistor falls with what is left
            if (leak == Leak::falling)
                lost = rate * fall_days * (1 - std::exp(-day / fall_days));
            const double at = day + chance.between(0, 0.02);
            const double volts = level + relax.at(at) - lost + per_kelvin * warmth[static_cast<std::size_t>(at * 24)] +
                                 chance.normal(make.noise_v);
            cell.time_h.push_back(at * 24);
            cell.voltage_v.push_back(std::round(volts / make.resolution_v) * make.resolution_v);
            cell.leak_v_per_day = leak == Leak::falling ? rate * std::exp(-day / fall_days) : rate;
        }
        tray.cells.push_back(std::move(cell));
    }
    return tray;
}

} // namespace simulated
