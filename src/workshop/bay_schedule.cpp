#include "workshop/bay_schedule.h"

#include "exchange/attended_hours.h"
#include "exchange/csv.h"
#include "exchange/jobs_csv.h"

#include <QCoreApplication>

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

constexpr double ms_per_hour = 3'600'000;
constexpr int usual_bays = 8;
constexpr int first_channel = 1000; // an insisted bay from here on is a charger's channel, in their order
constexpr double least_h = 0.01;

QDateTime time_of(const std::string& text) {
    return QDateTime::fromString(QString::fromStdString(text), Qt::ISODate);
}

ChangeSet queue_changed() {
    ChangeSet changes;
    changes.queue = true;
    return changes;
}

std::set<Id> as_set(const OnChannel& on) {
    const auto units = on.units();
    return {units.begin(), units.end()};
}

double hours_between(const QDateTime& from, const QDateTime& to) {
    return static_cast<double>(from.msecsTo(to)) / ms_per_hour;
}

} // namespace

QString BaySchedule::Planned::place(int bay) const {
    const auto channel = static_cast<std::size_t>(bay - tester_bays);
    return bay < tester_bays || channel >= channels.size()
               ? QCoreApplication::translate("BaySchedule", "bay %1").arg(bay + 1)
               : QCoreApplication::translate("BaySchedule", "%1, channel %2")
                     .arg(QString::fromStdString(channels[channel].first))
                     .arg(channels[channel].second);
}

QString BaySchedule::Planned::short_place(int bay) const {
    const auto channel = static_cast<std::size_t>(bay - tester_bays);
    return bay < tester_bays || channel >= channels.size() ? QString::number(bay + 1)
                                                           : QStringLiteral("%1 %2")
                                                                 .arg(QString::fromStdString(channels[channel].first))
                                                                 .arg(channels[channel].second);
}

std::set<Id> BaySchedule::standing() const {
    std::set<Id> out;
    for (const BayRun& run : workshop_.session_.runs.open())
        out.merge(as_set(run));
    for (const BayView& bay : bays_.bays())
        out.merge(as_set(bay)); // its run may not be written yet
    return out;
}

bool BaySchedule::fits_anywhere(Id unit, const Protocol& protocol) const {
    return bays_.objections(unit, protocol).empty() || (!hand_.chargers().empty() && hand_.fits(unit, protocol));
}

// Where nothing fits it is planned all the same, and refused with the reason when it is put in.
std::vector<bool> BaySchedule::fits(Id unit, const Protocol& protocol, const Planned& planned) const {
    std::vector<bool> out(static_cast<std::size_t>(planned.problem.bays), true);
    for (const BayView& bay : bays_.bays())
        out[static_cast<std::size_t>(bay.bay) - 1] = bays_.objections(unit, protocol, bay.bay).empty();
    const bool by_hand = hand_.fits(unit, protocol);
    for (std::size_t c = 0; c < planned.channels.size(); ++c)
        out[static_cast<std::size_t>(planned.tester_bays) + c] = by_hand;
    if (std::none_of(out.begin(), out.end(), [](bool fits) { return fits; }))
        out.clear();
    return out;
}

BenchHours BaySchedule::hours() const {
    BenchHours out;
    out.attended = exchange::parse_shift("08:00-18:00").value();
    if (const auto shift = exchange::parse_shift(workshop_.catalogue().setting("attended_hours")); shift)
        out.attended = shift.value();
    if (const std::string days = workshop_.catalogue().setting("attended_days"); !days.empty())
        (void)exchange::parse_days(days, out.attended);
    out.supply_a = exchange::parse_number(workshop_.catalogue().setting("supply_a"));
    return out;
}

Result<bool> BaySchedule::set_hours(const BenchHours& hours) {
    ChangeSet changes;
    changes.settings = true;
    return workshop_.session_.step(
        [&] {
            workshop_.session_.catalogue.set("attended_hours", exchange::write_shift(hours.attended));
            workshop_.session_.catalogue.set("attended_days", exchange::write_days(hours.attended));
            workshop_.session_.catalogue.set("supply_a", exchange::csv_number(hours.supply_a));
        },
        changes);
}

std::map<std::string, std::vector<Id>> BaySchedule::may_wait() const {
    std::map<std::string, std::vector<Id>> packs;
    const std::set<Id> standing_now = standing();
    for (const UnitState& unit : workshop_.units()) {
        const Assembly* pack = workshop_.pack(unit.record.pack);
        if (!unit.in_stock() || unit.quarantined || pack == nullptr || standing_now.contains(unit.record.id))
            continue;
        if (!unit.facts.capacity_ah || unit.reference.cells_in_series > 1)
            packs[pack->label].push_back(unit.record.id);
    }
    return packs;
}

