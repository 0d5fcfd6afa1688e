#include "workshop/bays.h"

#include "bench/scpi.h"
#include "exchange/protocol_toml.h"
#include "workshop/bench_wording.h"

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

std::string joined(const std::vector<int>& numbers) {
    std::string out;
    for (const int n : numbers)
        out += (out.empty() ? "" : ",") + std::to_string(n);
    return out;
}

std::vector<int> split(const std::string& text) {
    std::vector<int> out;
    std::istringstream in(text);
    std::string part;
    while (std::getline(in, part, ','))
        out.push_back(std::atoi(part.c_str()));
    return out;
}

} // namespace

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
    connect(&tester_, &bench::Tester::became_ready, this, &Bays::became_ready);
    connect(&tester_, &bench::Tester::sampled, this, &Bays::take_samples);
    connect(&tester_, &bench::Tester::stated, this, &Bays::take_statuses);
    connect(&tester_, &bench::Tester::gone, this, [this](const QString& why) {
        trouble(tr("The tester is gone (%1). It watches its own limits; Ingot looks for it.").arg(why));
    });
    connect(&tester_, &bench::Tester::silent, this,
            [this] { trouble(tr("The tester does not answer. It watches its own limits; Ingot goes on asking.")); });
    connect(&tester_, &bench::Tester::answered, this, [this] {
        silent_ = false;
        for (BayView& bay : bays_)
            bay.silent = false;
        emit told(tr("The tester answers again."), false);
        emit changed();
    });
    connect(&tester_, &bench::Tester::rubbish, this, [this](const QString& what) {
        emit told(tr("The tester sent something that is not understood: %1").arg(what), true);
    });
    connect(&tester_, &bench::Tester::hole, this, [this](std::uint64_t, std::uint64_t) {
        for (BayView& bay : bays_)
            if (bay.look == BayLook::running) {
                ++bay.gaps;
                save(bay, "running");
            }
        emit told(tr("Samples were lost: the tester remembers no further back. The logs show the hole."), true);
    });
    connect(&write_, &QTimer::timeout, this, &Bays::flush);
    write_.start(write_every_ms);
}

Bays::~Bays() {
    flush();
}

void Bays::attach(const std::string& address) {
    detach();
    address_ = address;
    // From where the runs under way were last written.
    std::uint64_t after = 0;
    bool first = true;
    for (const auto& run : workshop_.session_.runs.open())
        if (run.tester == address && run.state == "running") {
            after = first ? run.last_sequence : std::min(after, run.last_sequence);
            first = false;
        }
    tester_.start_after(after);
    tester_.open(address);
}

bool Bays::left_running() const {
    return !workshop_.session_.runs.open().empty();
}

void Bays::detach() {
    flush();
    tester_.close();
    address_.clear();
    bays_.clear();
    pending_.clear();
    records_.clear();
    so_far_.clear();
    silent_ = false;
    emit changed();
}

BayView* Bays::at(int bay) {
    return bay >= 1 && bay <= static_cast<int>(bays_.size()) ? &bays_[static_cast<std::size_t>(bay) - 1] : nullptr;
}

const BayView* Bays::bay_of(Id unit) const {
    const auto found = std::find_if(bays_.begin(), bays_.end(),
                                    [&](const BayView& b) { return b.unit == unit && b.look != BayLook::free; });
    return found == bays_.end() ? nullptr : &*found;
}

const Chemistry* Bays::chemistry_of(Id unit) const {
    const UnitState* u = workshop_.unit(unit);
    return u == nullptr ? nullptr : workshop_.library().chemistry(u->facts.chemistry);
}

void Bays::trouble(const QString& words) {
    if (silent_ || bays_.empty())
        return;
    silent_ = true;
    for (BayView& bay : bays_)
        bay.silent = bay.look == BayLook::running;
    emit told(words, true);
    emit changed();
}

void Bays::became_ready() {
    silent_ = false;
    for (BayView& bay : bays_)
        bay.silent = false;
    if (bays_.empty()) {
        bays_.resize(static_cast<std::size_t>(tester_.bays()));
        for (std::size_t b = 0; b < bays_.size(); ++b)
            bays_[b].bay = static_cast<int>(b) + 1;
        pick_up();
    }
    if (tester_.identity().simulated()) {
        set_rate(rate_);
        describe_simulated();
    }
    emit changed();
}

