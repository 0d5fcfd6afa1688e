#include "workshop/rest_wording.h"

#include "workshop/figures.h"
#include "workshop/translated.h"

#include <QDateTime>
#include <QLocale>

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

QString leak_reason(const RestingLine& line) {
    if (!line.told_by_voltage)
        return tr(
            "The voltage of this chemistry says little about its charge here. Charge it, let it rest for four weeks, "
            "discharge it: what is missing is what it lost.");
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
                   .arg(shown_day_of(line.due_at));
    return more.isEmpty() ? fall : fall + QLatin1Char(' ') + more;
}

} // namespace ingot::wording
