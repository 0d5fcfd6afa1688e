#include "core/build/pack_in_use.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace ingot {

const char* code(EndReason reason) {
    switch (reason) {
    case EndReason::cutoff:
        return "cutoff";
    case EndReason::empty:
        return "empty";
    case EndReason::power:
        return "power";
    case EndReason::time:
        return "time";
    }
    return "";
}

namespace {

constexpr double seconds_per_hour = 3600;

// The curve for many lookups that move little from one to the next. Beyond its ends it goes on as it came, so that a
// cell that is emptier than empty gives way to its neighbours.
class Ocv {
public:
    explicit Ocv(const OcvCurve& curve) : soc_(curve.soc()), volts_(curve.ocv_v()) {
        energy_.push_back(0);
        for (std::size_t i = 0; i + 1 < soc_.size(); ++i) {
            slope_.push_back((volts_[i + 1] - volts_[i]) / (soc_[i + 1] - soc_[i]));
            energy_.push_back(energy_.back() + (volts_[i] + volts_[i + 1]) / 2 * (soc_[i + 1] - soc_[i]));
        }
    }
    double at(double soc, std::size_t& segment) const {
        while (segment > 0 && soc < soc_[segment])
            --segment;
        while (segment + 1 < slope_.size() && soc >= soc_[segment + 1])
            ++segment;
        return volts_[segment] + slope_[segment] * (soc - soc_[segment]);
    }
    // The integral of the curve from its beginning, V: times the charge, an energy.
    double energy(double soc, std::size_t& segment) const {
        const double volts = at(soc, segment);
        return energy_[segment] + (volts_[segment] + volts) / 2 * (soc - soc_[segment]);
    }
    [[nodiscard]] double steepest() const { return *std::max_element(slope_.begin(), slope_.end()); }

private:
    std::vector<double> soc_, volts_, slope_, energy_;
};

// All cells side by side, group after group.
struct State {
    std::vector<double> soc, rc_v;
};
struct Instant {
    double current_a = 0;
    std::vector<double> group_v;
    std::vector<double> cell_a;
    bool possible = true; // the power can be drawn
};

class March {
public:
    March(const PackDesign& design, const Chemistry& chemistry, const PackLoad& load, const PackRunOptions& options)
        : ocv_(chemistry.ocv), load_(load), joint_ohm_(design.joint_ohm), until_v_(options.until_v),
          step_s_(options.step_s), longest_s_(options.longest_s) {
        for (const auto& group : design.groups) {
            begin_.push_back(capacity_.size());
            double conductance = 0;
            double capacity = 0;
            for (const auto& cell : group) {
                capacity_.push_back(cell.capacity_ah * seconds_per_hour);
                per_coulomb_.push_back(1 / capacity_.back());
                ohm_.push_back(cell.resistance_ohm);
                siemens_.push_back(1 / cell.resistance_ohm);
                const bool pair = cell.r1_ohm > 0 && cell.c1_f > 0;
                r1_.push_back(pair ? cell.r1_ohm : 0);
                tau_.push_back(pair ? cell.r1_ohm * cell.c1_f : 1);
                if (pair)
                    fastest_s_ = std::min(fastest_s_, tau_.back());
                now_.soc.push_back(cell.soc);
                conductance += siemens_.back();
                capacity += capacity_.back();
                // What lies between two cells of a group evens out with this time constant; steps stay below it.
                if (group.size() > 1)
                    evening_s_ = std::min(evening_s_, capacity_.back() * cell.resistance_ohm / ocv_.steepest());
            }
            conductance_.push_back(conductance);
            group_capacity_.push_back(capacity);
        }
        begin_.push_back(capacity_.size());
        now_.rc_v.assign(capacity_.size(), 0);
        segment_.assign(capacity_.size(), 0);
        paired_ = std::isfinite(fastest_s_);
        run_.groups.assign(design.groups.size(), {0, std::numeric_limits<double>::infinity()});
        peak_a_.assign(capacity_.size(), 0);
        cell_lost_j_.assign(capacity_.size(), 0);
    }

