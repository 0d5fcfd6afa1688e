#include "workshop/bays.h"

#include "exchange/protocol_toml.h"
#include "workshop/bench_wording.h"
#include "workshop/wording.h"

#include <QPointer>

namespace ingot {

BayUnit Bays::bay_unit(const OnChannel& on) const {
    return bay_unit_of(workshop_, on);
}

std::vector<ProtocolObjection> Bays::objections(const OnChannel& on, const Protocol& protocol, int bay) const {
    const Chemistry* chemistry = chemistry_on(workshop_, on);
    const Device* device = device_of(bay);
    if (chemistry == nullptr || device == nullptr)
        return {{ProtocolFault::wrong_chemistry, -1, 0, 0}};
    return check_protocol(protocol, bay_unit(on), *chemistry, device->tester->abilities(), room_c_);
}

std::vector<ProtocolObjection> Bays::objections(const OnChannel& on, const Protocol& protocol) const {
    const Chemistry* chemistry = chemistry_on(workshop_, on);
    if (chemistry == nullptr)
        return {{ProtocolFault::wrong_chemistry, -1, 0, 0}};
    std::optional<std::vector<ProtocolObjection>> least;
    for (const auto& device : devices_)
        if (auto objected = check_protocol(protocol, bay_unit(on), *chemistry, device->tester->abilities(), room_c_);
            !least || objected.size() < least->size())
            least = std::move(objected);
    return least ? *least : check_protocol(protocol, bay_unit(on), *chemistry, BayAbilities{}, room_c_);
}

std::string Bays::usual_protocol(const OnChannel& on) const {
    return usual_protocol_of(workshop_, on);
}

std::optional<Problem> Bays::may_not_start(const OnChannel& on, int number, const Protocol* protocol) {
    const auto no = [](Sentence why) { return Problem{"", 0, std::move(why)}; };
    if (!workshop_.writable())
        return may_run_on_no_bay(workshop_, on, protocol);
    if (!ready())
        return no(said("The tester does not answer. Check its power and its line."));
    const BayView* bay = at(number);
    const Device* device = device_of(number);
    if (bay == nullptr || device == nullptr)
        return no(said("There is no bay {}.", number));
    if (!device->tester->ready())
        return no(
            said("The tester of bay {}, {}, does not answer. Check its power and its line.", number, bay->tester));
    if (!known_on(workshop_, on))
        return no(said("Scan the unit first, then the bay."));
    if (bay->look != BayLook::free)
        return no(said("Bay {} holds {}{}", number, bay->code,
                       (bay->look == BayLook::running ? ", which runs." : ". Lift it out first.")));
    for (const BayView& other : bays_)
        if (const auto shared = shared_by(workshop_, on, other); other.look != BayLook::free && shared)
            return no(said("{} is in bay {} already.", *shared, other.bay));
    for (const BayRun& run : workshop_.session_.runs.open())
        if (const auto shared = shared_by(workshop_, on, run); shared && run_by_hand(run))
            return no(said("{} is on a charger run by hand, channel {}.", *shared, run.bay));
    if (auto problem = may_run_on_no_bay(workshop_, on, protocol))
        return problem;
    if (const auto objected = objections(on, *protocol, number); !objected.empty())
        return no(said("{}: {}", code_on(workshop_, on),
                       wording::protocol_objection(objected.front(), *protocol).toStdString()));
    return std::nullopt;
}

// The run stands in the file before the first ampere flows.
Result<BayRun> Bays::begin_run(const BayView& bay) {
    const Protocol& protocol = bay.protocol;
    Run run;
    static_cast<OnChannel&>(run) = bay;
    run.instrument = bay.tester;
    run.protocol = protocol.stamp();
    run.began_at = run.recorded_at = workshop_.now();
    BayRun record;
    static_cast<OnChannel&>(record) = bay;
    record.tester = device_of(bay.bay)->place.address;
    record.bay = bay.of_tester;
    record.protocol = protocol.id;
    record.protocol_version = protocol.version;
    record.protocol_text = exchange::write_protocol(protocol);
    record.state = "running";
    record.started_at = run.began_at;
    record.loops = loops_text(first_position(protocol).runs);
    ChangeSet changes = touched_by(bay); // its rest voltage holds no longer
    changes.queue = true;
    const auto begun = workshop_.session_.commit(
        [&] {
            const Id id = workshop_.session_.runs.begin(run, record);
            for (const Id unit : bay.units())
                workshop_.session_.runs.leave_queue(unit);
            workshop_.session_.record_event("put in a bay", bay.code,
                                            "bay " + std::to_string(bay.bay) + ", " + protocol.stamp());
            return id;
        },
        changes);
    if (!begun)
        return Problem{workshop_.path(), 0, said("{} Nothing was started.", begun.problem().sentence)};
    record.run = begun.value();
    return record;
}

// Nobody's hand puts a simulated unit in: the tester is told what it is.
void Bays::load_simulated(const BayView& bay) {
    const Chemistry* chemistry = chemistry_on(workshop_, bay);
    const BayUnit facts = bay_unit(bay);
    const std::string kind = !chemistry->lithium ? "ni" : chemistry->id == "lfp" ? "lfp" : "li";
    const UnitState* unit = workshop_.unit(bay.unit);
    const UnitModel* model = unit != nullptr ? workshop_.library().model(unit->record.model) : nullptr;
    constexpr double usual_ohm = 0.05;
    const Assembly* pack = workshop_.assembly(bay.assembly);
    const double units = pack != nullptr ? static_cast<double>(pack->layout.series) / pack->layout.parallel
                                         : static_cast<double>(bay.behind.size() + 1);
    const double ohm = units * (model != nullptr ? model->new_dc_resistance_ohm.value_or(usual_ohm) : usual_ohm);
    const std::string fault = faults_.contains(bay.code) ? faults_.at(bay.code) : std::string();
    device_of(bay.bay)->tester->stand_in()->load(
        bay.of_tester, {kind, facts.rated_ah, facts.cells, ohm, bay.unit + bay.assembly, fault, facts.rested_v});
}

Result<bool> Bays::put_in(const OnChannel& on, int number, const std::string& protocol_id) {
    const Protocol* protocol = workshop_.library().protocol(protocol_id);
    if (auto problem = may_not_start(on, number, protocol))
        return *std::move(problem);
    BayView* bay = at(number);
    clear(*bay);
    static_cast<OnChannel&>(*bay) = on;
    bay->code = code_on(workshop_, on);
    bay->protocol = *protocol;
    bay->position = first_position(*protocol);
    bay->steps = steps_in_all(*protocol);
    bay->look = BayLook::waiting_to_start;
    bench::Tester& tester = *device_of(number)->tester;
    if (tester.stand_in() != nullptr)
        load_simulated(*bay);
    tester.read_voltage(bay->of_tester, [this, alive = QPointer<Bays>(this), number, on](const auto& volts) {
        if (alive)
            found(number, on, volts);
    });
    emit changed();
    return true;
}

std::optional<Sentence> Bays::objection_to_found(const BayView& bay, const Result<std::optional<double>>& volts) const {
    if (!volts)
        return said("the tester did not say what stands there ({}).", volts.problem().sentence);
    const Chemistry* chemistry = chemistry_on(workshop_, bay);
    if (chemistry == nullptr)
        return said("its chemistry is not known.");
    BayUnit unit = bay_unit(bay);
    unit.found_v = volts.value().value_or(0); // nothing to read is nothing there
    const auto objected =
        check_protocol(bay.protocol, unit, *chemistry, device_of(bay.bay)->tester->abilities(), room_c_);
    if (objected.empty())
        return std::nullopt;
    return as_told(wording::protocol_objection(objected.front(), bay.protocol).toStdString());
}

// Nothing flowed, nothing is kept: the bay is as it was.
void Bays::not_begun(BayView& bay, const Sentence& why) {
    const QString words = tr("Bay %1, %2: %3 No current flowed.")
                              .arg(bay.bay)
                              .arg(QString::fromStdString(bay.code), wording::sentence(why));
    clear(bay);
    emit told(words, true);
    emit changed();
}

void Bays::found(int number, const OnChannel& on, const Result<std::optional<double>>& volts) {
    BayView* bay = at(number);
    if (bay == nullptr || static_cast<const OnChannel&>(*bay) != on || bay->run != 0 ||
        bay->look != BayLook::waiting_to_start)
        return; // lifted out meanwhile
    if (const auto objection = objection_to_found(*bay, volts)) {
        not_begun(*bay, *objection);
        return;
    }
    const auto written = begin_run(*bay);
    if (!written) {
        not_begun(*bay, written.problem().sentence);
        return;
    }
    const BayRun& record = written.value();
    so_far_[record.run] = {};
    records_[record.run] = record;
    bay->run = record.run;
    bay->found_v = volts.value();
    bay->last.voltage_v = bay->found_v.value_or(0);
    start_step(*bay);
    emit begun(number);
    emit changed();
}

void Bays::heard_of_start(BayView& bay, const bench::Tester::Reply& reply) {
    using Told = bench::Tester::Told;
    const bool waits = bay.look == BayLook::waiting_to_start; // of a later step nothing is in doubt: it is begun again
    if (reply.told == Told::confirmed) {
        if (waits)
            bay.look = BayLook::running;
        return;
    }
    if (reply.told == Told::no_answer) {
        if (!waits)
            return;
        bay.look = BayLook::in_doubt;
        emit alarmed(tr("Bay %1 was told to start and did not answer: current may flow. Look at the tester. Ingot asks "
                        "it on; what it turns out to do is shown, and Stop holds.")
                         .arg(bay.bay));
        return;
    }
    if (reply.told == Told::not_sent && !waits)
        return;
    bay.stop_words = wording::sentence(reply.words).toStdString();
    const int number = bay.bay;
    finish(bay, bench::StepEnd::stopped);
    emit told(tr("Bay %1 was not started: %2").arg(number).arg(wording::sentence(reply.words)), true);
}

void Bays::start_step(BayView& bay) {
    const Chemistry* chemistry = chemistry_on(workshop_, bay);
    const Device* device = device_of(bay.bay);
    if (chemistry == nullptr || device == nullptr)
        return;
    const ProtocolStep& step = bay.protocol.steps[static_cast<std::size_t>(bay.position.step)];
    const BayUnit unit = bay_unit(bay);
    const int number = bay.bay;
    const Id run = bay.run;
    bay.step_began_s = bay.last.time_s;
    device->tester->start(bay.of_tester, limits_for(bay.protocol, step, unit, *chemistry), resolve(step, unit),
                          tag_of(bay), sample_s_,
                          [this, alive = QPointer<Bays>(this), number, run](const bench::Tester::Reply& reply) {
                              if (!alive)
                                  return;
                              BayView* started = at(number);
                              if (started == nullptr || started->run != run)
                                  return;
                              heard_of_start(*started, reply);
                              emit changed();
                          });
    estimate(bay);
}

Result<bool> Bays::stop(int number) {
    BayView* bay = at(number);
    if (bay == nullptr ||
        (bay->look != BayLook::running && bay->look != BayLook::waiting_to_start && bay->look != BayLook::in_doubt))
        return Problem{"", 0, said("Nothing runs on bay {}.", number)};
    if (bay->run == 0) { // only its voltage is being read
        not_begun(*bay, said("taken back."));
        return true;
    }
    bay->stop_asked = true;
    send_stop(number);
    emit changed();
    return true;
}

// Asked again with every status that still says it runs.
void Bays::send_stop(int number) {
    const Device* device = device_of(number);
    const BayView* bay = at(number);
    if (device == nullptr || bay == nullptr)
        return;
    device->tester->stop(bay->of_tester, [this, alive = QPointer<Bays>(this),
                                          number](const bench::Tester::Reply& reply) {
        if (!alive || reply.confirmed())
            return;
        if (reply.told == bench::Tester::Told::refused)
            emit alarmed(tr("Bay %1 was not stopped: %2. Switch it off at the tester.")
                             .arg(number)
                             .arg(wording::sentence(reply.words)));
        else
            emit alarmed(tr("Bay %1 may still run: the tester did not confirm the stop. Switch it off at the tester, "
                            "or lift the unit off its clips; Ingot stops it as soon as the tester answers.")
                             .arg(number));
    });
}

double Bays::watchdog_s() const {
    const std::string kept = workshop_.catalogue().setting("tester_watchdog_s");
    return kept.empty() ? 0 : std::atof(kept.c_str());
}

Result<bool> Bays::set_watchdog(double seconds) {
    if (auto done = workshop_.catalogue().set_setting("tester_watchdog_s", std::to_string(seconds)); !done)
        return done;
    for (const auto& device : devices_)
        tell_watchdog(*device);
    return true;
}

void Bays::tell_watchdog(Device& device) {
    if (!device.tester->ready())
        return;
    device.tester->set_watchdog(watchdog_s(), [this, alive = QPointer<Bays>(this),
                                               name = named(device)](const bench::Tester::Reply& reply) {
        if (alive && !reply.confirmed() && watchdog_s() > 0)
            emit told(tr("%1 has no watchdog (%2): when Ingot or the line goes, its steps go on to their own limits.")
                          .arg(name, wording::sentence(reply.words)),
                      true);
    });
}

} // namespace ingot
