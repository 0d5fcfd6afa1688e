// Simulated packs with hidden faults. Shares nothing with Ingot's explanation engine: single cells with curves of their
// own, charge counted cell by cell, parallel cells settled against each other, a charger that stops at the first group
// that is full, and things the engine does not model: temperature, hysteresis, unequal ageing, a meter with gain and
// offset, misread digits. Faults come in the sizes that a workshop acts on: the slightest are a leak of a tenth of the
// charge, a quarter of the capacity, 8 % of charge apart, 80 mV on a lead, a joint as resistive as the group itself.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace simulated {

struct Reading {
    int group = 0; // 1-based
    std::string condition;
    double volts = 0, amperes = 0, days = 0;
};

struct Case {
    int series = 0, parallel = 0, cells_per_unit = 1;
    std::string chemistry;
    std::string fault;       // the trade's name, as in ingot-cli
    std::vector<int> groups; // true ones, rising
    double severity = 0;     // 0 slight .. 1 plain
};

// A pack that can be read as a technician would.
class Pack {
public:
    // Deterministic: the same seed gives the same pack and the same readings in the same order.
    explicit Pack(std::uint64_t seed);
    [[nodiscard]] const Case& truth() const { return truth_; }
    [[nodiscard]] std::vector<Reading> at_rest();
    [[nodiscard]] std::vector<Reading> under_load();
    [[nodiscard]] std::vector<Reading> after_storage(double days);
    [[nodiscard]] std::vector<Reading> at_end_of_charge();
    [[nodiscard]] double terminals();
    [[nodiscard]] std::vector<double> units_of(int group); // links cut
    [[nodiscard]] bool swap_moves(int group);              // does the wrong reading go with the lead?

private:
    struct Cell {
        double capacity, charge, ohm, leak_per_day, curve_offset;
        bool joined = true;
        bool dead = false;
        double dead_volts = 0;
        double polarity = 1;
    };
    struct Group {
        std::vector<Cell> cells; // parallel
        std::vector<Cell> chain; // further cells in series of a module (one unit in parallel)
        double joint_ohm = 0;
        double read_error = 0;
    };
    double random();
    double normal();
    double curve(double charge, double offset, double direction) const;
    double open_volts(const Group& group, double direction) const;
    void settle(Group& group) const;
    double shown(double volts);
    std::vector<Reading> read(const std::string& condition, const std::vector<double>& volts, double amperes,
                              double days);
    void make();
    void break_it();

    std::uint64_t state_;
    Case truth_;
    std::vector<Group> groups_;
    double celsius_ = 20;
    double load_rate_ = 0; // It, 0: not loaded yet
    double gain_ = 1, offset_ = 0;
    double direction_ = 0;
    bool board_open_ = false;
    double stored_days_ = 0;
};

} // namespace simulated
