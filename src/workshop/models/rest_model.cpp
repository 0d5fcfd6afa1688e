#include "workshop/models/rest_model.h"

#include "workshop/figures.h"
#include "workshop/rest_wording.h"

#include <QDateTime>
#include <QLocale>

namespace ingot {

namespace {

QDateTime moment_of(const std::string& text) {
    return QDateTime::fromString(QString::fromStdString(text), Qt::ISODate);
}
QString shown_day(const std::string& text) {
    return QLocale().toString(moment_of(text).toLocalTime().date(), QLocale::ShortFormat);
}
RecordField drift_field(const std::optional<double>& v_per_day) {
    return v_per_day ? RecordField{wording::drift(*v_per_day), *v_per_day} : RecordField{};
}

} // namespace

RestModel::RestModel(const Workshop& workshop, QObject* parent)
    : RecordModel({{QStringLiteral("code"), tr("unit")},
                   {QStringLiteral("model"), tr("model")},
                   {QStringLiteral("readings"), tr("readings"), true},
                   {QStringLiteral("last_read"), tr("last read")},
                   {QStringLiteral("drift"), tr("falls"), true},
                   {QStringLiteral("interval"), tr("between"), true},
                   {QStringLiteral("limit"), tr("limit"), true},
                   {QStringLiteral("leak"), tr("leak"), true},
                   {QStringLiteral("verdict"), tr("verdict")},
                   {QStringLiteral("next"), tr("read again")},
                   {QStringLiteral("home"), tr("home")}},
                  parent),
      workshop_(workshop) {}

void RestModel::show(const RestShelf& shelf) {
    shelf_ = shelf;
    line_of_.clear();
    std::vector<Id> rows;
    for (std::size_t i = 0; i < shelf_.lines.size(); ++i) {
        rows.push_back(shelf_.lines[i].row());
        line_of_[shelf_.lines[i].row()] = i;
    }
    show_rows(std::move(rows));
    touch_all();
}

const RestingLine* RestModel::line(Id unit) const {
    const auto at = line_of_.find(unit);
    return at == line_of_.end() ? nullptr : &shelf_.lines[at->second];
}

bool RestModel::due(const RestingLine& line) const {
    return !line.due_at.empty() &&
           moment_of(line.due_at).toLocalTime().date() <= moment_of(workshop_.now()).toLocalTime().date();
}

RecordField RestModel::judged(const RestingLine& line, int column) const {
    switch (column) {
    case readings:
        return {QString::number(line.readings), static_cast<int>(line.readings)};
    case last_read:
        return {shown_day(line.last_at), QString::fromStdString(line.last_at)};
    case drift:
        return drift_field(line.leak.v_per_day);
    case interval:
        return line.leak.v_per_day
                   ? RecordField{wording::drift_between(*line.leak.low_v_per_day, *line.leak.high_v_per_day),
                                 *line.leak.high_v_per_day}
                   : RecordField{};
    case limit:
        return line.told_by_voltage ? drift_field(line.limit_v_per_day) : RecordField{};
    case leak:
        return line.leak.ah_per_day ? RecordField{figures::leak(*line.leak.ah_per_day), *line.leak.ah_per_day}
                                    : RecordField{};
    case verdict:
        return {line.told_by_voltage || line.retained ? wording::leak_verdict(line.leak.verdict)
                : line.retention                      ? tr("stored full")
                                                      : tr("not told by voltage"),
                static_cast<int>(line.leak.verdict)};
    case next:
        if (line.due_at.empty())
            return {};
        return {due(line) ? tr("now") : shown_day(line.due_at), QString::fromStdString(line.due_at)};
    default:
        return {};
    }
}

RecordField RestModel::field(Id id, int column) const {
    const RestingLine* at = line(id);
    const UnitState* unit = workshop_.unit(id);
    if (at == nullptr)
        return {};
    if (unit == nullptr) {
        const Assembly* pack = workshop_.pack(at->place.assembly);
        switch (column) {
        case code:
            return {wording::resting_name(workshop_, *at), {}};
        case home:
            return {pack == nullptr ? QString() : tr("in the pack"), {}};
        case model:
            return {};
        default:
            return judged(*at, column);
        }
    }
    switch (column) {
    case code:
        return {QString::fromStdString(unit->code()), {}};
    case model:
        return {QString::fromStdString(unit->record.model), {}};
    case home:
        return {unit->record.tray.empty()
                    ? QString()
                    : QStringLiteral("%1 %2").arg(QString::fromStdString(unit->record.tray)).arg(unit->record.well),
                {}};
    default:
        return judged(*at, column);
    }
}

} // namespace ingot
