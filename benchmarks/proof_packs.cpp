#include "proof_packs.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <string>

namespace ingot {

namespace {

double gauss(Random& random) {
    return std::sqrt(-2 * std::log(random.unit())) * std::cos(6.283185307179586 * random.unit());
}
double between(Random& random, double low, double high) {
    return low + (high - low) * random.unit();
}

// Open-circuit voltage of a cell, over 0..1 and a little beyond.
double rest_v(const std::string& chemistry, double soc) {
    const double s = std::max(0.0, soc);
    if (chemistry == "lfp")
        return 2.95 + 0.32 * (1 - std::exp(-22 * s)) + 0.05 * s + 0.09 * std::pow(s, 60);
    if (chemistry == "nimh")
        return 1.16 + 0.11 * (1 - std::exp(-11 * s)) + 0.06 * s + 0.05 * std::pow(s, 9);
    return 2.98 + 0.58 * (1 - std::exp(-13 * s)) + 0.50 * s + 0.14 * s * s * s * s;
}

struct Cell {
    double ah = 0, ohm = 0, joint = 0;
    bool out = false; // not joined at all
};

class Maker {
public:
    Maker(ProofShop shop, const Chemistry& chemistry, Random& random)
        : shop_(shop), chemistry_(chemistry), random_(random) {}

    BuiltPack make() {
        shape();
        cells();
        level();
        measure();
        break_something();
        rounds();
        items();
        return std::move(out_);
    }

private:
    int below(int n) { return random_.below(n); }

    void shape() {
        ProvenPack& pack = out_.pack;
        switch (shop_) {
        case ProofShop::mowers:
            pack.series = 5 + below(6);
            pack.parallel = 2 + below(4);
            break;
        case ProofShop::lanterns:
            pack.series = 3 + below(4);
            pack.parallel = 1 + below(3);
            meter_gain_ = 1 + between(random_, -0.004, 0.004);
            break;
        case ProofShop::rows:
            pack.series = 14 + below(15);
            pack.cells_per_unit = 6;
            step_ = 0.01;
            break;
        case ProofShop::banks:
            pack.series = 8 + below(7);
            pack.parallel = 4 + below(5);
            break;
        }
        pack.charge_limit_v = chemistry_.charge_limit_v;
        pack.ocv = chemistry_.ocv;
        pack.voltage_tells_charge = chemistry_.voltage_tells_charge;
        series_ = static_cast<std::size_t>(pack.series);
        across_ = static_cast<std::size_t>(pack.parallel);
        n_ = pack.cells_per_unit;
    }

    void cells() {
        const double ah = shop_ == ProofShop::rows ? between(random_, 4.5, 6.2) : between(random_, 1.6, 3.2);
        const double ohm = shop_ == ProofShop::rows ? between(random_, 0.012, 0.022) : between(random_, 0.025, 0.07);
        const double uneven = shop_ == ProofShop::rows ? between(random_, 0.008, 0.018) // as Match leaves them
                                                       : between(random_, 0.02, 0.05);
        for (std::size_t g = 0; g < series_; ++g) {
            auto& group = groups_.emplace_back();
            for (std::size_t p = 0; p < across_; ++p)
                group.push_back({ah * (1 + uneven * gauss(random_)), ohm * std::exp(0.12 * gauss(random_)),
                                 between(random_, 0.0002, 0.0006), false});
        }
        for (std::size_t g = 0; g <= series_; ++g)
            links_.push_back(between(random_, 0.0002, 0.0005));
    }

    // As Match leaves them: sums of capacity within half a per cent or so.
    void level() {
        if (across_ < 2 && shop_ != ProofShop::rows)
            for (auto& group : groups_)
                group[0].ah = groups_[0][0].ah * (1 + 0.006 * gauss(random_));
        if (across_ < 2)
            return;
        double want = 0;
        for (const Cell& cell : groups_[0])
            want += cell.ah;
        for (auto& group : groups_) {
            double sum = 0;
            for (const Cell& cell : group)
                sum += cell.ah;
            for (Cell& cell : group)
                cell.ah *= want * (1 + 0.005 * gauss(random_)) / sum;
        }
    }

