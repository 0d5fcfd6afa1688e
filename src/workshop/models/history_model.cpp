#include "workshop/models/history_model.h"

#include "workshop/wording.h"

namespace ingot {

namespace {

enum Kind { of_event, of_measurement, of_run, of_placement_begin, of_placement_end, kinds };

QString said_as(const std::string& s) {
    return QString::fromStdString(s);
}

QString place(const Placement& p) {
    return p.place == 0 ? HistoryModel::tr("group %1").arg(p.group)
                        : HistoryModel::tr("group %1, place %2").arg(p.group).arg(p.place);
}

} // namespace

HistoryModel::HistoryModel(const Workshop& workshop, QObject* parent)
    : RecordModel({{QStringLiteral("at"), tr("when")},
                   {QStringLiteral("what"), tr("what")},
                   {QStringLiteral("detail"), tr("detail")},
                   {QStringLiteral("by"), tr("instrument")}},
                  parent),
      workshop_(workshop) {
    connect(&workshop, &Workshop::changed, this, [this](const ChangeSet& changes) {
        if (subject_.nothing())
            return;
        if (changes.everything || changes.units.contains(subject_.unit) ||
            changes.assemblies.contains(subject_.assembly))
            read();
    });
}

void HistoryModel::show_of(const HistorySubject& subject) {
    subject_ = subject;
    show_rows({});
    read();
}

QString HistoryModel::title() const {
    if (const UnitState* unit = workshop_.unit(subject_.unit))
        return said_as(unit->code());
    const Assembly* assembly = workshop_.assembly(subject_.assembly);
    return assembly == nullptr ? QString() : said_as(assembly->label);
}

void HistoryModel::put(int kind, Id record, Line line) {
    lines_[record * kinds + kind] = std::move(line);
}

void HistoryModel::read() {
    lines_.clear();
    if (!subject_.nothing()) {
        add_events();
        add_measurements();
        add_runs();
        add_placements();
    }
    std::vector<Id> ids;
    ids.reserve(lines_.size());
    for (const auto& [id, line] : lines_)
        ids.push_back(id);
    std::sort(ids.begin(), ids.end(), [this](Id a, Id b) {
        const std::string& first = lines_.at(a).at;
        const std::string& second = lines_.at(b).at;
        return first != second ? first > second : a > b;
    });
    show_rows(std::move(ids));
    touch_all();
}

void HistoryModel::add_events() {
    for (const Event& event : workshop_.ledger().events_of(title().toStdString()))
        put(of_event, event.id, {event.at, said_as(event.what), said_as(event.detail), {}, false});
}

void HistoryModel::add_measurements() {
    LedgerSearch search;
    search.unit = subject_.unit;
    search.assembly = subject_.assembly;
    for (const Measurement& m : workshop_.ledger().measurements(search, 0).records) {
        QString said = wording::value(m);
        if (m.quantity == Quantity::voltage || m.quantity == Quantity::temperature)
            said = tr("%1, %2").arg(said, wording::condition(m.conditions.condition));
        if (m.subject.assembly != 0)
            said = tr("%1: %2").arg(wording::place_in_pack(m), said);
        if (!m.struck_reason.empty())
            said = tr("%1 (struck out: %2)").arg(said, said_as(m.struck_reason));
        put(of_measurement, m.id,
            {m.taken_at, wording::quantity(m.quantity), said, said_as(m.instrument), !m.struck_reason.empty()});
    }
}

void HistoryModel::add_runs() {
    if (subject_.unit == 0)
        return;
    for (const Run& run : workshop_.test().runs(subject_.unit))
        put(of_run, run.id,
            {run.began_at.empty() ? run.recorded_at : run.began_at, tr("run"), said_as(run.protocol),
             said_as(run.instrument), false});
}

void HistoryModel::add_placements() {
    const auto name = [this](Id assembly) {
        const Assembly* known = workshop_.assembly(assembly);
        return known == nullptr ? QString() : said_as(known->label);
    };
    for (const Placement& p : workshop_.ledger().placements(subject_.unit, subject_.assembly)) {
        const bool of_unit = subject_.unit != 0;
        const UnitState* unit = workshop_.unit(p.unit);
        const QString other = of_unit ? name(p.assembly) : unit != nullptr ? said_as(unit->code()) : tr("content");
        const QString said = QStringLiteral("%1, %2").arg(other, place(p));
        put(of_placement_begin, p.id, {p.since, of_unit ? tr("placed") : tr("came in place"), said, {}, false});
        if (!p.stands())
            put(of_placement_end, p.id,
                {p.until,
                 of_unit ? tr("taken out") : tr("left its place"),
                 p.ended_why.empty() ? said : QStringLiteral("%1: %2").arg(said, said_as(p.ended_why)),
                 {},
                 false});
    }
}

RecordField HistoryModel::field(Id id, int column) const {
    const auto found = lines_.find(id);
    if (found == lines_.end())
        return {};
    const Line& line = found->second;
    switch (column) {
    case at:
        return {said_as(line.at).left(16).replace(QLatin1Char('T'), QLatin1Char(' ')), said_as(line.at)};
    case what:
        return {line.what, {}};
    case detail:
        return {line.detail, {}};
    case by:
        return {line.by, {}};
    default:
        return {};
    }
}

bool HistoryModel::struck(Id id) const {
    const auto found = lines_.find(id);
    return found != lines_.end() && found->second.struck;
}

} // namespace ingot
