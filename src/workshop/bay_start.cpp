#include "workshop/bays.h"

#include "bench/scpi.h"
#include "exchange/protocol_toml.h"
#include "workshop/bench_wording.h"

#include <sstream>

namespace ingot {

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

std::optional<Problem> Bays::may_not_start(Id unit, int number, const Protocol* protocol) {
    const auto no = [](const std::string& why) { return Problem{"", 0, why}; };
    if (!workshop_.writable())
        return no("This workshop can only be read here, so nothing is started from it.");
    if (!tester_.ready())
        return no("The tester does not answer. Check its power and its line.");
    const BayView* bay = at(number);
    if (bay == nullptr)
        return no("There is no bay " + std::to_string(number) + ".");
    const UnitState* u = workshop_.unit(unit);
    if (u == nullptr)
        return no("Scan the unit first, then the bay.");
    if (bay->look != BayLook::free)
        return no("Bay " + std::to_string(number) + " holds " + bay->code +
                  (bay->look == BayLook::running ? ", which runs." : ". Lift it out first."));
    if (const BayView* other = bay_of(unit))
        return no(u->code() + " is in bay " + std::to_string(other->bay) + " already.");
    if (u->quarantined || u->verdict.duty == Duty::quarantine)
        return no(u->code() + " is in quarantine. It is not put on a bay.");
    if (!u->in_stock() && u->record.whereabouts != Whereabouts::reserved)
        return no(u->code() + " is not in stock.");
    if (protocol == nullptr)
        return no("There is no protocol for " + u->code() + ": its chemistry is not known.");
    if (const auto objected = objections(unit, *protocol); !objected.empty())
        return no(u->code() + ": " + wording::protocol_objection(objected.front(), *protocol).toStdString());
    return std::nullopt;
}

// The run stands in the file before the first ampere flows.
Result<BayRun> Bays::begin_run(Id unit, int number, const Protocol& protocol) {
    const std::string code = workshop_.unit(unit)->code();
    Run run;
    run.unit = unit;
    run.instrument = tester_.identity().model;
    run.protocol = protocol.stamp();
    run.began_at = run.recorded_at = workshop_.now();
    BayRun record;
    record.unit = unit;
    record.tester = address_;
    record.bay = number;
    record.protocol = protocol.id;
    record.protocol_version = protocol.version;
    record.protocol_text = exchange::write_protocol(protocol);
    record.state = "running";
    record.started_at = run.began_at;
    record.loops = loops_text(first_position(protocol).runs);
    ChangeSet changes = ChangeSet::unit(unit); // its rest voltage holds no longer
    changes.queue = true;
    const auto begun = workshop_.session_.commit(
        [&] {
            const Id id = workshop_.session_.runs.begin(run, record);
            workshop_.session_.runs.leave_queue(unit);
            workshop_.session_.record_event("put in a bay", code,
                                            "bay " + std::to_string(number) + ", " + protocol.stamp());
            return id;
        },
        changes);
    if (!begun)
        return Problem{workshop_.path(), 0, begun.problem().sentence + " Nothing was started."};
    record.run = begun.value();
    return record;
}

// Nobody's hand puts a simulated unit in: the tester is told what it is.
void Bays::load_simulated(const BayView& bay, const UnitState& unit) {
    const Chemistry* chemistry = chemistry_of(bay.unit);
    const BayUnit facts = bay_unit(bay.unit);
    const std::string kind = !chemistry->lithium ? "ni" : chemistry->id == "lfp" ? "lfp" : "li";
    const UnitModel* model = workshop_.library().model(unit.record.model);
    const double ohm = model != nullptr ? model->new_dc_resistance_ohm.value_or(0.05) : 0.05;
    const std::string fault = faults_.contains(bay.code) ? faults_.at(bay.code) : std::string();
    std::ostringstream line;
    line << "*CLS;SIM:LOAD " << bay.bay << "," << kind << "," << facts.rated_ah << "," << facts.cells << "," << ohm
         << "," << bay.unit << "," << bench::scpi_quoted(fault) << ";SYST:ERR?";
    tester_.tell(line.str(), [](const std::string&) {});
}

Result<Id> Bays::put_in(Id unit, int number, const std::string& protocol_id) {
    const Protocol* protocol = workshop_.library().protocol(protocol_id);
    if (auto problem = may_not_start(unit, number, protocol))
        return *std::move(problem);
    const auto begun = begin_run(unit, number, *protocol);
    if (!begun)
        return begun.problem();
    const BayRun& record = begun.value();
    const UnitState* u = workshop_.unit(unit);
    BayView* bay = at(number);
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
    if (tester_.identity().simulated())
        load_simulated(*bay, *u);
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

} // namespace ingot
