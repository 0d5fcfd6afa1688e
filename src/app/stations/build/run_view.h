// Simulate: what the pack will do under its load before anything is joined, and what would change it.
#pragma once

#include "app/stations/build/build_view.h"

class QLabel;
class QTableWidget;

namespace ingot::app {

class RunCurves;

class RunView : public BuildView {
    Q_OBJECT
public:
    RunView(Workshop& workshop, QWidget* parent);
    void refresh() override;
    void take_run(const BuildRun& run) override;
    bool take_line(const QString& line) override;
    void echo(const QString& typed) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;

private:
    void show_run();

    BuildQuestion question_;
    BuildRun run_;
    DesignBoxes* boxes_ = nullptr;
    RunCurves* curves_ = nullptr;
    QTableWidget* table_ = nullptr;
    QLabel* words_ = nullptr;
};

} // namespace ingot::app