// Its errors are known, because they are made: its meter's noise.
void Bays::describe_simulated() {
    const std::string name = tester_.identity().model;
    if (!workshop_.writable() || workshop_.test().errors_of(name))
        return;
    Instrument instrument;
    instrument.name = name;
    instrument.kind = "tester";
    instrument.channels = std::max(1, tester_.bays());
    constexpr double noise_a = 0.0005;
    constexpr double gain = 0.0005;
    instrument.current_gain = gain;
    instrument.current_offset_a = noise_a;
    if (const auto done = workshop_.catalogue().set_instrument(instrument); !done)
        emit told(QString::fromStdString(done.problem().text()), true);
}

void Bays::set_rate(double rate) {
    rate_ = rate;
    if (tester_.ready() && tester_.identity().simulated())
        tester_.tell("SIM:RATE " + std::to_string(rate) + ";SYST:ERR?", [](const std::string&) {});
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

// Runs that were not lifted when Ingot was last here.
void Bays::pick_up() {
    try {
        for (const BayRun& record : workshop_.session_.runs.open())
            if (BayView* bay = record.tester == address_ ? at(record.bay) : nullptr;
                bay != nullptr && workshop_.unit(record.unit) != nullptr)
                pick_up(record, *bay);
    } catch (const std::exception& exception) {
        emit told(tr("The runs that were under way could not be read (%1). The tester watches its own limits.")
                      .arg(QString::fromUtf8(exception.what())),
                  true);
    }
}

void Bays::pick_up(const BayRun& record, BayView& bay) {
    const UnitState* unit = workshop_.unit(record.unit);
    bay.run = record.run;
    bay.unit = record.unit;
    bay.code = unit->code();
    bay.gaps = record.gaps;
    bay.began_s = record.began_s.value_or(0);
    bay.stop = bench::end_from(record.stop).value_or(bench::StepEnd::none);
    records_[record.run] = record;
    const auto protocol = exchange::read_protocol(record.protocol_text, record.protocol);
    if (!protocol) { // its bay is not free all the same
        bay.look = BayLook::stopped;
        bay.stop_words = tr("Its protocol cannot be read: %1")
                             .arg(QString::fromStdString(protocol.problem().sentence))
                             .toStdString();
        emit told(tr("Bay %1 holds %2, whose protocol cannot be read. Stop it at the tester, then lift it out.")
                      .arg(bay.bay)
                      .arg(QString::fromStdString(bay.code)),
                  true);
        return;
    }
    bay.protocol = protocol.value();
    bay.position = {record.step, split(record.loops)};
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
    if (bay.look == BayLook::lift_out && unit->facts.capacity_ah)
        bay.capacity_ah = unit->facts.capacity_ah->value;
    bay.step_began_s = bay.last.time_s;
    estimate(bay);
}

BayUnit Bays::bay_unit(Id unit) const {
    BayUnit out;
    const UnitState* u = workshop_.unit(unit);
    if (u == nullptr)
        return out;
    out.rated_ah = u->reference.rated_ah;
    out.cells = std::max(1, u->reference.cells_in_series);
    if (const UnitModel* model = workshop_.library().model(u->record.model))
        out.continuous_a = model->continuous_a;
    out.rested_v = u->facts.fresh_voltage_v();
    out.capacity_ah = u->facts.capacity_ah;
    return out;
}

std::vector<ProtocolObjection> Bays::objections(Id unit, const Protocol& protocol) const {
    const Chemistry* chemistry = chemistry_of(unit);
    if (chemistry == nullptr)
        return {{ProtocolFault::wrong_chemistry, -1, 0, 0}};
    return check_protocol(protocol, bay_unit(unit), *chemistry, tester_.abilities(), room_c_);
}

std::string Bays::usual_protocol(Id unit) const {
    const Chemistry* chemistry = chemistry_of(unit);
    if (chemistry == nullptr)
        return {};
    const bool module = bay_unit(unit).cells > 1 && !chemistry->lithium;
    const Protocol* best = nullptr;
    for (const auto& [id, protocol] : workshop_.library().protocols) {
        if (!protocol.suits(chemistry->id) || protocol.purpose != (module ? "conditioning" : "capacity"))
            continue;
        if (best == nullptr || protocol.steps.size() < best->steps.size())
            best = &protocol;
    }
    if (best == nullptr && module)
        for (const auto& [id, protocol] : workshop_.library().protocols)
            if (protocol.suits(chemistry->id) && protocol.purpose == "capacity")
                best = &protocol;
    return best == nullptr ? std::string() : best->id;
}

Result<Id> Bays::put_in(Id unit, int number, const std::string& protocol_id) {
    if (!workshop_.writable())
        return Problem{"", 0, "This workshop can only be read here, so nothing is started from it."};
    if (!tester_.ready())
        return Problem{"", 0, "The tester does not answer. Check its power and its line."};
    BayView* bay = at(number);
    if (bay == nullptr)
        return Problem{"", 0, "There is no bay " + std::to_string(number) + "."};
    const UnitState* u = workshop_.unit(unit);
    if (u == nullptr)
        return Problem{"", 0, "Scan the unit first, then the bay."};
    if (bay->look != BayLook::free)
        return Problem{"", 0,
                       "Bay " + std::to_string(number) + " holds " + bay->code +
                           (bay->look == BayLook::running ? ", which runs." : ". Lift it out first.")};
    if (const BayView* other = bay_of(unit))
        return Problem{"", 0, u->code() + " is in bay " + std::to_string(other->bay) + " already."};
    if (u->quarantined || u->verdict.duty == Duty::quarantine)
        return Problem{"", 0, u->code() + " is in quarantine. It is not put on a bay."};
    if (!u->in_stock() && u->record.whereabouts != Whereabouts::reserved)
        return Problem{"", 0, u->code() + " is not in stock."};
    const Protocol* protocol = workshop_.library().protocol(protocol_id);
    if (protocol == nullptr)
        return Problem{"", 0, "There is no protocol for " + u->code() + ": its chemistry is not known."};
    if (const auto objected = objections(unit, *protocol); !objected.empty())
        return Problem{"", 0,
                       u->code() + ": " + wording::protocol_objection(objected.front(), *protocol).toStdString()};
    Run run;
    run.unit = unit;
    run.instrument = tester_.identity().model;
    run.protocol = protocol->stamp();
    run.began_at = run.recorded_at = workshop_.now();
    BayRun record;
    record.unit = unit;
    record.tester = address_;
    record.bay = number;
    record.protocol = protocol->id;
    record.protocol_version = protocol->version;
    record.protocol_text = exchange::write_protocol(*protocol);
    record.state = "running";
    record.started_at = run.began_at;
    record.loops = joined(first_position(*protocol).runs);
    const std::string code = u->code();
    ChangeSet changes = ChangeSet::unit(unit); // its rest voltage holds no longer
    changes.queue = true;
    const auto begun = workshop_.session_.commit(
        [&] {
            const Id id = workshop_.session_.runs.begin(run, record);
            workshop_.session_.runs.leave_queue(unit);
            workshop_.session_.record_event("put in a bay", code,
                                            "bay " + std::to_string(number) + ", " + protocol->stamp());
            return id;
        },
        changes);
    if (!begun)
        return Problem{workshop_.path(), 0, begun.problem().sentence + " Nothing was started."};
    record.run = begun.value();
    u = workshop_.unit(unit);
    so_far_[record.run] = {};
    records_[record.run] = record;
    *bay = {};
    bay->bay = number;
    bay->run = record.run;
    bay->unit = unit;
    bay->code = u->code();
    bay->protocol = *protocol;
    bay->position = first_position(*protocol);
    bay->steps = steps_in_all(*protocol);
    bay->look = BayLook::waiting_to_start;
    if (tester_.identity().simulated()) {
        // Nobody's hand puts a simulated unit in: the tester is told what it is.
        const Chemistry* chemistry = chemistry_of(unit);
        const BayUnit facts = bay_unit(unit);
        const std::string kind = !chemistry->lithium ? "ni" : chemistry->id == "lfp" ? "lfp" : "li";
        const UnitModel* model = workshop_.library().model(u->record.model);
        const double ohm = model != nullptr ? model->new_dc_resistance_ohm.value_or(0.05) : 0.05;
        const std::string fault = faults_.contains(bay->code) ? faults_.at(bay->code) : std::string();
        std::ostringstream line;
        line << "*CLS;SIM:LOAD " << number << "," << kind << "," << facts.rated_ah << "," << facts.cells << "," << ohm
             << "," << unit << "," << bench::scpi_quoted(fault) << ";SYST:ERR?";
        tester_.tell(line.str(), [](const std::string&) {});
    }
    start_step(*bay);
    emit changed();
    return record.run;
}

void Bays::start_step(BayView& bay) {
    const Chemistry* chemistry = chemistry_of(bay.unit);
    if (chemistry == nullptr)
        return;
    const ProtocolStep& step = bay.protocol.steps[static_cast<std::size_t>(bay.position.step)];
    const BayUnit unit = bay_unit(bay.unit);
    const int number = bay.bay;
    const Id run = bay.run;
    bay.step_began_s = bay.last.time_s;
    tester_.start(number, limits_for(bay.protocol, step, unit, *chemistry), resolve(step, unit), tag_of(bay), sample_s_,
                  [this, number, run](const std::string& objection) {
                      BayView* started = at(number);
                      if (started == nullptr || started->run != run)
                          return;
                      if (objection.empty()) {
                          if (started->look == BayLook::waiting_to_start)
                              started->look = BayLook::running;
                      } else if (tester_.ready() && !silent_) {
                          started->stop_words = objection;
                          finish(*started, bench::StepEnd::stopped);
                          emit told(tr("Bay %1 was not started: %2").arg(number).arg(QString::fromStdString(objection)),
                                    true);
                      }
                      emit changed();
                  });
    estimate(bay);
}

void Bays::take_samples(const std::vector<bench::TesterSample>& samples) {
    for (const bench::TesterSample& sample : samples) {
        BayView* bay = at(sample.bay);
        if (bay == nullptr || bay->run == 0)
            continue;
        if (bay->look != BayLook::running && bay->look != BayLook::waiting_to_start)
            continue;
        const auto& record = records_[bay->run];
        if (sample.sequence <= record.last_sequence)
            continue; // written before
        bay->look = BayLook::running;
        Pending& pending = pending_[bay->run];
        if (!records_[bay->run].began_s) {
            records_[bay->run].began_s = sample.time_s;
            pending.header = true;
            bay->began_s = bay->step_began_s = sample.time_s;
        }
        if (bay->step_began_s == 0 || bay->last.end != bench::StepEnd::none)
            bay->step_began_s = sample.time_s;
        const double t = sample.time_s - bay->began_s;
        pending.samples.time_s.push_back(t);
        pending.samples.voltage_v.push_back(sample.voltage_v);
        pending.samples.current_a.push_back(sample.current_a);
        pending.samples.temperature_c.push_back(sample.temperature_c);
        pending.last_sequence = sample.sequence;
        so_far_[bay->run].take(t, sample.voltage_v, sample.current_a, sample.temperature_c);
        bay->last = sample;
        bay->trace.add({t, sample.voltage_v, sample.current_a, sample.temperature_c, sample.moved_ah, bay->done});
        if (sample.end != bench::StepEnd::none)
            step_ended(*bay, sample.end);
        else
            estimate(*bay);
    }
    emit moved();
}

void Bays::take_statuses(const std::vector<bench::BayStatus>& statuses) {
    if (silent_) {
        silent_ = false;
        emit changed();
    }
    for (const bench::BayStatus& status : statuses) {
        BayView* bay = at(status.bay);
        if (bay == nullptr || bay->look != BayLook::running)
            continue;
        bay->silent = false;
        // Another run, or nothing, where ours should be: the tester was started anew, or somebody used it.
        const std::string head = "ingot#" + std::to_string(bay->run) + "#";
        if (status.tag.rfind(head, 0) == 0) {
            // The step before the one that Ingot thinks it started: Ingot died between the two.
            const bool older = std::atoi(status.tag.c_str() + head.size()) < bay->done;
            if (older && status.state != bench::BayState::running && tester_.line().waiting() == 0)
                start_step(*bay);
            continue;
        }
        if (tester_.line().waiting() > 0)
            continue; // just being started
        ++bay->gaps;
        bay->stop_words = tr("The tester no longer knows this run.").toStdString();
        finish(*bay, bench::StepEnd::stopped);
    }
}

void Bays::flush() {
    if (!workshop_.writable())
        return;
    std::vector<Id> over;
    try {
        const auto written = workshop_.session_.step(
            [&] {
                for (auto& [run, pending] : pending_) {
                    if (pending.samples.size() > 0)
                        workshop_.session_.runs.append(run, pending.samples, pending.last_sequence);
                    for (const RunStep& step : pending.steps)
                        workshop_.session_.runs.add(run, step);
                    if (pending.header)
                        workshop_.session_.runs.update(records_.at(run));
                }
            },
            {});
        if (!written)
            throw std::runtime_error(written.problem().sentence);
    } catch (const std::exception& exception) {
        if (!std::exchange(unwritten_, true))
            emit told(tr("The logs could not be written (%1). Check the disk; Ingot keeps the samples and tries again.")
                          .arg(QString::fromUtf8(exception.what())),
                      true);
        return;
    }
    if (std::exchange(unwritten_, false))
        emit told(tr("The logs are written again; nothing was lost."), false);
    for (auto& [run, pending] : pending_) {
        if (pending.samples.size() > 0)
            records_[run].last_sequence = pending.last_sequence;
        if (pending.conclude)
            over.push_back(run);
    }
    pending_.clear();
    for (const Id run : over)
        for (BayView& bay : bays_)
            if (bay.run == run)
                conclude(bay);
}

void Bays::save(const BayView& bay, const char* state) {
    BayRun& record = records_[bay.run];
    record.run = bay.run;
    record.unit = bay.unit;
    record.step = bay.position.step;
    record.loops = joined(bay.position.runs);
    record.state = state;
    record.stop = bay.stop == bench::StepEnd::none ? "" : bench::code(bay.stop);
    record.gaps = bay.gaps;
    pending_[bay.run].header = true;
}

// The step as the instrument said it, to be written with its samples.
void Bays::end_step(BayView& bay, bench::StepEnd end) {
    const ProtocolStep& protocol_step = bay.protocol.steps[static_cast<std::size_t>(bay.position.step)];
    const StepSoFar so_far = so_far_[bay.run];
    RunStep step;
    step.number = bay.done + 1;
    switch (protocol_step.kind) {
    case ProtocolStepKind::charge:
        step.kind = RunStepKind::charge;
        break;
    case ProtocolStepKind::discharge:
        step.kind = RunStepKind::discharge;
        break;
    case ProtocolStepKind::pulse:
        step.kind = RunStepKind::pulse;
        break;
    case ProtocolStepKind::rest:
    case ProtocolStepKind::loop:
        step.kind = RunStepKind::rest;
        break;
    }
    step.end = bench::code(end);
    step.as_meant = bench::as_meant(end);
    step.start_s = so_far.start_s;
    step.end_s = so_far.last_s;
    step.charge_ah = bay.last.moved_ah;
    step.energy_wh = std::fabs(so_far.energy_ws) / seconds_per_hour;
    if (so_far.samples > 0) {
        step.start_v = so_far.start_v;
        step.end_v = so_far.last_v;
        step.hottest_c = so_far.hottest_c;
    }
    if (step.end_s > step.start_s)
        step.mean_a = bay.last.moved_ah * seconds_per_hour / (step.end_s - step.start_s);
    step.first_sample = so_far.first_sample;
    step.last_sample = std::max(so_far.first_sample, so_far.first_sample + so_far.samples - 1);
    pending_[bay.run].steps.push_back(step);
    so_far_[bay.run] = {};
    so_far_[bay.run].first_sample = so_far.first_sample + so_far.samples;
}

void Bays::step_ended(BayView& bay, bench::StepEnd end) {
    const ProtocolStep& step = bay.protocol.steps[static_cast<std::size_t>(bay.position.step)];
    if (step.kind == ProtocolStepKind::discharge)
        bay.cycles_ah.push_back(bay.last.moved_ah);
    // In a cycling run a limit on amount or time only cuts the charge short; everything else ends the run.
    const bool cut_short = bay.protocol.purpose == "conditioning" && step.kind == ProtocolStepKind::charge &&
                           (end == bench::StepEnd::capacity_limit || end == bench::StepEnd::time_limit);
    const auto next = bench::as_meant(end) || cut_short ? next_position(bay.protocol, bay.position) : std::nullopt;
    if (!next) {
        finish(bay, end);
        return;
    }
    end_step(bay, end);
    bay.position = *next;
    ++bay.done;
    save(bay, "running");
    flush();
    start_step(bay);
    emit changed();
}

void Bays::finish(BayView& bay, bench::StepEnd end) {
    const bool whole = bench::as_meant(end) && !next_position(bay.protocol, bay.position);
    // What ran hot or over its voltage is a hazard until somebody has looked at it: that is written first.
    if (end == bench::StepEnd::hot || end == bench::StepEnd::high_voltage) {
        const auto opened =
            workshop_.receive().open_quarantine(bay.unit, end == bench::StepEnd::hot ? "stopped hot" : "over voltage");
        if (!opened)
            emit told(tr("%1 stopped %2 and must be held apart, which could not be written: %3")
                          .arg(QString::fromStdString(bay.code), wording::step_end_word(end),
                               QString::fromStdString(opened.problem().text())),
                      true);
    }
    end_step(bay, end);
    if (whole)
        ++bay.done;
    bay.stop = end;
    bay.look = whole ? BayLook::lift_out : BayLook::stopped;
    bay.hours_left = 0;
    records_[bay.run].ended_at = workshop_.now();
    save(bay, whole ? "done" : "stopped");
    pending_[bay.run].conclude = true;
    flush();
    emit ended(bay.bay);
    emit changed();
    if (frees_itself_ && whole && bay.verdict && *bay.verdict != ConditioningVerdict::keep_cycling)
        (void)lift_out(bay.bay);
}

Result<bool> Bays::stop(int number) {
    const BayView* bay = at(number);
    if (bay == nullptr || bay->look != BayLook::running)
        return Problem{"", 0, "Nothing runs on bay " + std::to_string(number) + "."};
    tester_.stop(number, [this, number](const std::string& objection) {
        if (!objection.empty())
            emit told(tr("Bay %1 was not stopped: %2").arg(number).arg(QString::fromStdString(objection)), true);
    });
    return true;
}

Result<bool> Bays::lift_out(int number) {
    BayView* bay = at(number);
    if (bay == nullptr || bay->look == BayLook::free)
        return Problem{"", 0, "Bay " + std::to_string(number) + " is empty."};
    if (bay->look == BayLook::running || bay->look == BayLook::waiting_to_start)
        return Problem{"", 0, bay->code + " still runs. Stop it first."};
    records_[bay->run].lifted_at = workshop_.now();
    save(*bay, "lifted");
    flush();
    if (unwritten_)
        return Problem{workshop_.path(), 0, "This could not be written yet. Check the disk, then lift it out again."};
    if (tester_.ready() && tester_.identity().simulated())
        tester_.tell("*CLS;SIM:UNLO " + std::to_string(number) + ";SYST:ERR?", [](const std::string&) {});
    records_.erase(bay->run);
    so_far_.erase(bay->run);
    *bay = {};
    bay->bay = number;
    emit changed();
    return true;
}

void Bays::estimate(BayView& bay) {
    const BayUnit unit = bay_unit(bay.unit);
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
    bay.cutoff_v = 0;
    for (const ProtocolStep& step : bay.protocol.steps)
        if (step.kind == ProtocolStepKind::discharge && step.volts)
            bay.cutoff_v = *step.volts * unit.cells;
}

} // namespace ingot
