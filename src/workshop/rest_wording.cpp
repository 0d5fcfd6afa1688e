#include "workshop/rest_wording.h"

#include "workshop/figures.h"
#include "workshop/translated.h"

#include <QDateTime>
#include <QLocale>

#include <cmath>

namespace ingot::wording {

namespace {

constexpr double millivolts = 1000;

QString shown_day_of(const std::string& text) {
    return QLocale().toString(QDateTime::fromString(QString::fromStdString(text), Qt::ISODate).toLocalTime().date(),
                              QLocale::ShortFormat);
}

} // namespace

QString leak_verdict(LeakVerdict verdict) {
    switch (verdict) {
    case LeakVerdict::fit:
        return tr("sound");
    case LeakVerdict::leaking:
        return tr("leaks");
    case LeakVerdict::undecided:
        return tr("open");
    }
    return {};
}

QString drift(double v_per_day) {
    return tr("%1 mV/day").arg(figures::plain(v_per_day * millivolts, 2));
}

QString drift_between(double low_v_per_day, double high_v_per_day) {
    return tr("%1 to %2")
        .arg(figures::plain(low_v_per_day * millivolts, 2), figures::plain(high_v_per_day * millivolts, 2));
}

QString resting_name(const Workshop& workshop, const RestingLine& line) {
    if (const UnitState* unit = workshop.unit(line.unit))
        return QString::fromStdString(unit->code());
    const Assembly* pack = workshop.pack(line.place.assembly);
    return pack == nullptr ? QString()
                           : tr("%1, group %2, unit %3")
                                 .arg(QString::fromStdString(pack->label))
                                 .arg(line.place.group)
                                 .arg(line.place.place);
}

QString trait(const Trait& trait) {
    const QString value = QString::fromStdString(trait.value);
    if (trait.kind == "model")
        return tr("model %1").arg(value);
    if (trait.kind == "source")
        return tr("source %1").arg(value);
    if (trait.kind == "tray")
        return tr("tray %1").arg(value);
    if (trait.kind == "lot")
        return tr("lot %1").arg(value);
    if (trait.kind == "pack")
        return tr("pack %1").arg(value);
    return QStringLiteral("%1 %2").arg(QString::fromStdString(trait.kind), value);
}

QString shared_by_leakers(const RestShelf& shelf) {
    if (shelf.shared.empty())
        return {};
    const SharedTrait& most = shelf.shared.front();
    return tr("%1 of %2 that leak are of %3, which only %4 of %5 are: it is that, more than each unit.")
        .arg(most.odd_with)
        .arg(most.odd)
        .arg(trait(most.trait))
        .arg(most.with)
        .arg(most.all);
}

namespace {

QString retention_reason(const RestingLine& line) {
    const RetentionStand& stand = *line.retention;
    if (stand.days <= 0)
        return tr("Charged full on %1. Discharge it on %2 and enter what it gave: what is missing is what it lost.")
            .arg(shown_day_of(stand.charged_at), shown_day_of(line.due_at));
    if (!line.retained)
        return tr("After %1 days it gave %2. What it held before, or what it is rated at, is not known: charge and "
                  "discharge it once more.")
            .arg(figures::plain(stand.days, 0), figures::unit_capacity(stand.stored->ah));
    const RetentionResult& result = *line.retained;
    QString out =
        tr("In %1 days it lost %2 a day (%3 to %4 mAh/day), where %5 is the limit of Store.")
            .arg(figures::plain(stand.days, 0), figures::leak(result.ah_per_day),
                 figures::plain(result.low_ah_per_day * millivolts, 2),
                 figures::plain(result.high_ah_per_day * millivolts, 2), figures::leak(stand.limit_ah_per_day));
    if (result.shares)
        out += QLatin1Char(' ') +
               tr("It kept %1 and comes back to %2 with a charge.")
                   .arg(figures::percent(result.shares->retention, 0), figures::percent(result.shares->recovery, 0));
    else
        out += QLatin1Char(' ') + tr("Charge and discharge it once more: what does not come back was no leak.");
    return out;
}

// What the days so far can tell and what not: the quick school and the long one.
QString schools(const RestingLine& line) {
    if (!line.sees_v_per_day)
        return {};
    return tr("The readings so far tell leaks from %1 on; a quick look of a day or two finds no smaller ones, weeks "
              "do.")
        .arg(drift(*line.sees_v_per_day));
}

} // namespace

QString leak_reason(const RestingLine& line) {
    if (line.retention)
        return retention_reason(line);
    if (!line.told_by_voltage)
        return tr(
            "The voltage of this chemistry says little about its charge here. Charge it, let it rest for four weeks, "
            "discharge it: what is missing is what it lost.");
    if (line.stored_full_days)
        return tr("Stored full %1 days ago, it still reads so much that it cannot have fallen faster than %2, where %3 "
                  "is the limit of Store: sound without a first reading.")
            .arg(figures::plain(*line.stored_full_days, 0), drift(*line.leak.high_v_per_day),
                 drift(line.limit_v_per_day));
    if (line.apart_v)
        return tr("It stood %1 apart from its group at once when the links were cut: it was not connected. Look at its "
                  "weld or its cell fuse; this is no leak.")
            .arg(figures::volts(std::fabs(*line.apart_v)));
    if (!line.leak.v_per_day)
        return tr("One reading says nothing yet. Read it again on %1.").arg(shown_day_of(line.due_at));
    const QString fall =
        tr("Apart from what its siblings share it falls %1 (%2), where %3 a day is the limit of "
           "Store.")
            .arg(drift(*line.leak.v_per_day), drift_between(*line.leak.low_v_per_day, *line.leak.high_v_per_day),
                 tr("%1 mV").arg(figures::plain(line.limit_v_per_day * millivolts, 2)));
    QString more;
    if (line.leak.leaks_more_since_h > 0)
        more = tr("It began to fall faster later on.");
    else if (line.leak.verdict == LeakVerdict::undecided)
        more = tr("Relaxation and leak cannot be told apart yet; the reading of %1 should decide.")
                   .arg(shown_day_of(line.due_at)) +
               QLatin1Char(' ') + schools(line);
    return more.isEmpty() ? fall : fall + QLatin1Char(' ') + more;
}

QString visit(int units) {
    return units > 0 ? tr("Read %1 units on the shelf").arg(units) : tr("Read packs in service");
}

QString visit_of_tray(const QString& tray, int units) {
    return tray.isEmpty() ? tr("without a tray: %1").arg(units) : tr("tray %1: %2").arg(tray).arg(units);
}

QString visit_of_storage(int units) {
    return tr("storage asks: %1").arg(units);
}

QString visit_of_packs(const QStringList& packs) {
    return tr("packs in service: %1").arg(packs.join(QStringLiteral(", ")));
}

} // namespace ingot::wording
