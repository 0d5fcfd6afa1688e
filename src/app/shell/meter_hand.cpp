#include "app/shell/meter_hand.h"

#include "app/stations/page.h"
#include "workshop/wording.h"

#include <QAction>
#include <QApplication>
#include <QLabel>
#include <QPointer>
#include <QSettings>

namespace ingot::app {

MeterHand::MeterHand(Workshop& workshop, std::function<Page*()> page, QLabel* live, QObject* parent)
    : QObject(parent), page_(std::move(page)), live_(live), meter_(workshop) {
    auto* read_it = new QAction(tr("Read the bench meter"), this);
    read_it->setShortcut(QKeySequence(tr("F3")));
    read_it->setToolTip(tr("Take what the meter shows now as the reading that is wanted here"));
    connect(read_it, &QAction::triggered, this, &MeterHand::read);
    follow_ = new QAction(tr("Follow the bench meter"), this);
    follow_->setShortcut(QKeySequence(tr("Shift+F3")));
    follow_->setCheckable(true);
    follow_->setToolTip(
        tr("Touch a cell and hold still: its voltage is taken when it stands, and the next one after the "
           "probes were lifted"));
    connect(follow_, &QAction::triggered, this, &MeterHand::follow);
    commands_ << read_it << follow_;
    connect(&meter_.meter(), &bench::Meter::settled, this,
            [this](const bench::MeterReading& reading) { take(reading, Quantity::voltage); });
    connect(&meter_.meter(), &bench::Meter::seen, this, &MeterHand::show_live);
    connect(&meter_, &BenchMeter::changed, this, [this] { show_live({}); });
    show_live({});
}

void MeterHand::read() {
    Page* page = page_();
    const auto wanted = page == nullptr ? std::nullopt : page->wanted_reading();
    if (!wanted) {
        emit told(tr("Nothing here waits for a meter's reading: choose a unit, or begin a round."), true);
        return;
    }
    if (meter_.address().empty()) {
        emit meter_wanted();
        return;
    }
    meter_.read(*wanted, page->meter_bay(), [this, page = QPointer<Page>(page), wanted = *wanted](const auto& reading) {
        if (!reading) {
            const bool silent = meter_.meter().state() != bench::DeviceState::ready;
            emit told(silent ? meter_.words() : wording::problem(reading.problem()), true);
        } else if (page != nullptr && page == page_()) {
            take(reading.value(), wanted);
        }
    });
}

void MeterHand::follow(bool on) {
    if (on && meter_.address().empty()) {
        follow_->setChecked(false);
        emit meter_wanted();
        return;
    }
    meter_.meter().follow(on);
    emit told(on ? tr("The meter is followed: touch, hold still, lift. Under a meter that keeps its last volts while "
                      "its probes are open, let them touch each other in between.")
                 : tr("The meter is followed no more."),
              false);
}

void MeterHand::take(const bench::MeterReading& reading, Quantity quantity) {
    if (QApplication::activeModalWidget() != nullptr)
        return; // something is being asked: the reading was not meant for what is behind it
    Page* page = page_();
    if (page == nullptr || page->wanted_reading() != quantity) {
        emit told(tr("The meter shows %1 %2; nothing here waits for it, so it was not kept.")
                      .arg(QString::fromStdString(reading.shown), quantity == Quantity::voltage ? tr("V") : tr("Ω")),
                  true);
        return;
    }
    page->take_reading(reading, quantity, meter_.instrument());
    if (QSettings().value(QStringLiteral("meter_sound"), false).toBool())
        QApplication::beep();
}

void MeterHand::show_live(const QString& shown) {
    const bool on = meter_.meter().following();
    follow_->setChecked(on);
    live_->setVisible(on);
    const auto state = meter_.meter().state();
    live_->setText(state != bench::DeviceState::ready ? tr("meter: no answer")
                   : shown.isEmpty()                  ? tr("meter: probes free")
                                                      : tr("meter: %1 V").arg(shown));
    live_->setToolTip(meter_.words());
}

} // namespace ingot::app