    void measure() {
        const double gain = 1 + 0.01 * gauss(random_);
        const double says = between(random_, 0.6, 1.0); // at 1 kHz, or after a second: less than flows later
        for (const auto& group : groups_) {
            auto& units = out_.pack.units.emplace_back();
            double conductance = 0;
            for (const Cell& cell : group) {
                ProvenUnit& unit = units.emplace_back();
                unit.capacity_ah = std::round(cell.ah * gain * (1 + 0.006 * gauss(random_)) * 1000) / 1000;
                unit.capacity_error_ah = 0.012 * cell.ah;
                unit.resistance_ohm = std::round(cell.ohm * says * (1 + 0.04 * gauss(random_)) * 1e4) / 1e4;
                conductance += 1 / *unit.resistance_ohm;
            }
            out_.pack.group_resistance_ohm.emplace_back(1 / conductance);
        }
        load_a_ = static_cast<double>(across_) *
                  (shop_ == ProofShop::rows ? between(random_, 8, 25) : between(random_, 1.5, 4.5));
    }

    void break_something() {
        if (random_.unit() < 0.5)
            return;
        constexpr std::array alone{BuiltFault::weak_unit,    BuiltFault::wrong_model,     BuiltFault::bad_lead,
                                   BuiltFault::loose_sensor, BuiltFault::resistive_strip, BuiltFault::leaking_unit};
        std::vector<BuiltFault> able(alone.begin(), alone.end());
        if (across_ > 1) {
            able.push_back(BuiltFault::cold_joint);
            able.push_back(BuiltFault::cold_joint);
            able.push_back(BuiltFault::blown_link);
        }
        if (n_ > 1)
            able.push_back(BuiltFault::reversed_cell);
        out_.fault = able[static_cast<std::size_t>(below(static_cast<int>(able.size())))];
        bad_ = static_cast<std::size_t>(below(static_cast<int>(series_)));
        const auto p = static_cast<std::size_t>(below(static_cast<int>(across_)));
        Cell& cell = groups_[bad_][p];
        out_.group = static_cast<int>(bad_) + 1;
        switch (out_.fault) {
        case BuiltFault::cold_joint:
            cell.joint += std::exp(between(random_, std::log(0.02), std::log(0.3)));
            out_.place = static_cast<int>(p) + 1;
            break;
        case BuiltFault::blown_link:
            cell.out = true;
            out_.place = static_cast<int>(p) + 1;
            break;
        case BuiltFault::weak_unit: {
            const double lost = std::min(0.9, between(random_, 0.08, 0.20) * static_cast<double>(across_));
            cell.ah *= 1 - lost;
            cell.ohm *= 1 + between(random_, 0.3, 2.0) * lost;
            break;
        }
        case BuiltFault::wrong_model: {
            const double lost = std::min(0.6, between(random_, 0.08, 0.15) * static_cast<double>(across_));
            const bool less = random_.unit() < 0.6;
            cell.ah *= less ? 1 - lost : 1 + lost;
            cell.ohm *= less ? between(random_, 1.2, 2.2) : between(random_, 0.5, 0.8);
            break;
        }
        case BuiltFault::resistive_strip:
            links_[bad_] += between(random_, 0.030, 0.090) * n_ / load_a_;
            break;
        case BuiltFault::leaking_unit:
            leak_v_ = between(random_, 0.015, 0.08) * n_;
            break;
        default:
            out_.group = 0;
            break;
        }
        if (out_.fault == BuiltFault::reversed_cell)
            out_.group = static_cast<int>(bad_) + 1;
    }

