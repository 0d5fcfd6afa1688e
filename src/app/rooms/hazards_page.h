// The open hazards: every quarantined pack and unit with what to do, closed with what was found.
#pragma once

#include "app/stations/page.h"

namespace ingot {
class HazardsModel;
}

namespace ingot::app {

class RecordTable;

class HazardsPage : public Page {
    Q_OBJECT
public:
    explicit HazardsPage(Workshop& workshop, QWidget* parent = nullptr);
    [[nodiscard]] QString title() const override { return tr("Hazards"); }
    void refresh() override;
    bool take_line(const QString& line) override; // a label selects its hazard
    [[nodiscard]] QString scan_hint() const override { return tr("a label selects its hazard"); }
    [[nodiscard]] EvidenceContent evidence() const override;

private:
    void close_selected();

    QAction* close_ = nullptr;
    RecordTable* table_ = nullptr;
    HazardsModel* hazards_ = nullptr;
    QWidget* none_ = nullptr;
};

} // namespace ingot::app