    Result<PackRun> go() {
        const double start_j = stored();
        const std::vector<double> begin = now_.soc;
        const std::size_t levels = load_.levels.size();
        for (std::size_t round = 0;; ++round) {
            const double drawn = run_.usable_ah;
            const double fullness = total_charge();
            for (std::size_t l = 0; l < levels; ++l) {
                if (hold(load_.levels[l].value, length_of(l)))
                    return finish(start_j, begin);
                if (single() && load_.levels[0].value <= 0)
                    return never();
            }
            if (!longest_s_ && (total_charge() >= fullness * (1 - least_change) || run_.usable_ah <= drawn))
                return never();
            if (time_s_ > longest_s)
                return Problem{"", 0, said("the load takes the pack over a century to empty. Give a larger one.")};
        }
    }

private:
    static constexpr double least_change = 1e-12;
    static constexpr double longest_s = 100.0 * 365 * 24 * 3600;

    static Result<PackRun> never() {
        return Problem{"", 0,
                       said("this load never empties the pack. Draw more than is put back (positive is drawn).")};
    }
    [[nodiscard]] bool single() const { return load_.levels.size() == 1; }
    [[nodiscard]] double length_of(std::size_t level) const {
        const auto& levels = load_.levels;
        if (single())
            return std::numeric_limits<double>::infinity();
        if (level + 1 < levels.size())
            return levels[level + 1].from_s - levels[level].from_s;
        return levels[level].from_s - levels[level - 1].from_s;
    }
    [[nodiscard]] double total_charge() const {
        double out = 0;
        for (std::size_t i = 0; i < capacity_.size(); ++i)
            out += capacity_[i] * now_.soc[i];
        return out;
    }
    // What the cells still hold: chemistry and RC pairs, J.
    double stored() {
        double out = 0;
        for (std::size_t i = 0; i < capacity_.size(); ++i) {
            out += capacity_[i] * ocv_.energy(now_.soc[i], segment_[i]);
            if (r1_[i] > 0)
                out += tau_[i] / r1_[i] * now_.rc_v[i] * now_.rc_v[i] / 2;
        }
        return out;
    }

    // Currents and voltages at one moment.
    void look(const State& state, double value, Instant& out) {
        const std::size_t groups = conductance_.size();
        out.cell_a.resize(capacity_.size());
        out.group_v.resize(groups);
        double open_v = 0;
        double ohm = joint_ohm_;
        for (std::size_t g = 0; g < groups; ++g) {
            double driven = 0;
            for (std::size_t i = begin_[g]; i < begin_[g + 1]; ++i) {
                const double u = ocv_.at(state.soc[i], segment_[i]) - state.rc_v[i];
                out.cell_a[i] = u; // kept here until the group's voltage is known
                driven += siemens_[i] * u;
            }
            out.group_v[g] = driven / conductance_[g];
            open_v += out.group_v[g];
            ohm += 1 / conductance_[g];
        }
        out.possible = true;
        out.current_a = value;
        if (load_.power) { // (open - ohm I) I = P, the root with the smaller current
            const double root = open_v * open_v - 4 * ohm * value;
            out.possible = root >= 0;
            out.current_a = out.possible ? 2 * value / (open_v + std::sqrt(root)) : 0;
        }
        for (std::size_t g = 0; g < groups; ++g) {
            out.group_v[g] -= out.current_a / conductance_[g];
            for (std::size_t i = begin_[g]; i < begin_[g + 1]; ++i)
                out.cell_a[i] = siemens_[i] * (out.cell_a[i] - out.group_v[g]);
        }
    }

    void move(const State& from, const std::vector<double>& amps, double dt, State& to) const {
        to.soc.resize(from.soc.size());
        to.rc_v.resize(from.soc.size());
        for (std::size_t i = 0; i < from.soc.size(); ++i)
            to.soc[i] = from.soc[i] - amps[i] * dt * per_coulomb_[i];
        if (!paired_)
            return;
        for (std::size_t i = 0; i < from.soc.size(); ++i) {
            const double kept = std::exp(-dt / tau_[i]);
            to.rc_v[i] = from.rc_v[i] * kept + amps[i] * r1_[i] * (1 - kept);
        }
    }

