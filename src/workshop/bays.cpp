#include "workshop/bays.h"

#include "bench/scpi.h"
#include "exchange/protocol_toml.h"
#include "workshop/bench_wording.h"

#include <algorithm>
#include <cmath>
#include <sstream>

namespace ingot {

namespace {

constexpr std::size_t most_trace_points = 600;
constexpr int write_every_ms = 1000;
constexpr double seconds_per_hour = 3600;

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
                ++bay.holes;
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
    for (const auto& run : workshop_.records().open_bay_runs())
        if (run.tester == address && run.state == "running") {
            after = first ? run.last_sequence : std::min(after, run.last_sequence);
            first = false;
        }
    tester_.start_after(after);
    tester_.open(address);
}

void Bays::detach() {
    flush();
    tester_.close();
    address_.clear();
    bays_.clear();
    pending_.clear();
    records_.clear();
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
    if (tester_.identity().simulated())
        set_rate(rate_);
    emit changed();
}

void Bays::set_rate(double rate) {
    rate_ = rate;
    if (tester_.ready() && tester_.identity().simulated())
        tester_.tell("SIM:RATE " + std::to_string(rate) + ";SYST:ERR?", [](const std::string&) {});
}

std::string Bays::tag_of(const BayView& bay) const {
    return "ingot#" + std::to_string(bay.run) + "#" + std::to_string(bay.done);
}

// Runs that were not lifted when Ingot was last here.
void Bays::pick_up() {
    for (const auto& record : workshop_.records().open_bay_runs()) {
        BayView* bay = record.tester == address_ ? at(record.bay) : nullptr;
        const UnitState* unit = workshop_.unit(record.unit_id);
        if (bay == nullptr || unit == nullptr)
            continue;
        const auto protocol = exchange::read_protocol(record.protocol_text, record.protocol);
        if (!protocol)
            continue;
        bay->run = record.run_id;
        bay->unit = record.unit_id;
        bay->code = unit->code();
        bay->protocol = protocol.value();
        bay->position = {record.step, split(record.loops)};
        bay->position.runs.resize(bay->protocol.steps.size(), 0);
        bay->steps = steps_in_all(bay->protocol);
        bay->done = steps_done(bay->protocol, bay->position);
        bay->holes = record.holes;
        bay->began_s = record.began_s.value_or(0);
        bay->stop = bench::end_from(record.stop).value_or(bench::StepEnd::none);
        bay->look = record.state == "running" ? BayLook::running
                    : record.state == "done"  ? BayLook::lift_out
                                              : BayLook::stopped;
        records_[record.run_id] = record;
        const LogSamples so_far = workshop_.records().samples_of(record.run_id);
        const std::size_t every = std::max<std::size_t>(1, so_far.size() / most_trace_points);
        for (std::size_t i = 0; i < so_far.size(); i += every)
            bay->trace.add({so_far.time_s[i], so_far.voltage_v[i], so_far.current_a[i],
                            so_far.temperature_c.empty() ? 0 : so_far.temperature_c[i], 0, bay->done});
        if (so_far.size() > 0) {
            bay->last.voltage_v = so_far.voltage_v.back();
            bay->last.time_s = bay->began_s + so_far.time_s.back();
        }
        if (bay->look == BayLook::lift_out)
            bay->capacity_ah = unit->facts.capacity_ah;
        bay->step_began_s = bay->last.time_s;
        estimate(*bay);
    }
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
    out.rested_v = u->facts.rest_voltage_v;
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
    if (!u->in_stock() && u->record.state != "reserved")
        return Problem{"", 0, u->code() + " is not in stock."};
    const Protocol* protocol = workshop_.library().protocol(protocol_id);
    if (protocol == nullptr)
        return Problem{"", 0, "There is no protocol for " + u->code() + ": its chemistry is not known."};
    if (const auto objected = objections(unit, *protocol); !objected.empty())
        return Problem{"", 0,
                       u->code() + ": " + wording::protocol_objection(objected.front(), *protocol).toStdString()};
    store::RunRecord run;
    run.unit_id = unit;
    run.instrument = tester_.identity().model;
    run.protocol = protocol->stamp();
    run.imported_at = workshop_.now();
    store::BayRunRecord record;
    record.unit_id = unit;
    record.tester = address_;
    record.bay = number;
    record.protocol = protocol->id;
    record.protocol_version = protocol->version;
    record.protocol_text = exchange::write_protocol(*protocol);
    record.state = "running";
    record.started_at = workshop_.now();
    record.loops = joined(first_position(*protocol).runs);
    try {
        workshop_.records().together([&] {
            record.run_id = workshop_.records().begin_bay_run(run, record);
            workshop_.records().leave_queue(unit);
            workshop_.records().add(store::EventRecord{workshop_.now(), "put in a bay", u->code(),
                                                       "bay " + std::to_string(number) + ", " + protocol->stamp()});
        });
    } catch (const std::exception& exception) {
        return Problem{workshop_.path(), 0,
                       std::string("could not be written (") + exception.what() + "). Nothing was started."};
    }
    records_[record.run_id] = record;
    *bay = {};
    bay->bay = number;
    bay->run = record.run_id;
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
    return record.run_id;
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
        ++bay->holes;
        bay->stop_words = tr("The tester no longer knows this run.").toStdString();
        finish(*bay, bench::StepEnd::stopped);
    }
}

