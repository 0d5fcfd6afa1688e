// The bench meter: where it is, what its ohms are, what it shows, and what is the matter with it.
#pragma once

#include "app/stations/page.h"
#include "workshop/meter.h"

class QComboBox;
class QLabel;
class QCheckBox;

namespace ingot::app {

class ChoiceRow;
class Figure;

class MeterPage : public Page {
    Q_OBJECT
public:
    MeterPage(Workshop& workshop, BenchMeter& meter, QWidget* parent = nullptr);
    [[nodiscard]] QString title() const override { return tr("Bench meter"); }
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override { return tr("an address: serial:PORT or socket:PATH"); }
    [[nodiscard]] EvidenceContent evidence() const override;
    void pose() override;

private:
    void attach();
    void try_it();

    BenchMeter& meter_;
    QComboBox* address_ = nullptr;
    ChoiceRow* resistance_ = nullptr;
    QCheckBox* sound_ = nullptr;
    Figure* shown_ = nullptr;
    QLabel* state_ = nullptr;
};

} // namespace ingot::app