    // Where the pack stands at that moment: ended or not, and by what.
    std::optional<std::size_t> ended(const State& state, const Instant& instant, EndReason& reason) const {
        if (!instant.possible) {
            reason = EndReason::power;
            return lowest(instant);
        }
        const std::size_t low = lowest(instant);
        if (instant.group_v[low] <= until_v_) {
            reason = EndReason::cutoff;
            return low;
        }
        for (std::size_t g = 0; g < conductance_.size(); ++g) {
            double left = 0;
            for (std::size_t i = begin_[g]; i < begin_[g + 1]; ++i)
                left += capacity_[i] * state.soc[i];
            if (left <= 0) {
                reason = EndReason::empty;
                return g;
            }
        }
        return std::nullopt;
    }
    static std::size_t lowest(const Instant& instant) {
        return static_cast<std::size_t>(std::min_element(instant.group_v.begin(), instant.group_v.end()) -
                                        instant.group_v.begin());
    }

    [[nodiscard]] double step_for(const Instant& instant, double left_s) const {
        constexpr double finest_share = 1e-4; // of a whole discharge
        constexpr double below_evening = 0.4;
        double step = step_s_.value_or(1.0);
        if (!step_s_ && std::fabs(instant.current_a) > 0) {
            const double smallest = *std::min_element(group_capacity_.begin(), group_capacity_.end());
            step = std::max(step, finest_share * smallest / std::fabs(instant.current_a));
        } else if (!step_s_) {
            step = std::isfinite(left_s) ? std::max(step, left_s / 100) : step;
        }
        // After the load has changed, the RC pairs move: fine steps first, longer ones as they settle.
        constexpr double share_of_settling = 0.05;
        const double settling = share_of_settling * (fastest_s_ + since_change_s_);
        return std::min({step, left_s, settling, std::max(below_evening * evening_s_, least_step_s)});
    }

    // Holds a level of load; true when the pack ended.
    bool hold(double value, double length_s) {
        const double until = longest_s_ ? *longest_s_ - time_s_ : length_s;
        const bool cut = until <= length_s && longest_s_.has_value();
        double left = cut ? until : length_s;
        since_change_s_ = 0;
        look(now_, value, here_);
        if (stop(now_, here_))
            return true;
        note(here_);
        while (left > 0) {
            if (single() && value <= 0 && !longest_s_)
                return false;
            const double dt = step_for(here_, left);
            if (!step(value, dt)) { // it ends within this step: find where
                close_in(value, dt);
                return true;
            }
            left -= dt;
            if (left < least_step_s)
                left = 0;
        }
        if (cut) {
            run_.ended_by = lowest(here_);
            run_.ended_at_v = here_.group_v[run_.ended_by];
            run_.reason = EndReason::time;
        }
        return cut;
    }

    bool stop(const State& state, const Instant& instant) {
        EndReason reason{};
        const auto by = ended(state, instant, reason);
        if (!by)
            return false;
        run_.ended_by = *by;
        run_.ended_at_v = instant.group_v[*by];
        run_.reason = reason;
        return true;
    }

    // Heun's step: with the currents of its beginning, then with the mean of both ends. False: the pack is past its
    // end.
    bool step(double value, double dt) {
        move(now_, here_.cell_a, dt, guess_);
        look(guess_, value, there_);
        if (!there_.possible)
            return false;
        mean_.resize(here_.cell_a.size());
        for (std::size_t i = 0; i < mean_.size(); ++i)
            mean_[i] = (here_.cell_a[i] + there_.cell_a[i]) / 2;
        move(now_, mean_, dt, next_);
        look(next_, value, there_);
        EndReason reason{};
        if (ended(next_, there_, reason))
            return false;
        take(dt);
        return true;
    }

