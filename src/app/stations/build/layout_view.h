// Layout: where the cells stand, the strips on both faces and what they carry, the checks.
#pragma once

#include "app/stations/build/build_view.h"

class QComboBox;
class QHBoxLayout;
class QLabel;
class QLineEdit;

namespace ingot::app {

class LayoutPicture;
class ModuleRow;
class PressButton;
class StepList;

class LayoutView : public BuildView {
    Q_OBJECT
public:
    LayoutView(Workshop& workshop, QWidget* parent);
    void refresh() override;
    void take_plan(const BuildPlan& plan) override;
    bool take_line(const QString& line) override;
    void echo(const QString& typed) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    [[nodiscard]] const BuildPlan& plan() const { return plan_; }
    // The remedy with that number (from 1) among those that the welder can weld is taken.
    void take_remedy(int number);
    // Strongest group to the warm middle, least ohms to the cool edge.
    void place_by_heat();

private:
    void show_picture();
    void show_checks();
    void show_row();
    [[nodiscard]] EvidenceContent row_evidence() const;
    [[nodiscard]] bool modules() const { return question_.cells_per_unit > 1; }
    [[nodiscard]] DesignBoxes& boxes() const { return modules() ? *bar_boxes_ : *boxes_; }
    [[nodiscard]] std::optional<exchange::StripDensity> limits() const { return question_.density; }

    BuildQuestion question_;
    BuildPlan plan_;
    DesignBoxes* boxes_ = nullptr;
    QComboBox* material_ = nullptr;
    QHBoxLayout* proposals_row_ = nullptr;
    std::vector<PressButton*> proposals_;
    DesignBoxes* bar_boxes_ = nullptr; // of modules
    QLineEdit* trial_weld_ = nullptr;
    QLabel* strip_of_ = nullptr;
    LayoutPicture* picture_ = nullptr;
    ModuleRow* row_ = nullptr;
    StepList* checks_ = nullptr;
    QLabel* words_ = nullptr;
    bool filling_ = false;
};

} // namespace ingot::app
