// Steps: the gate before joining, then step by step to the last weld, each with what it lays bare.
#pragma once

#include "app/stations/build/build_view.h"

class QLabel;

namespace ingot::app {

class GatePicture;
class LayoutPicture;
class StepList;

class StepsView : public BuildView {
    Q_OBJECT
public:
    StepsView(Workshop& workshop, QWidget* parent);
    void refresh() override;
    void take_plan(const BuildPlan& plan) override;
    // An empty line ticks what is in hand; a number is the voltage of the unit that is asked for.
    bool take_line(const QString& line) override;
    bool step_back() override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void tick_next();
    void take_back_last();

private:
    [[nodiscard]] std::vector<BuildTask> tasks() const; // that this build has
    [[nodiscard]] int items_of(BuildTask task) const;
    [[nodiscard]] std::optional<BuildTask> task() const; // that is chosen
    [[nodiscard]] const BuildStep* step(BuildTask task) const;
    [[nodiscard]] Id asked() const; // the unit whose voltage a number is
    void show_list();
    void show_gate();
    void show_picture();
    [[nodiscard]] Act ticking(BuildTask task, int item);
    [[nodiscard]] Act taking_back(BuildTask task, int item);

    [[nodiscard]] bool modules() const { return question_.cells_per_unit > 1; }
    BuildQuestion question_;
    BuildPlan plan_;
    std::vector<BuildService::GateGroup> gate_;
    GatePicture* gate_picture_ = nullptr;
    StepList* list_ = nullptr;
    LayoutPicture* picture_ = nullptr;
    QLabel *gate_words_ = nullptr, *hazard_words_ = nullptr;
    int chosen_ = -1; // row; -1: what is in hand
    Id scanned_ = 0;  // its voltage is asked for first
};

} // namespace ingot::app
