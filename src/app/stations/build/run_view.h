// Simulate: what the pack will do under its load before anything is joined, and what would change it.
#pragma once

#include "app/stations/build/build_view.h"

class QComboBox;
class QLabel;

namespace ingot::app {

class Panel;
class RunCompare;
class RunCurves;

class RunView : public BuildView {
    Q_OBJECT
public:
    RunView(Workshop& workshop, QWidget* parent);
    void refresh() override;
    void take_run(const BuildRun& run) override;
    // The build beside it; 0: none. The station runs both.
    [[nodiscard]] Id beside() const { return beside_; }
    void set_beside(Id build);
    [[nodiscard]] double joints_ohm() const { return run_.variants.empty() ? 0 : run_.variants.front().joints_ohm; }
    // How long the pack runs, as it was simulated; nothing: it was not.
    [[nodiscard]] std::optional<double> run_time_s() const;
    bool take_line(const QString& line) override;
    void echo(const QString& typed) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;

private:
    void show_run();
    void show_pair();

    BuildQuestion question_;
    BuildRun run_;
    Id beside_ = 0;
    DesignBoxes* boxes_ = nullptr;
    RunCurves* curves_ = nullptr;
    Panel* beside_panel_ = nullptr;
    RunCompare* compare_ = nullptr;
    QComboBox *left_ = nullptr, *right_ = nullptr;
    QLabel* words_ = nullptr;
};

} // namespace ingot::app
