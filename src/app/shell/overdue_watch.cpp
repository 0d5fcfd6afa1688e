#include "app/shell/overdue_watch.h"

namespace ingot::app {

OverdueWatch::OverdueWatch(Workshop& workshop, QObject* parent) : QObject(parent), hand_(workshop) {
    constexpr int minute_ms = 60'000;
    clock_.setInterval(minute_ms);
    connect(&clock_, &QTimer::timeout, this, &OverdueWatch::look);
    clock_.start();
}

void OverdueWatch::look() {
    try {
        for (const HandBay& bay : hand_.bays())
            if (bay.overdue && told_.insert(bay.run).second)
                emit alarmed(tr("%1 on channel %2 of %3 should be done by now. Look at the charger.")
                                 .arg(QString::fromStdString(bay.code))
                                 .arg(bay.channel)
                                 .arg(QString::fromStdString(bay.charger)));
    } catch (const std::exception&) {
        // The file cannot be read this minute; the next one looks again.
    }
}

} // namespace ingot::app