Result<int> BaySchedule::let_wait(const std::vector<Id>& units, const std::string& protocol_id,
                                  const std::string& row) {
    int count = 0;
    int position = 0;
    for (const auto& waiting : queue())
        if (!row.empty() && waiting.row == row)
            position = std::max(position, waiting.position.value_or(0));
    std::vector<Waiting> records;
    const std::set<Id> standing_now = standing();
    for (const Id unit : units) {
        const UnitState* u = workshop_.unit(unit);
        if (u == nullptr || u->quarantined || standing_now.contains(unit))
            continue;
        Waiting record;
        record.unit = unit;
        record.protocol = protocol_id.empty() ? bays_.usual_protocol(unit) : protocol_id;
        const Protocol* protocol = workshop_.library().protocol(record.protocol);
        if (protocol == nullptr)
            continue;
        if (!fits_anywhere(unit, *protocol))
            continue;
        record.row = row;
        if (!row.empty())
            record.position = ++position;
        records.push_back(std::move(record));
        ++count;
    }
    if (count == 0)
        return Problem{"", 0,
                       said("None of these units can wait for a bay: their chemistry is not known, they are in "
                            "quarantine, or they run already.")};
    const auto done = workshop_.session_.step(
        [&] {
            for (const auto& record : records)
                workshop_.session_.runs.set(record);
        },
        queue_changed());
    if (!done)
        return done.problem();
    return count;
}

Result<bool> BaySchedule::leave_queue(Id unit) {
    return workshop_.session_.step([&] { workshop_.session_.runs.leave_queue(unit); }, queue_changed());
}

Result<bool> BaySchedule::insist(Id unit, const QDateTime& at, int bay) {
    for (Waiting record : queue())
        if (record.unit == unit) {
            record.insisted_at = at.isValid() ? at.toString(Qt::ISODate).toStdString() : std::string();
            // A channel keeps its number when another tester is attached.
            const int testers = static_cast<int>(bays_.bays().size());
            const int kept = bay < testers || hand_.chargers().empty() ? bay : first_channel + bay - testers;
            record.insisted_bay = at.isValid() ? std::optional(kept) : std::nullopt;
            return workshop_.session_.step([&] { workshop_.session_.runs.set(record); }, queue_changed());
        }
    return Problem{"", 0, said("This unit does not wait for a bay.")};
}

Result<bool> BaySchedule::set_due(Id unit, const QDateTime& due) {
    for (Waiting record : queue())
        if (record.unit == unit) {
            record.due_at = due.isValid() ? due.toString(Qt::ISODate).toStdString() : std::string();
            return workshop_.session_.step([&] { workshop_.session_.runs.set(record); }, queue_changed());
        }
    return Problem{"", 0, said("This unit does not wait for a bay.")};
}

BaySchedule::Planned BaySchedule::problem(const QDateTime& now, const std::optional<Planned>& before) const {
    Planned out;
    out.begin = now;
    PlanProblem& problem = out.problem;
    out.tester_bays = static_cast<int>(bays_.bays().size());
    const auto by_hand = hand_.bays();
    for (const HandBay& bay : by_hand)
        out.channels.emplace_back(bay.charger, bay.channel);
    if (out.tester_bays == 0 && out.channels.empty())
        out.tester_bays = usual_bays;
    problem.bays = out.tester_bays + static_cast<int>(out.channels.size());
    const BenchHours shop = hours();
    problem.attended = shop.attended;
    problem.attended.begin_hour = static_cast<double>(now.time().msecsSinceStartOfDay()) / ms_per_hour;
    problem.attended.begin_day = now.date().dayOfWeek() - 1;
    problem.supply_a = shop.supply_a;
    problem.out_of_use.assign(static_cast<std::size_t>(problem.bays), false);
    const auto add = [&](PlanJob job, Id unit, const std::string& protocol) {
        if (before)
            for (std::size_t j = 0; j < before->units.size(); ++j)
                if (before->units[j] == unit)
                    for (const PlacedJob& placed : before->plan.jobs)
                        if (placed.job == j) {
                            job.before_start_h = hours_between(now, at(*before, placed.start_h));
                            job.before_bay = placed.bay;
                        }
        problem.jobs.push_back(std::move(job));
        out.units.push_back(unit);
        out.protocols.push_back(protocol);
    };
    add_running(out, by_hand, add);
    const std::set<Id> standing_now = standing();
    for (const auto& waiting : queue()) {
        const UnitState* unit = workshop_.unit(waiting.unit);
        const Protocol* protocol = workshop_.library().protocol(waiting.protocol);
        if (unit == nullptr || protocol == nullptr || unit->quarantined || standing_now.contains(waiting.unit))
            continue;
        PlanJob job;
        job.unit = unit->code();
        const BayUnit facts = bays_.bay_unit(waiting.unit);
        job.duration_h = std::max(least_h, predicted_hours(*protocol, facts));
        job.position = waiting.position;
        job.row = waiting.row;
        job.charge_a = largest_charge_a(*protocol, facts);
        job.unattended = protocol->unattended;
        job.fits = fits(waiting.unit, *protocol, out);
        if (const QDateTime due = time_of(waiting.due_at); due.isValid())
            job.due_h = hours_between(now, due);
        if (const QDateTime insisted = time_of(waiting.insisted_at); insisted.isValid() && insisted >= now) {
            const int kept = waiting.insisted_bay.value_or(0);
            job.start_h = hours_between(now, insisted);
            job.bay =
                std::clamp(kept < first_channel ? kept : out.tester_bays + kept - first_channel, 0, problem.bays - 1);
        }
        add(std::move(job), waiting.unit, waiting.protocol);
    }
    if (problem
            .supply_a) // one that alone is over the supply is planned as if it just fitted; the check refuses it later
        for (PlanJob& job : problem.jobs)
            job.charge_a = std::min(job.charge_a, *problem.supply_a);
    return out;
}

