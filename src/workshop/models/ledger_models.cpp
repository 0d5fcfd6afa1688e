#include "workshop/models/ledger_models.h"

#include "workshop/bay_rules.h"
#include "workshop/wording.h"

#include <algorithm>

namespace ingot {

namespace {

QString words(const std::string& s) {
    return QString::fromStdString(s);
}

// The day and the minute; a moment that is only a day stays one.
RecordField moment(const std::string& at) {
    return {words(at).left(16).replace(QLatin1Char('T'), QLatin1Char(' ')), words(at)};
}

} // namespace

std::string searched_word(Quantity quantity) {
    return wording::quantity(quantity).toStdString();
}

MeasurementsModel::MeasurementsModel(const Workshop& workshop, QObject* parent)
    : SlicedModel(workshop,
                  {{QStringLiteral("taken"), tr("taken")},
                   {QStringLiteral("subject"), tr("of")},
                   {QStringLiteral("quantity"), tr("quantity")},
                   {QStringLiteral("value"), tr("value"), true},
                   {QStringLiteral("condition"), tr("condition")},
                   {QStringLiteral("instrument"), tr("instrument")},
                   {QStringLiteral("protocol"), tr("protocol")},
                   {QStringLiteral("day"), tr("day")}},
                  parent) {}

LedgerSlice<Measurement> MeasurementsModel::read(const LedgerSearch& search, Id before) const {
    return workshop().ledger().measurements(search, before);
}

bool MeasurementsModel::concerns(const Measurement& m, const ChangeSet& changes) const {
    return changes.units.contains(m.subject.unit) || changes.assemblies.contains(m.subject.assembly);
}

RecordField MeasurementsModel::field(Id id, int column) const {
    const Measurement* m = record(id);
    if (m == nullptr)
        return {};
    switch (column) {
    case taken:
        return moment(m->taken_at);
    case subject: {
        const QString of = words(workshop().ledger().subject_of(*m));
        if (m->subject.unit != 0)
            return {of, {}};
        if (m->subject.group == 0)
            return {tr("%1, terminals").arg(of), {}};
        return {m->subject.place == 0
                    ? tr("%1, group %2").arg(of).arg(m->subject.group)
                    : tr("%1, group %2, place %3").arg(of).arg(m->subject.group).arg(m->subject.place),
                {}};
    }
    case quantity:
        return {wording::quantity(m->quantity), {}};
    case value:
        return {wording::value(*m), m->value};
    case condition:
        return {wording::conditions(*m), {}};
    case instrument:
        return {words(m->instrument), {}};
    case protocol:
        return {words(m->protocol), {}};
    case day:
        return {words(m->taken_at).left(10), words(m->taken_at)};
    default:
        return {};
    }
}

QString MeasurementsModel::tip(Id id) const {
    const Measurement* m = record(id);
    if (m == nullptr)
        return {};
    if (!m->struck_reason.empty())
        return tr("Struck out: %1").arg(words(m->struck_reason));
    QStringList parts{moment(m->taken_at).text};
    if (!m->instrument.empty())
        parts << words(m->instrument);
    return parts.join(QStringLiteral(", "));
}

bool MeasurementsModel::struck(Id id) const {
    const Measurement* m = record(id);
    return m != nullptr && !m->struck_reason.empty();
}

RunsModel::RunsModel(const Workshop& workshop, QObject* parent)
    : SlicedModel(workshop,
                  {{QStringLiteral("began"), tr("began")},
                   {QStringLiteral("unit"), tr("unit")},
                   {QStringLiteral("protocol"), tr("protocol")},
                   {QStringLiteral("instrument"), tr("instrument")},
                   {QStringLiteral("ended"), tr("ended")},
                   {QStringLiteral("samples"), tr("samples"), true},
                   {QStringLiteral("file"), tr("file")}},
                  parent) {}

LedgerSlice<Run> RunsModel::read(const LedgerSearch& search, Id before) const {
    return workshop().ledger().runs(search, before);
}

bool RunsModel::concerns(const Run& run, const ChangeSet& changes) const {
    const auto units = run.units();
    return changes.assemblies.contains(run.assembly) ||
           std::any_of(units.begin(), units.end(), [&](Id of) { return changes.units.contains(of); });
}

RecordField RunsModel::field(Id id, int column) const {
    const Run* run = record(id);
    if (run == nullptr)
        return {};
    switch (column) {
    case began:
        return moment(run->began_at.empty() ? run->recorded_at : run->began_at);
    case unit:
        return {words(code_on(workshop(), *run)), {}};
    case protocol:
        return {words(run->protocol), {}};
    case instrument:
        return {words(run->instrument), {}};
    case ended:
        return moment(run->ended_at);
    case samples:
        return {QString::number(run->samples), static_cast<double>(run->samples)};
    case file:
        return {words(run->file), {}};
    default:
        return {};
    }
}

EventsModel::EventsModel(const Workshop& workshop, QObject* parent)
    : SlicedModel(workshop,
                  {{QStringLiteral("at"), tr("at")},
                   {QStringLiteral("what"), tr("what was done")},
                   {QStringLiteral("subject"), tr("to")},
                   {QStringLiteral("detail"), tr("detail")}},
                  parent) {}

LedgerSlice<Event> EventsModel::read(const LedgerSearch& search, Id before) const {
    return workshop().ledger().events(search, before);
}

// What happened stays as it was told.
bool EventsModel::concerns(const Event& /*event*/, const ChangeSet& /*changes*/) const {
    return false;
}

RecordField EventsModel::field(Id id, int column) const {
    const Event* event = record(id);
    if (event == nullptr)
        return {};
    switch (column) {
    case at:
        return moment(event->at);
    case what:
        return {words(event->what), {}};
    case subject:
        return {words(event->subject), {}};
    case detail:
        return {words(event->detail), {}};
    default:
        return {};
    }
}

} // namespace ingot
