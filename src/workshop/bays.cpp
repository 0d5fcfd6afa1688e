#include "workshop/bays.h"

#include "exchange/protocol_toml.h"
#include "workshop/bench_wording.h"
#include "workshop/wording.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <sstream>
#include <stdexcept>
#include <utility>

namespace ingot {

namespace {

constexpr std::size_t most_trace_points = 600;
constexpr int write_every_ms = 1000;

} // namespace

std::string Bays::loops_text(const std::vector<int>& numbers) {
    std::string out;
    for (const int n : numbers)
        out += (out.empty() ? "" : ",") + std::to_string(n);
    return out;
}

std::vector<int> Bays::loops_from(const std::string& text) {
    std::vector<int> out;
    std::istringstream in(text);
    std::string part;
    while (std::getline(in, part, ','))
        out.push_back(std::atoi(part.c_str()));
    return out;
}

void Trace::add(const Point& point) {
    if (++skipped_ < every_ && !points_.empty() && points_.back().step == point.step)
        return;
    skipped_ = 0;
    points_.push_back(point);
    if (points_.size() < most_trace_points)
        return;
    std::size_t kept = 0;
    for (std::size_t i = 0; i < points_.size(); i += 2)
        points_[kept++] = points_[i];
    points_.resize(kept);
    every_ *= 2;
}

void Trace::clear() {
    points_.clear();
    every_ = 1;
    skipped_ = 0;
}

Bays::Bays(Workshop& workshop, QObject* parent) : QObject(parent), workshop_(workshop) {
    connect(&write_, &QTimer::timeout, this, &Bays::flush);
    write_.start(write_every_ms);
}

Bays::~Bays() {
    flush();
}

BayView* Bays::at(int bay) {
    const auto found = std::find_if(bays_.begin(), bays_.end(), [&](const BayView& b) { return b.bay == bay; });
    return found == bays_.end() ? nullptr : &*found;
}

const BayView* Bays::bay(int number) const {
    const auto found = std::find_if(bays_.begin(), bays_.end(), [&](const BayView& b) { return b.bay == number; });
    return found == bays_.end() ? nullptr : &*found;
}

const BayView* Bays::bay_of(Id unit) const {
    const auto found = std::find_if(bays_.begin(), bays_.end(),
                                    [&](const BayView& b) { return b.holds(unit) && b.look != BayLook::free; });
    return found == bays_.end() ? nullptr : &*found;
}

const BayView* Bays::bay_of_assembly(Id assembly) const {
    const auto found = std::find_if(bays_.begin(), bays_.end(), [&](const BayView& b) {
        return assembly != 0 && b.assembly == assembly && b.look != BayLook::free;
    });
    return found == bays_.end() ? nullptr : &*found;
}

std::string Bays::tag_of(const BayView& bay) const {
    return "ingot#" + std::to_string(bay.run) + "#" + std::to_string(bay.done);
}

void Bays::StepSoFar::take(double time_s, double volts, double amperes, double celsius) {
    constexpr double seconds_per_half = 0.5;
    if (samples++ == 0) {
        start_s = time_s;
        start_v = volts;
    } else {
        energy_ws += seconds_per_half * (last_v * last_a + volts * amperes) * (time_s - last_s);
    }
    if (std::isfinite(celsius))
        hottest_c = std::max(hottest_c.value_or(celsius), celsius);
    last_s = time_s;
    last_v = volts;
    last_a = amperes;
}

void Bays::pick_up(const BayRun& record, BayView& bay) {
    static_cast<OnChannel&>(bay) = record;
    bay.run = record.run;
    bay.code = code_on(workshop_, record);
    bay.gaps = record.gaps;
    bay.began_s = record.began_s.value_or(0);
    bay.stop = bench::end_from(record.stop).value_or(bench::StepEnd::none);
    records_[record.run] = record;
    const auto protocol = exchange::read_protocol(record.protocol_text, record.protocol);
    if (!protocol) { // its bay is not free all the same
        bay.look = BayLook::stopped;
        bay.stop_words =
            tr("Its protocol cannot be read: %1").arg(wording::sentence(protocol.problem().sentence)).toStdString();
        emit told(tr("Bay %1 holds %2, whose protocol cannot be read. Stop it at the tester, then lift it out.")
                      .arg(bay.bay)
                      .arg(QString::fromStdString(bay.code)),
                  true);
        return;
    }
    bay.protocol = protocol.value();
    bay.position = {record.step, loops_from(record.loops)};
    bay.position.runs.resize(bay.protocol.steps.size(), 0);
    bay.steps = steps_in_all(bay.protocol);
    bay.done = steps_done(bay.protocol, bay.position);
    bay.look = record.state == "running" ? BayLook::running
               : record.state == "done"  ? BayLook::lift_out
                                         : BayLook::stopped;
    const LogSamples so_far = workshop_.session_.runs.samples_of(record.run);
    const std::size_t every = std::max<std::size_t>(1, so_far.size() / most_trace_points);
    for (std::size_t i = 0; i < so_far.size(); i += every)
        bay.trace.add({so_far.time_s[i], so_far.voltage_v[i], so_far.current_a[i],
                       so_far.temperature_c.empty() ? 0 : so_far.temperature_c[i], 0, bay.done});
    if (so_far.size() > 0) {
        bay.last.voltage_v = so_far.voltage_v.back();
        bay.last.time_s = bay.began_s + so_far.time_s.back();
    }
    // The step under way begins after the last one that was written.
    const auto steps = workshop_.session_.runs.steps_of(record.run);
    StepSoFar& step = so_far_[record.run];
    step.first_sample = steps.empty() ? 0 : steps.back().last_sample + 1;
    for (auto i = static_cast<std::size_t>(step.first_sample); i < so_far.size(); ++i)
        step.take(so_far.time_s[i], so_far.voltage_v[i], so_far.current_a[i],
                  so_far.temperature_c.empty() ? std::numeric_limits<double>::quiet_NaN() : so_far.temperature_c[i]);
    if (const UnitState* unit = workshop_.unit(record.unit);
        bay.look == BayLook::lift_out && unit != nullptr && !record.several() && unit->facts.capacity_ah)
        bay.capacity_ah = unit->facts.capacity_ah->value;
    bay.step_began_s = bay.last.time_s;
    estimate(bay);
}

void Bays::clear(BayView& bay) {
    BayView free;
    free.bay = bay.bay;
    free.of_tester = bay.of_tester;
    free.tester = bay.tester;
    free.address = bay.address;
    bay = std::move(free);
}

Result<bool> Bays::lift_out(int number) {
    BayView* bay = at(number);
    if (bay == nullptr || bay->look == BayLook::free)
        return Problem{"", 0, said("Bay {} is empty.", number)};
    if (bay->look == BayLook::waiting_to_start && bay->run == 0)
        return stop(number);
    // Of a tester that is gone for good nothing is ever confirmed: once it was told to stop, the person says what is.
    const Device* of = device_of(number);
    const bool given_up =
        bay->look == BayLook::running && bay->stop_asked && bay->silent && (of == nullptr || !of->tester->ready());
    if (!given_up && (bay->look == BayLook::running || bay->look == BayLook::waiting_to_start))
        return Problem{"", 0, said("{} still runs. Stop it first.", bay->code)};
    if (bay->look == BayLook::in_doubt || given_up) {
        let_go_.insert(bay->run);
        bay->stop_words = tr("Cleared by hand; whether it ran is not known.").toStdString();
        finish(*bay, bench::StepEnd::stopped);
    }
    records_[bay->run].lifted_at = workshop_.now();
    save(*bay, "lifted");
    flush();
    if (unwritten_)
        return Problem{workshop_.path(), 0,
                       said("This could not be written yet. Check the disk, then lift it out again.")};
    if (const Device* device = device_of(number); device != nullptr && device->tester->stand_in() != nullptr)
        device->tester->stand_in()->unload(bay->of_tester);
    records_.erase(bay->run);
    so_far_.erase(bay->run);
    clear(*bay);
    emit changed();
    return true;
}

void Bays::estimate(BayView& bay) {
    const BayUnit unit = bay_unit(bay);
    const double all = predicted_hours(bay.protocol, unit);
    // Of what is predicted, the steps to come, and of the present one what its own time leaves.
    double done = 0;
    auto position = std::optional<RunPosition>(first_position(bay.protocol));
    double present = 0;
    Protocol one; // each step by itself
    one.steps.resize(1);
    constexpr int most = 1000;
    for (int n = 0; position && n < most; ++n) {
        one.steps.front() = bay.protocol.steps[static_cast<std::size_t>(position->step)];
        const double hours = predicted_hours(one, unit);
        if (n < bay.done)
            done += hours;
        else if (n == bay.done)
            present = hours;
        else
            break;
        position = next_position(bay.protocol, *position);
    }
    const double run = std::max(0.0, bay.last.time_s - bay.step_began_s) / seconds_per_hour;
    bay.hours_left = std::max(0.0, all - done - std::min(run, present));
    const bool rests = bay.position.step < static_cast<int>(bay.protocol.steps.size()) &&
                       bay.protocol.steps[static_cast<std::size_t>(bay.position.step)].kind == ProtocolStepKind::rest;
    const double whole_ah = unit.capacity_ah.value_or(unit.rated_ah);
    const double share = rests          ? (present > 0 ? run / present : 0)
                         : whole_ah > 0 ? std::fabs(bay.last.moved_ah) / whole_ah
                                        : 0;
    bay.step_share = std::clamp(share, 0.0, 1.0);
    bay.cutoff_v = 0;
    for (const ProtocolStep& step : bay.protocol.steps)
        if (step.kind == ProtocolStepKind::discharge && step.volts)
            bay.cutoff_v = *step.volts * unit.cells;
}

} // namespace ingot