    // Accepts the step that leads from here_ to there_.
    void take(double dt) {
        for (std::size_t i = 0; i < mean_.size(); ++i)
            cell_lost_j_[i] += loss(i, dt);
        const double amps = (here_.current_a + there_.current_a) / 2;
        const double here_w = here_.current_a * terminal(here_);
        const double there_w = there_.current_a * terminal(there_);
        run_.usable_ah += amps * dt / seconds_per_hour;
        given_j_ += (here_w + there_w) / 2 * dt;
        lost_j_ += joint_ohm_ * (here_.current_a * here_.current_a + there_.current_a * there_.current_a) / 2 * dt;
        std::swap(now_, next_);
        std::swap(here_, there_);
        time_s_ += dt;
        since_change_s_ += dt;
        note(here_);
    }
    // Of one cell over the step, J: trapezoid of I^2 R, and the RC pair's resistor with the step's mean current, whose
    // voltage v(t) = I R1 + (v0 - I R1) exp(-t / tau) is known.
    [[nodiscard]] double loss(std::size_t i, double dt) const {
        double out = (here_.cell_a[i] * here_.cell_a[i] + there_.cell_a[i] * there_.cell_a[i]) / 2 * ohm_[i] * dt;
        if (r1_[i] > 0) {
            const double settled = mean_[i] * r1_[i];
            const double away = now_.rc_v[i] - settled;
            const double kept = std::exp(-dt / tau_[i]);
            out += (settled * settled * dt + 2 * settled * away * tau_[i] * (1 - kept) +
                    away * away * tau_[i] / 2 * (1 - kept * kept)) /
                   r1_[i];
        }
        return out;
    }
    [[nodiscard]] double terminal(const Instant& instant) const {
        double out = -joint_ohm_ * instant.current_a;
        for (const double v : instant.group_v)
            out += v;
        return out;
    }

    void close_in(double value, double dt) {
        double behind = dt;
        constexpr int halvings = 50;
        for (int n = 0; n < halvings && behind > least_step_s / 10; ++n) {
            behind /= 2;
            (void)step(value, behind); // where it is refused, the end lies in this half; else in the other
        }
        // A hair further, to have what ended it.
        move(now_, here_.cell_a, behind, next_);
        look(next_, value, there_);
        if (stop(next_, there_))
            return;
        run_.ended_by = lowest(here_);
        run_.ended_at_v = here_.group_v[run_.ended_by];
        run_.reason = load_.power ? EndReason::power : EndReason::cutoff;
    }

    void note(const Instant& instant) {
        for (std::size_t g = 0; g < instant.group_v.size(); ++g)
            run_.groups[g].lowest_v = std::min(run_.groups[g].lowest_v, instant.group_v[g]);
        for (std::size_t i = 0; i < instant.cell_a.size(); ++i)
            peak_a_[i] = std::max(peak_a_[i], instant.cell_a[i]);
        if (samples_seen_++ % keep_every_ != 0)
            return;
        run_.curve.push_back({time_s_, terminal(instant), instant.current_a});
        constexpr std::size_t most = 800;
        if (run_.curve.size() >= most) { // every second one from here on
            keep_every_ *= 2;
            for (std::size_t i = 0; 2 * i < run_.curve.size(); ++i)
                run_.curve[i] = run_.curve[2 * i];
            run_.curve.resize((run_.curve.size() + 1) / 2);
        }
    }

