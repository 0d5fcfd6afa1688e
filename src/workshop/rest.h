// Rest: units that lie on the shelf, or inside a pack with their links cut; what their voltages say of leaks, and when
// each is to be read again. Where voltage says nothing of charge, the retention test.
#pragma once

#include "core/measure/retention.h"
#include "core/measure/self_discharge.h"
#include "core/sort/population.h"
#include "workshop/service.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

// What is read in one walk along the shelves shares the room and the meter.
struct ShelfRound {
    Id id = 0; // 0: not begun
    std::optional<double> room_c;
    std::string meter;
    std::string begun_at;
};

// Siblings of one model that stand at about the same voltage, with what their leaks are held against.
struct RestingSet {
    Chemistry chemistry;
    LeakRules rules;
    bool told_by_voltage = true; // false: the curve is too flat there; charge, rest for weeks and discharge instead
    std::vector<Subject> units;  // units of the stock, or places in a pack
    std::vector<RestingUnit> readings;      // hours from the shelf's first reading
    std::vector<std::vector<Trait>> traits; // of each: model, source, tray
    std::vector<std::optional<double>>
        full_days;     // of each: its last reading was stored so many days after a full charge
    double full_v = 0; // over a unit: what a charge reaches at most
};
// A unit in a retention test, as far as it has come.
struct RetentionStand {
    Id unit = 0;
    std::string charged_at;
    std::optional<MeasuredCharge> before, stored, recharged;
    double days = 0;             // from charge to discharge; 0: not discharged yet
    double limit_ah_per_day = 0; // 0: nobody knows its rating
};
// By value, so that it can be judged beside the window.
struct RestQuestion {
    std::string first_at; // hour 0
    std::vector<RestingSet> sets;
    std::vector<RetentionStand> retentions;
};

struct RestingLine {
    Id unit = 0;         // in stock; 0: a place in a pack
    Subject place;       // in a pack
    std::size_t set = 0; // in the question; of a retention alone: none
    std::size_t readings = 0;
    std::string last_at;
    std::string due_at; // when the next reading is expected to decide; empty: decided, or not told by voltage
    double limit_v_per_day = 0;
    bool told_by_voltage = true;
    LeakResult leak;
    std::optional<double> stored_full_days;  // fit for that alone: full for so long, and still nearly full
    std::optional<double> sees_v_per_day;    // undecided: the readings so far tell leaks from here on
    std::optional<double> apart_v;           // in a pack: so far from its group when the links were cut
    std::optional<RetentionStand> retention; // begun
    std::optional<RetentionResult> retained; // and discharged
    // The row's identity among the lines of a shelf: the unit's, or a negative one of the place.
    [[nodiscard]] Id row() const;
};
struct RestShelf {
    std::string first_at;
    std::vector<RestingLine> lines;  // what leaks first, then by when each is to be read
    std::vector<SharedTrait> shared; // by those that leak, against those that are decided
};

class RestService : public Service {
public:
    using Service::Service;

    // Every unit in stock that was read at rest since charge was last moved through it, and every place of a pack that
    // was read on its own. The limit is what the rule set lets a Store unit lose in a month, at the slope of the curve
    // where the unit stands.
    [[nodiscard]] RestQuestion question() const;
    // Nothing when it is no longer wanted.
    [[nodiscard]] static RestShelf judge(const RestQuestion& question, const Wanted& wanted = {});
    // The self-discharge of every unit that is decided, as a measurement; its rate is kept where it differs from what
    // stands. How many were kept.
    Result<int> keep(const RestShelf& shelf);

    // A walk begins: what is read from now on belongs to it. Objects to a room no person reads meters in.
    Result<ShelfRound> begin_round(std::optional<double> room_c, const std::string& meter);
    // Whether a reading now still belongs to the round: the same meter and room, and not begun too long ago.
    [[nodiscard]] bool stands(const ShelfRound& round, std::optional<double> room_c, const std::string& meter) const;
    // One voltage of the round; in the room for long, a unit has its temperature.
    [[nodiscard]] static Measurement reading(const ShelfRound& round, double volts, std::optional<double> resolution);
    // What a discharge gave after the unit was charged and stored. Objects where no full charge was noted before.
    Result<Measurement> discharged(Id unit, double ah, std::optional<double> resolution) const;
    // Days for which it stood as it was noted charged full when a run began. Nothing: nobody noted it, charge was moved
    // since, or it was less than a day, in which only the first hours' loss would be seen.
    [[nodiscard]] std::optional<double> days_stored(Id unit, Id run) const;

private:
    void add_places(RestQuestion& question) const;
    void add_retentions(RestQuestion& question) const;
    [[nodiscard]] double store_share(const Chemistry& chemistry, bool low_self_discharge = false) const;
};

} // namespace ingot
