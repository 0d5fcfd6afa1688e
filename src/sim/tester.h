// The simulated multi-bay tester: what it is told in lines, what it answers, and its own limits, which it watches by
// itself. Time runs as fast as it is told.
#pragma once

#include "bench/scpi.h"
#include "bench/tester_lines.h"
#include "sim/unit.h"

#include <deque>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace sim {

// What keeps a real one from being a perfect one.
struct Imperfections {
    double contact_ohm = 0;     // of clips and leads, within what it measures
    double volts_gain = 0;      // fraction by which its readings are off
    double amperes_gain = 0;    // and with them the charge that it counts
    double neighbour_share = 0; // of the neighbours' warmth over the room that a unit stands in, 0..1
    double supply_a = 0;        // charge currents together; 0: no limit. Over it all get less
    double drop_rate = 0;       // fraction of the bytes that it sends and that do not arrive
};

struct TesterMake {
    int bays = 8;
    std::uint64_t seed = 1;
    double rate = 1; // seconds of the tester per second of the wall clock
    double most_v = 20, most_a = 10;
    Imperfections imperfect{};
};

class Tester {
public:
    explicit Tester(const TesterMake& make);

    // One line in; the answer, or nothing where none is due.
    [[nodiscard]] std::optional<std::string> answer(const std::string& line);
    // Lets so many seconds of the wall clock pass.
    void pass(double wall_seconds);
    [[nodiscard]] double rate() const { return make_.rate; }
    [[nodiscard]] double now_s() const { return now_s_; }
    // What of a line arrives.
    [[nodiscard]] std::string through_the_line(const std::string& text);
    [[nodiscard]] Unit* unit(int bay) { return bays_.at(static_cast<std::size_t>(bay - 1)).unit.get(); }

private:
    struct Bay {
        int number = 0;
        std::unique_ptr<Unit> unit;
        std::optional<ingot::BayLimits> limits;
        ingot::BayStep step;
        ingot::bench::BayState state = ingot::bench::BayState::idle;
        ingot::bench::StepEnd end = ingot::bench::StepEnd::none;
        std::string tag;
        double sample_s = 1, next_sample_s = 0;
        double begun_s = 0, moved_ah = 0, peak_v = 0, held_v = 0;
        double warm_from_s = 0, warm_from_c = 0;
        double amperes = 0;
    };

    int probes_ = 0; // the bay that they touch; 0: none

    std::string obey(const ingot::bench::ScpiMessage& message);
    std::optional<std::string> measured(const ingot::bench::ScpiMessage& message);
    std::string obey_bay(Bay& bay, const ingot::bench::ScpiMessage& message);
    void start(Bay& bay, const ingot::bench::ScpiMessage& message);
    void load(const ingot::bench::ScpiMessage& message);
    void advance(Bay& bay, double seconds);
    [[nodiscard]] double current_now(Bay& bay) const;
    // At its clips, as it would measure it without error.
    [[nodiscard]] double clip_volts(const Bay& bay, double amperes) const;
    [[nodiscard]] double surroundings_of(std::size_t bay) const;
    void share_supply();
    [[nodiscard]] ingot::bench::StepEnd end_now(Bay& bay, double volts) const;
    void sample(Bay& bay, double volts);
    void end_all(ingot::bench::StepEnd end);
    void object(int number, const std::string& text);
    [[nodiscard]] std::optional<double> value(const ingot::bench::ScpiMessage& message, std::size_t index);

    TesterMake make_;
    std::vector<Bay> bays_;
    std::deque<ingot::bench::TesterSample> samples_;
    std::uint64_t sequence_ = 0;
    double now_s_ = 0;
    double supply_share_ = 1;                // of what the charging bays ask for
    double watchdog_s_ = 0, unspoken_s_ = 0; // of the wall clock; 0: no watchdog
    std::deque<std::string> errors_;
    std::mt19937_64 dice_;
};

} // namespace sim