    Result<PackRun> finish(double start_j, const std::vector<double>& begin) {
        run_.run_time_s = time_s_;
        run_.usable_wh = given_j_ / seconds_per_hour;
        const double taken = start_j - stored();
        for (const double lost : cell_lost_j_)
            lost_j_ += lost;
        const double scale = std::max({std::fabs(taken), std::fabs(given_j_), lost_j_});
        run_.energy_balance = scale > 0 ? (taken - given_j_ - lost_j_) / scale : 0;
        for (std::size_t g = 0; g < conductance_.size(); ++g) {
            auto& cells = run_.cells.emplace_back();
            for (std::size_t i = begin_[g]; i < begin_[g + 1]; ++i) {
                const double left = now_.soc[i] * capacity_[i] / seconds_per_hour;
                run_.groups[g].left_ah += left;
                const double given = (begin[i] - now_.soc[i]) * capacity_[i];
                cells.push_back(
                    {peak_a_[i], time_s_ > 0 ? given / time_s_ : 0, left, time_s_ > 0 ? cell_lost_j_[i] / time_s_ : 0});
            }
            if (!std::isfinite(run_.groups[g].lowest_v))
                run_.groups[g].lowest_v = here_.group_v[g];
            run_.groups[g].lowest_v = std::min(run_.groups[g].lowest_v, here_.group_v[g]);
        }
        return std::move(run_);
    }

    static constexpr double least_step_s = 1e-7;
    Ocv ocv_;
    const PackLoad& load_;
    double joint_ohm_, until_v_;
    std::optional<double> step_s_, longest_s_;
    std::vector<std::size_t> begin_;
    std::vector<double> capacity_, per_coulomb_, ohm_, siemens_, r1_, tau_; // of each cell: C, 1/C, ohm, S, ohm, s
    std::vector<double> conductance_, group_capacity_;                      // of each group: S, C
    double evening_s_ = std::numeric_limits<double>::infinity();
    double fastest_s_ = std::numeric_limits<double>::infinity(); // of the RC pairs
    bool paired_ = false;
    double since_change_s_ = 0; // of the load
    State now_, next_, guess_;
    Instant here_, there_;
    std::vector<std::size_t> segment_;
    std::vector<double> mean_, peak_a_, cell_lost_j_;
    double time_s_ = 0, given_j_ = 0, lost_j_ = 0; // lost: in the joints; with the cells' at the end
    std::size_t samples_seen_ = 0, keep_every_ = 1;
    PackRun run_;
};

std::optional<Problem> object_to(const PackDesign& design, const Chemistry& chemistry, const PackLoad& load,
                                 const PackRunOptions& options) {
    const auto objection = [](Sentence sentence) { return Problem{"", 0, std::move(sentence)}; };
    if (design.groups.empty())
        return objection(said("the design has no group. Give one list of cells for each group."));
    for (std::size_t g = 0; g < design.groups.size(); ++g) {
        const std::string group = "group " + std::to_string(g + 1);
        if (design.groups[g].empty())
            return objection(said("{} has no cell.", group));
        for (const auto& cell : design.groups[g]) {
            const std::string name = cell.id.empty() ? "a cell of " + group : cell.id;
            if (!(cell.capacity_ah > 0) || !(cell.resistance_ohm > 0))
                return objection(said("{}: capacity and resistance must be over 0.", name));
            if (!(cell.soc >= 0 && cell.soc <= 1))
                return objection(said("{}: the state of charge is a share from 0 to 1.", name));
            if (cell.r1_ohm < 0 || cell.c1_f < 0 || (cell.r1_ohm > 0) != (cell.c1_f > 0))
                return objection(said("{}: r1_ohm and c1_f belong together, both over 0.", name));
        }
    }
    if (!(design.joint_ohm >= 0))
        return objection(said("joint_ohm cannot be negative."));
    if (load.levels.empty())
        return objection(said("the load has no level. Give a time and a current or power."));
    for (std::size_t l = 1; l < load.levels.size(); ++l)
        if (!(load.levels[l].from_s > load.levels[l - 1].from_s))
            return objection(said("the times of the load must rise."));
    if (options.step_s && !(*options.step_s > 0))
        return objection(said("a step must be over 0 s."));
    if (chemistry.ocv.empty())
        return objection(said("this chemistry has no curve of open-circuit voltage."));
    return std::nullopt;
}

} // namespace

Result<PackRun> run_pack(const PackDesign& design, const Chemistry& chemistry, const PackLoad& load,
                         const PackRunOptions& options) {
    if (auto objection = object_to(design, chemistry, load, options))
        return std::move(*objection);
    return March(design, chemistry, load, options).go();
}

} // namespace ingot
