// What is said of a board's log.
#include "workshop/figures.h"
#include "workshop/prove_wording.h"
#include "workshop/translated.h"

#include <algorithm>
#include <cmath>

namespace ingot::wording {

namespace {

constexpr double volts_to_mv = 1000;

QString log_hours(double seconds) {
    const int minutes = static_cast<int>(std::lround(seconds / 60));
    return tr("%1:%2").arg(minutes / 60).arg(minutes % 60, 2, 10, QLatin1Char('0'));
}

QString mv_a_cell(double volts) {
    return tr("%1 mV").arg(figures::plain(volts * volts_to_mv, 0));
}

} // namespace

QString log_stretch(LogStretchKind kind) {
    switch (kind) {
    case LogStretchKind::rest:
        return tr("At rest");
    case LogStretchKind::charge:
        return tr("Charging");
    case LogStretchKind::load:
        return tr("Under load");
    }
    return {};
}

BoardLogWords board_log(const BoardLogReading& reading, const BoardLog& log, const ProofLimits& limits) {
    BoardLogWords out;
    std::optional<double> widest_charge;
    std::optional<double> widest_load;
    const LogStretch* at = nullptr;
    for (const LogStretch& stretch : reading.stretches) {
        if (!stretch.widest_spread_v)
            continue;
        auto& widest = stretch.kind == LogStretchKind::load ? widest_load : widest_charge;
        if (!widest || *stretch.widest_spread_v > *widest) {
            widest = stretch.widest_spread_v;
            if (stretch.kind != LogStretchKind::load)
                at = &stretch;
        }
    }
    const double level = widest_charge.value_or(0);
    out.verdict = !reading.jumps.empty()        ? tr("A group jumps")
                  : level > limits.most_v       ? tr("Too far apart")
                  : level > limits.acceptable_v ? tr("Groups apart")
                                                : tr("Goes evenly");
    out.line = tr("%n rows over %1 h", static_cast<int>(log.rows())).arg(log_hours(log.time_s.back()));
    if (at != nullptr)
        out.notes << tr("%1 the groups stand at most <b>%2 a cell</b> apart, at %3: group %4 highest, %5 lowest.")
                         .arg(log_stretch(at->kind), mv_a_cell(*widest_charge), log_hours(log.time_s[at->widest_row]))
                         .arg(at->highest + 1)
                         .arg(at->lowest + 1);
    if (widest_load)
        out.notes << tr("Under load at most %1 a cell.").arg(mv_a_cell(*widest_load));
    constexpr std::size_t most_said = 4;
    for (std::size_t j = 0; j < reading.jumps.size() && j < most_said; ++j)
        out.notes
            << tr("At %1 group %2 jumps by %3 a cell while the current stays: a sense lead or a joint moves. Shake "
                  "the leads with the load off and read again.")
                   .arg(log_hours(reading.jumps[j].time_s))
                   .arg(reading.jumps[j].group + 1)
                   .arg(figures::millivolts_signed(reading.jumps[j].by_v));
    if (reading.jumps.size() > most_said)
        out.notes << tr("%n more jumps.", static_cast<int>(reading.jumps.size() - most_said));
    for (const LogDrift& drift : reading.drifts)
        out.notes << tr("At rest group %1 goes %2 a cell an hour against the middle (± %3).")
                         .arg(drift.group + 1)
                         .arg(tr("%1 mV").arg(figures::plain(drift.per_hour_v * volts_to_mv, 1)),
                              figures::plain(drift.error_v * volts_to_mv, 1));
    if (reading.turned)
        out.notes << tr("Its current was counted the other way round (drawn is positive); it is turned here.");
    if (log.charging_a.empty())
        out.notes << tr("It has no column of current: charging, rest and load cannot be told apart.");
    return out;
}

} // namespace ingot::wording
