#include "workshop/bays.h"

#include "workshop/bench_wording.h"
#include "workshop/wording.h"

#include <algorithm>
#include <cmath>

namespace ingot {

void Bays::take_samples(Device& device, const std::vector<bench::TesterSample>& samples) {
    for (const bench::TesterSample& sample : samples) {
        BayView* bay = at(device, sample.bay);
        if (bay == nullptr || bay->run == 0)
            continue;
        if (bay->look != BayLook::running && bay->look != BayLook::waiting_to_start && bay->look != BayLook::in_doubt)
            continue;
        const auto& record = records_[bay->run];
        const auto waiting = pending_.find(bay->run);
        if (sample.sequence <= record.last_sequence ||
            (waiting != pending_.end() && sample.sequence <= waiting->second.last_sequence))
            continue; // taken before
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

void Bays::take_statuses(Device& device, const std::vector<bench::BayStatus>& statuses) {
    if (device.silent) {
        device.silent = false;
        emit changed();
    }
    for (const bench::BayStatus& status : statuses) {
        BayView* bay = at(device, status.bay);
        if (bay == nullptr)
            continue;
        if (bay->look == BayLook::running || bay->look == BayLook::in_doubt)
            take_status(device, *bay, status);
        else if (status.state == bench::BayState::running && !let_go_.empty())
            stop_what_was_let_go(device, status);
    }
}

void Bays::take_status(Device& device, BayView& bay, const bench::BayStatus& status) {
    bay.silent = false;
    const bool asking = device.tester->asking(); // something is just being started or stopped
    const std::string head = "ingot#" + std::to_string(bay.run) + "#";
    if (status.tag.rfind(head, 0) != 0) {
        if (asking)
            return;
        // Another run, or nothing, where ours should be: it never began, the tester was started anew, or somebody used
        // it.
        bay.gaps += bay.look == BayLook::running ? 1 : 0;
        bay.stop_words = bay.look == BayLook::in_doubt ? tr("It was never started.").toStdString()
                                                       : tr("The tester no longer knows this run.").toStdString();
        finish(bay, bench::StepEnd::stopped);
        return;
    }
    if (bay.look == BayLook::in_doubt) {
        bay.look = BayLook::running;
        emit changed();
    }
    if (asking)
        return;
    if (bay.stop_asked && status.state == bench::BayState::running) {
        send_stop(bay.bay);
        return;
    }
    // The step before the one that Ingot thinks it started: Ingot died between the two, or the line was silent.
    const bool older = std::atoi(status.tag.c_str() + head.size()) < bay.done;
    if (!older || status.state == bench::BayState::running)
        return;
    if (bay.stop_asked)
        finish(bay, bench::StepEnd::stopped);
    else
        start_step(bay);
}

// Cleared by hand while nobody knew, and the tester did start it.
void Bays::stop_what_was_let_go(Device& device, const bench::BayStatus& status) {
    const int number = device.first_bay + status.bay - 1;
    for (const Id run : let_go_)
        if (status.tag.rfind("ingot#" + std::to_string(run) + "#", 0) == 0 && !device.tester->asking()) {
            emit alarmed(tr("Bay %1 had started after all, and is stopped now.").arg(number));
            send_stop(number);
            return;
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
            throw std::runtime_error(written.problem().sentence.english());
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
    static_cast<OnChannel&>(record) = bay;
    record.step = bay.position.step;
    record.loops = loops_text(bay.position.runs);
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
        const auto opened = hold_apart(workshop_, bay, end == bench::StepEnd::hot ? "stopped hot" : "over voltage");
        if (!opened)
            emit told(tr("%1 stopped %2 and must be held apart, which could not be written: %3")
                          .arg(QString::fromStdString(bay.code), wording::step_end_word(end),
                               wording::problem(opened.problem())),
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
}

} // namespace ingot