void Bays::flush() {
    if (pending_.empty() || !workshop_.writable())
        return;
    try {
        workshop_.records().together([&] {
            for (auto& [run, pending] : pending_)
                if (pending.samples.size() > 0)
                    workshop_.records().append_samples(run, pending.samples, pending.last_sequence);
            for (auto& [run, pending] : pending_)
                if (const auto record = records_.find(run); record != records_.end()) {
                    record->second.last_sequence = pending.last_sequence;
                    workshop_.records().update(record->second);
                }
        });
        pending_.clear();
    } catch (const std::exception& exception) {
        emit told(tr("The logs could not be written (%1). Check the disk; Ingot keeps the samples and tries again.")
                      .arg(QString::fromUtf8(exception.what())),
                  true);
    }
}

void Bays::save(const BayView& bay, const char* state) {
    auto& record = records_[bay.run];
    record.run_id = bay.run;
    record.step = bay.position.step;
    record.loops = joined(bay.position.runs);
    record.state = state;
    record.stop = bay.stop == bench::StepEnd::none ? "" : bench::code(bay.stop);
    record.holes = bay.holes;
    workshop_.records().update(record);
}

void Bays::step_ended(BayView& bay, bench::StepEnd end) {
    const ProtocolStep& step = bay.protocol.steps[static_cast<std::size_t>(bay.position.step)];
    if (step.kind == ProtocolStepKind::discharge)
        bay.cycles_ah.push_back(bay.last.moved_ah);
    // In a cycling run a limit on amount or time only cuts the charge short; everything else ends the run.
    const bool cut_short = bay.protocol.purpose == "conditioning" && step.kind == ProtocolStepKind::charge &&
                           (end == bench::StepEnd::capacity_limit || end == bench::StepEnd::time_limit);
    if (!bench::as_meant(end) && !cut_short) {
        finish(bay, end);
        return;
    }
    const auto next = next_position(bay.protocol, bay.position);
    if (!next) {
        finish(bay, end);
        return;
    }
    flush();
    bay.position = *next;
    ++bay.done;
    save(bay, "running");
    start_step(bay);
    emit changed();
}

void Bays::finish(BayView& bay, bench::StepEnd end) {
    flush();
    const bool whole = bench::as_meant(end) && !next_position(bay.protocol, bay.position);
    if (whole)
        ++bay.done;
    bay.stop = end;
    bay.look = whole ? BayLook::lift_out : BayLook::stopped;
    bay.hours_left = 0;
    auto& record = records_[bay.run];
    record.ended_at = workshop_.now();
    save(bay, whole ? "done" : "stopped");
    workshop_.records().pack_run(bay.run);
    conclude(bay);
    // What ran hot or over its voltage is a hazard until somebody has looked at it.
    if (end == bench::StepEnd::hot || end == bench::StepEnd::high_voltage) {
        const auto opened =
            workshop_.open_unit_quarantine(bay.unit, end == bench::StepEnd::hot ? "stopped hot" : "over voltage");
        if (!opened)
            emit told(QString::fromStdString(opened.problem().text()), true);
    }
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
    flush();
    auto& record = records_[bay->run];
    record.lifted_at = workshop_.now();
    save(*bay, "lifted");
    if (tester_.ready() && tester_.identity().simulated())
        tester_.tell("*CLS;SIM:UNLO " + std::to_string(number) + ";SYST:ERR?", [](const std::string&) {});
    records_.erase(bay->run);
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
