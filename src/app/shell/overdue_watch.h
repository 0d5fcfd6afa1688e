// Watches the chargers that only a person operates: a channel that should be done is said once, wherever the window is.
#pragma once

#include "workshop/hand_bays.h"

#include <QObject>
#include <QTimer>

#include <set>

namespace ingot::app {

class OverdueWatch : public QObject {
    Q_OBJECT
public:
    OverdueWatch(Workshop& workshop, QObject* parent);
    void look(); // now, and every minute by itself

signals:
    void alarmed(const QString& sentence);

private:
    HandBays hand_;
    std::set<Id> told_;
    QTimer clock_;
};

} // namespace ingot::app
