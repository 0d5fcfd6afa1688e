// The bench meter at whatever page is on screen: read by a key, or followed, so that both hands stay at the cells.
#pragma once

#include "workshop/meter.h"

#include <QObject>

class QAction;
class QLabel;

namespace ingot::app {

class Page;

class MeterHand : public QObject {
    Q_OBJECT
public:
    // `page`: the one on screen, or nothing. `live` shows what is touched while the meter is followed.
    MeterHand(Workshop& workshop, std::function<Page*()> page, QLabel* live, QObject* parent = nullptr);
    [[nodiscard]] BenchMeter& meter() { return meter_; }
    [[nodiscard]] const QList<QAction*>& commands() const { return commands_; }

signals:
    void told(const QString& sentence, bool objection);
    void meter_wanted(); // none is chosen yet: its page is to be shown

private:
    void read();
    void follow(bool on);
    void take(const bench::MeterReading& reading, Quantity quantity);
    void show_live(const QString& shown);

    std::function<Page*()> page_;
    QLabel* live_;
    BenchMeter meter_;
    QList<QAction*> commands_;
    QAction* follow_ = nullptr;
};

} // namespace ingot::app