    [[nodiscard]] double joined_ah(std::size_t g) const {
        double sum = 0;
        for (const Cell& cell : groups_[g])
            sum += cell.out ? 0 : cell.ah;
        return sum;
    }
    [[nodiscard]] double ohm(std::size_t g) const {
        double conductance = 0;
        for (const Cell& cell : groups_[g])
            conductance += cell.out ? 0 : 1 / (cell.ohm + cell.joint);
        return 1 / conductance;
    }
    double meter(double volts) { return std::round(volts * meter_gain_ / step_) * step_; }
    [[nodiscard]] double cells_that_count(std::size_t g) const {
        return out_.fault == BuiltFault::reversed_cell && g == bad_ ? n_ - 2 : n_;
    }
    ProofReading read(const std::vector<double>& volts, double day) {
        ProofReading reading;
        double sum = 0;
        for (std::size_t g = 0; g < series_; ++g) {
            double shown = volts[g];
            // Leads of two taps changed over: what lies between them reads the wrong way round, its neighbours double.
            if (out_.fault == BuiltFault::bad_lead && series_ > 2) {
                const std::size_t tap = std::min(std::max<std::size_t>(bad_, 1), series_ - 2);
                if (g == tap)
                    shown = -volts[g];
                else if (g == tap - 1)
                    shown = volts[g] + volts[tap];
                else if (g == tap + 1)
                    shown = volts[g] + volts[tap];
            }
            reading.group_v.emplace_back(meter(shown));
            sum += volts[g];
        }
        reading.terminals_v = std::round(sum * meter_gain_ / 0.01) * 0.01;
        reading.resolution = step_;
        reading.terminals_resolution = 0.01;
        reading.day = day;
        reading.group_day.assign(series_, day);
        return reading;
    }

    void rounds() {
        const std::string& kind = chemistry_.id;
        const double before = between(random_, 0.25, 0.55);
        std::vector<double> soc;
        for (std::size_t g = 0; g < series_; ++g)
            soc.push_back(before + 0.004 * gauss(random_));
        auto& rounds = out_.pack.rounds;
        rounds.assign(proof_round_count, {});
        const auto at = [&](ProofRound round) -> ProofReading& { return rounds[static_cast<std::size_t>(round)]; };
        std::vector<double> volts(series_);
        for (std::size_t g = 0; g < series_; ++g)
            volts[g] = rest_v(kind, soc[g]) * cells_that_count(g) + 0.0008 * n_ * gauss(random_);
        at(ProofRound::at_rest) = read(volts, 0);
        // Charged until the fullest ends it, or the mean is full.
        std::vector<double> share(series_);
        double mean_ah = 0;
        for (std::size_t g = 0; g < series_; ++g)
            mean_ah += joined_ah(g) / static_cast<double>(series_);
        double put_in = (0.985 - before) * mean_ah;
        for (std::size_t g = 0; g < series_; ++g)
            put_in = std::min(put_in, (1.025 - soc[g]) * joined_ah(g));
        const double bleeds = between(random_, 0, 0.006);
        const double taper = 0.05 * mean_ah;
        std::vector<double> full(series_);
        for (std::size_t g = 0; g < series_; ++g) {
            share[g] = soc[g] + put_in / joined_ah(g);
            if (share[g] > 1.0 && chemistry_.lithium)
                share[g] -= std::min(bleeds, share[g] - 1.0);
            full[g] = (rest_v(kind, share[g]) + 0.012 + 0.0015 * gauss(random_)) * cells_that_count(g) + taper * ohm(g);
        }
        at(ProofRound::end_of_charge) = read(full, 0.3);
        const double days = between(random_, 1.5, 5);
        const double relaxed = between(random_, 0.012, 0.030);
        std::vector<double> later(series_);
        for (std::size_t g = 0; g < series_; ++g)
            later[g] = full[g] - taper * ohm(g) - (relaxed + 0.0010 * gauss(random_)) * cells_that_count(g) -
                       (out_.fault == BuiltFault::leaking_unit && g == bad_ ? leak_v_ : 0);
        at(ProofRound::after_rest) = read(later, 0.3 + days);
        units(soc, later);
        const double slow = between(random_, 0.05, 0.35);
        std::vector<double> loaded(series_);
        constexpr double seconds_each = 9;
        for (std::size_t g = 0; g < series_; ++g) {
            const double used = load_a_ * seconds_each * static_cast<double>(g) / 3600 / joined_ah(g);
            const double sunk = (rest_v(kind, share[g]) - rest_v(kind, share[g] - used)) * cells_that_count(g);
            loaded[g] = later[g] - load_a_ * (ohm(g) * (1 + slow) + links_[g]) - sunk + 0.001 * n_ * gauss(random_);
        }
        ProofReading load = read(loaded, 0.4 + days);
        load.load_a = std::round(load_a_ * 10) / 10;
        constexpr double s_per_day = 86400;
        for (std::size_t g = 0; g < series_; ++g)
            load.group_day[g] += seconds_each * static_cast<double>(g) / s_per_day;
        at(ProofRound::under_load) = load;
    }

