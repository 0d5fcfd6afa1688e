// What is said of packs in the field.
#include "workshop/figures.h"
#include "workshop/prove_wording.h"
#include "workshop/translated.h"
#include "workshop/triage_wording.h"

#include <QDateTime>
#include <QLocale>

#include <cmath>

namespace ingot::wording {

namespace {

constexpr double field_month_days = 30;

QString on_day(const PackInField& pack, double day) {
    constexpr double ms_per_day = 86'400'000;
    const QDateTime since = QDateTime::fromString(QString::fromStdString(pack.since_at), Qt::ISODateWithMs);
    return QLocale().toString(since.addMSecs(std::llround(day * ms_per_day)).toLocalTime().date(),
                              QLocale::ShortFormat);
}

} // namespace

QString field_state(FieldState state) {
    switch (state) {
    case FieldState::unread:
        return tr("Not read yet");
    case FieldState::first:
        return tr("Read once");
    case FieldState::steady:
        return tr("Steady");
    case FieldState::drifting:
        return tr("Drifting");
    case FieldState::balance_now:
        return tr("Wants a balance");
    case FieldState::going_apart:
        return tr("A group goes down");
    case FieldState::not_told:
        return tr("Voltage does not tell");
    }
    return {};
}

QStringList field_reasons(const PackInField& pack) {
    QStringList out;
    const FieldTrend& trend = pack.trend;
    if (trend.points.empty())
        return out;
    const FieldPoint& last = trend.points.back();
    if (last.spread_v)
        out << (last.spread_share ? tr("Highest and lowest group stand %1 a cell apart: %2 of their charge.")
                                        .arg(figures::millivolts_signed(*last.spread_v).remove(QLatin1Char('+')),
                                             figures::percent(*last.spread_share, 1))
                                  : tr("Highest and lowest group stand %1 a cell apart.")
                                        .arg(figures::millivolts_signed(*last.spread_v).remove(QLatin1Char('+'))));
    if (trend.state == FieldState::not_told)
        out << tr("On the flat part of this curve that says little of charge. Read at the end of a charge, or after a "
                  "long rest near empty.");
    if (trend.lowest) {
        const GroupDrift& drift = trend.groups[static_cast<std::size_t>(*trend.lowest)];
        out << tr("Group %1 goes down against the middle one: %2 \u00B1 %3 of its charge a month.")
                   .arg(*trend.lowest + 1)
                   .arg(figures::percent(-*drift.per_day * field_month_days, 1),
                        figures::percent(*drift.error * field_month_days, 1));
    }
    if (trend.state == FieldState::drifting && trend.balance_day) {
        const QString earliest = trend.earliest_day ? on_day(pack, *trend.earliest_day) : QString();
        out << (trend.latest_day
                    ? tr("A balance is due about %1, between %2 and %3.")
                          .arg(on_day(pack, *trend.balance_day), earliest, on_day(pack, *trend.latest_day))
                    : tr("A balance is due about %1, not before %2.").arg(on_day(pack, *trend.balance_day), earliest));
    }
    if (!pack.newer.empty() && trend.groups.size() == static_cast<std::size_t>(pack.pack.layout.series)) {
        double sum = 0;
        int known = 0;
        for (const int g : pack.newer) {
            if (const auto& now = trend.groups[static_cast<std::size_t>(g) - 1].now) {
                sum += *now;
                ++known;
            }
        }
        if (known > 0)
            out << tr("What was put in (%1) stands %2 of its charge off the middle of the pack.")
                       .arg(groups({pack.newer.begin(), pack.newer.end()}), figures::percent(sum / known, 1));
    }
    return out;
}

QStringList storage_care(const StorageCare& storage) {
    QStringList out;
    if (storage.high_soc > 0)
        out << tr("Left unused it keeps best between %1 and %2 of its charge, dry and cool: half full is right.")
                   .arg(figures::percent(storage.low_soc, 0), figures::percent(storage.high_soc, 0));
    if (storage.look_days > 0)
        out << tr("Look at it every %1 days and top it up where it has fallen below.")
                   .arg(figures::plain(storage.look_days, 0));
    return out;
}

QString field_what_to_do(const PackInField& pack) {
    switch (pack.trend.state) {
    case FieldState::unread:
    case FieldState::first:
        return tr("Read every group at rest, an hour or more after use: two rounds say where they go.");
    case FieldState::steady:
        return tr("Nothing. Read it again when it is due.");
    case FieldState::drifting:
        return tr(
            "Where its board balances: leave it on its charger beyond full now and then, with somebody near. Else "
            "plan a balance.");
    case FieldState::balance_now:
        return tr(
            "Balance it: full on its charger until the board is done, with somebody near, or group by group. If it "
            "comes back within weeks, a group leaks.");
    case FieldState::going_apart:
        return tr("A balance hides it for weeks. Take it back, read it at Triage with that group in mind.");
    case FieldState::not_told:
        return tr("Read it where the curve is steep.");
    }
    return {};
}

} // namespace ingot::wording