// What runs already keeps its bay to its end.
void BaySchedule::add_running(Planned& out, const std::vector<HandBay>& by_hand,
                              const std::function<void(PlanJob, Id, const std::string&)>& add) const {
    PlanProblem& problem = out.problem;
    for (std::size_t c = 0; c < by_hand.size(); ++c) {
        const HandBay& bay = by_hand[c];
        if (bay.run == 0 || bay.ended)
            continue;
        PlanJob job;
        job.unit = bay.code;
        job.duration_h = std::max(least_h, hours_between(out.begin, time_of(bay.due_at)));
        job.start_h = 0;
        job.bay = out.tester_bays + static_cast<int>(c);
        job.charge_a = largest_charge_a(bay.protocol, bay_unit_of(workshop_, bay));
        add(std::move(job), bay.unit, bay.protocol.id);
    }
    for (const BayView& bay : bays_.bays()) {
        const auto index = static_cast<std::size_t>(bay.bay) - 1;
        if (bay.look == BayLook::free && bay.silent)
            problem.out_of_use[index] = true; // its tester is away
        if (bay.look == BayLook::stopped && quarantined_on(workshop_, bay))
            problem.out_of_use[index] = true; // until the hazard is closed
        if (bay.look != BayLook::running && bay.look != BayLook::waiting_to_start)
            continue;
        PlanJob job;
        job.unit = bay.code;
        job.duration_h = std::max(least_h, bay.hours_left / std::max(1.0, bays_.rate()));
        job.start_h = 0;
        job.bay = bay.bay - 1;
        job.charge_a = largest_charge_a(bay.protocol, bays_.bay_unit(bay));
        add(std::move(job), bay.unit, bay.protocol.id);
    }
}

QDateTime BaySchedule::at(const Planned& planned, double hour) {
    return planned.begin.addMSecs(static_cast<qint64>(std::llround(hour * ms_per_hour)));
}

std::optional<QDateTime> BaySchedule::next_visit(const Planned& planned, const QDateTime& now) {
    std::optional<QDateTime> next;
    for (const PlacedJob& job : planned.plan.jobs)
        for (const double hour : {job.start_h, job.lifted_h}) {
            const QDateTime moment = at(planned, hour);
            if (moment > now && (!next || moment < *next))
                next = moment;
        }
    return next;
}

std::string BaySchedule::calendar(const Planned& planned, const QDateTime& stamp) {
    std::map<QDateTime, std::pair<QString, QString>> by_moment; // to lift out, to put in
    for (const PlacedJob& job : planned.plan.jobs) {
        const QString unit = QString::fromStdString(planned.problem.jobs[job.job].unit);
        by_moment[at(planned, job.lifted_h)].first +=
            QCoreApplication::translate("BaySchedule", "Lift %1 out: %2\n").arg(unit, planned.place(job.bay));
        if (job.start_h >= 0) // what runs already was put in before
            by_moment[at(planned, job.start_h)].second +=
                QCoreApplication::translate("BaySchedule", "Put %1 in: %2\n").arg(unit, planned.place(job.bay));
    }
    constexpr int visit_s = 600;
    const QString form = QStringLiteral("yyyyMMddTHHmmss");
    std::vector<exchange::BenchVisit> visits;
    visits.reserve(by_moment.size());
    for (const auto& [moment, what] : by_moment)
        visits.push_back({moment.toString(form).toStdString(), moment.addSecs(visit_s).toString(form).toStdString(),
                          QCoreApplication::translate("BaySchedule", "At the bench: change units").toStdString(),
                          (what.first + what.second).toStdString()});
    return exchange::write_calendar(visits, stamp.toUTC().toString(form).toStdString() + "Z");
}

} // namespace ingot
