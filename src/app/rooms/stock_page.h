// The stock: every unit with its home, what it is reserved for, how old its voltage is, what storage asks.
#pragma once

#include "app/stations/page.h"

class QLabel;

namespace ingot {
class StockUnitsModel;
}

namespace ingot::app {

class ChoiceRow;
class Figure;
class RecordTable;

class StockPage : public Page {
    Q_OBJECT
public:
    explicit StockPage(Workshop& workshop, QWidget* parent = nullptr);
    [[nodiscard]] QString title() const override { return tr("Stock"); }
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    [[nodiscard]] RecordTable* table() const { return table_; }
    [[nodiscard]] StockUnitsModel* stock() const { return model_; }

private:
    void next_due();

    RecordTable* table_ = nullptr;
    StockUnitsModel* model_ = nullptr;
    ChoiceRow* which_ = nullptr;
    Figure *units_ = nullptr, *reserved_ = nullptr, *due_ = nullptr;
    QLabel* none_ = nullptr;
    bool stale_ = true;
};

} // namespace ingot::app