    // Can to can while half of the load flows, one after the other.
    void units(const std::vector<double>& soc, const std::vector<double>& rested) {
        ProofReading& reading = out_.pack.rounds[static_cast<std::size_t>(ProofRound::units)];
        reading.unit_v.assign(series_, std::vector<std::optional<double>>(across_));
        reading.resolution = step_;
        if (across_ < 2)
            return;
        const double drawn = std::round(load_a_ / 2 * 10) / 10;
        reading.load_a = drawn;
        constexpr double seconds_each = 4;
        for (std::size_t g = 0; g < series_; ++g) {
            const double strip = rested[g] - drawn * ohm(g);
            const double sinks = drawn / joined_ah(g) / 3600 * 0.8 * n_; // V a second
            for (std::size_t p = 0; p < across_; ++p) {
                const Cell& cell = groups_[g][p];
                double volts = 0;
                if (cell.out)
                    volts = rest_v(chemistry_.id, soc[g]) * n_;
                else
                    volts = strip + (rested[g] - strip) * cell.joint / (cell.ohm + cell.joint);
                volts -= sinks * seconds_each * static_cast<double>(p) + 0.0004 * gauss(random_);
                reading.unit_v[g][p] = meter(volts);
            }
        }
    }

    void items() {
        const auto say = [&](ProofItem item, double value) { out_.pack.items[static_cast<std::size_t>(item)] = value; };
        say(ProofItem::insulation_plus, between(random_, 2e7, 2e8));
        say(ProofItem::insulation_minus, between(random_, 2e7, 2e8));
        say(ProofItem::output, *out_.pack.rounds.front().terminals_v * (1 + 0.001 * gauss(random_)));
        say(ProofItem::wakes, 1);
        say(ProofItem::sensor,
            out_.fault == BuiltFault::loose_sensor ? between(random_, 5e6, 5e8) : between(random_, 7e3, 14e3));
        say(ProofItem::works, 1);
        say(ProofItem::codes_clear, 1);
        double promised = 1e300;
        double came = 1e300;
        for (std::size_t g = 0; g < series_; ++g) {
            double sum = 0;
            for (const ProvenUnit& unit : out_.pack.units[g])
                sum += *unit.capacity_ah;
            promised = std::min(promised, sum);
            came = std::min(came, joined_ah(g));
        }
        out_.pack.promised_ah = promised;
        if (random_.unit() < 0.3 || !chemistry_.voltage_tells_charge) // where it is wanted, or asked for
            say(ProofItem::capacity, came * (1 + 0.006 * gauss(random_)));
    }

    ProofShop shop_;
    const Chemistry& chemistry_;
    Random& random_;
    BuiltPack out_;
    std::vector<std::vector<Cell>> groups_;
    std::vector<double> links_; // at the minus side of each group
    std::size_t series_ = 0, across_ = 0, bad_ = 0;
    double n_ = 1, load_a_ = 0, leak_v_ = 0;
    double step_ = 0.001, meter_gain_ = 1;
};

} // namespace

const char* code(BuiltFault fault) {
    constexpr std::array<const char*, built_fault_count> codes{
        "none",        "cold joint", "blown link",   "reversed cell",   "weak unit",
        "wrong model", "bad lead",   "loose sensor", "resistive strip", "leaking unit"};
    return codes.at(static_cast<std::size_t>(fault));
}

const char* code(ProofShop shop) {
    constexpr std::array<const char*, proof_shop_count> codes{"mowers", "lanterns", "rows", "banks"};
    return codes.at(static_cast<std::size_t>(shop));
}

const char* chemistry_of(ProofShop shop, Random& random) {
    const double draw = random.unit();
    if (shop == ProofShop::rows)
        return "nimh";
    return shop == ProofShop::banks && draw < 0.35 ? "lfp" : "nmc";
}

BuiltPack make_built_pack(ProofShop shop, const Chemistry& chemistry, Random& random) {
    return Maker(shop, chemistry, random).make();
}

} // namespace ingot
