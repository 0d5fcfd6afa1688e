// Chargers that only a person operates: what stands on which channel, what to set, what the display said, what it
// means.
#pragma once

#include "app/stations/page.h"
#include "workshop/hand_bays.h"

class QLabel;
class QTimer;

namespace ingot {
class HandModel;
}

namespace ingot::app {

class Panel;
class RecordTable;

class HandPage : public Page {
    Q_OBJECT
public:
    explicit HandPage(Workshop& workshop, QWidget* parent = nullptr);
    [[nodiscard]] QString title() const override { return tr("Chargers by hand"); }
    void refresh() override;
    // A unit's label: its channel, or the unit that is put on next.
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override { return tr("a unit's label: where it is, or what goes on next"); }
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void pose() override;

private:
    void build_commands();
    void enter_charger();
    void put_on();
    void type_cycle();
    void ended(bool as_meant);
    void lift_out();
    [[nodiscard]] const HandBay* chosen() const;
    // What is on the chosen channel, or what goes there next.
    [[nodiscard]] OnChannel meant() const;
    void take_in_hand(const OnChannel& on);
    void ask_series();
    void ask_pack();

    HandBays hand_;
    OnChannel in_hand_; // what is put on next
    QAction *charger_ = nullptr, *put_on_ = nullptr, *cycle_ = nullptr, *ended_ = nullptr, *stopped_ = nullptr,
            *lift_ = nullptr, *series_ = nullptr, *pack_ = nullptr;
    RecordTable* table_ = nullptr;
    HandModel* channels_ = nullptr;
    QWidget* none_ = nullptr;
    Panel* card_ = nullptr;
    QLabel *words_ = nullptr, *lines_ = nullptr;
    QTimer* clock_ = nullptr;
};

} // namespace ingot::app
