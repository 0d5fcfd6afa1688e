// The testers on the bench: where each is, what it is called, how it speaks, and what is the matter with it.
#pragma once

#include "app/stations/page.h"
#include "workshop/bays.h"

class QComboBox;
class QLabel;
class QLineEdit;

namespace ingot {
class TestersModel;
}

namespace ingot::app {

class RecordTable;

class TestersPage : public Page {
    Q_OBJECT
public:
    TestersPage(Workshop& workshop, Bays& bays, QWidget* parent = nullptr);
    [[nodiscard]] QString title() const override { return tr("Testers"); }
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override { return tr("an address: serial:PORT or socket:PATH"); }
    [[nodiscard]] EvidenceContent evidence() const override;
    void pose() override;

private:
    void attach();
    void forget();
    void show_chosen();
    [[nodiscard]] const TesterView* chosen() const;

    Bays& bays_;
    TestersModel* testers_ = nullptr;
    RecordTable* table_ = nullptr;
    QLabel* none_ = nullptr;
    QComboBox* address_ = nullptr;
    QComboBox* dialect_ = nullptr;
    QLineEdit* name_ = nullptr;
    QAction* attach_ = nullptr;
    QAction* forget_ = nullptr;
};

} // namespace ingot::app
