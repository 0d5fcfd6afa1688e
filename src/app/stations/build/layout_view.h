// Layout: where the cells stand, the strips on both faces and what they carry, the checks.
#pragma once

#include "app/parts/step_list.h"
#include "app/stations/build/build_view.h"

class QComboBox;
class QHBoxLayout;
class QLabel;
class QLineEdit;

namespace ingot::app {

class LayoutPicture;
class ModuleRow;
class Panel;
class PressButton;

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
    // --- By hand (layout_by_hand.cpp) ---
    void ask_moves();      // typed, as layout_moves.h has them
    void leave_link_out(); // the chosen one
    void ask_swap();       // of two groups, places or units
    void forget_moves();   // as it was proposed
    [[nodiscard]] bool moved() const;
    [[nodiscard]] bool link_chosen() const;

private:
    void show_picture();
    void show_checks();
    void show_row();
    void add_boxes(Panel* head);
    void connect_hand();
    [[nodiscard]] std::vector<LayoutMove> moves() const; // of the arrangement that is shown
    void take_move(const LayoutMove& move, bool done);
    void keep_moves(const std::vector<LayoutMove>& moves);
    void swap_units(std::size_t a, std::size_t b);
    void arrange(const QString& step, const std::vector<std::vector<Id>>& order);
    [[nodiscard]] std::vector<std::vector<Id>> order_now() const;
    [[nodiscard]] std::optional<LayoutPlace> place_of(const QString& word) const; // 3.2 or a unit's label
    [[nodiscard]] EvidenceContent cell_evidence() const;
    void add_remedies(EvidenceContent& content) const;
    void add_fit_checks(std::vector<StepLine>& lines) const;
    [[nodiscard]] QStringList covers() const; // rings, cards, clipped ends
    [[nodiscard]] EvidenceContent row_evidence() const;
    [[nodiscard]] bool modules() const { return question_.cells_per_unit > 1; }
    [[nodiscard]] bool in_holder() const;
    [[nodiscard]] DesignBoxes& boxes() const {
        return modules() ? *bar_boxes_ : in_holder() ? *holder_boxes_ : rim_boxes_->figure() ? *rim_boxes_ : *boxes_;
    }
    [[nodiscard]] std::optional<exchange::StripDensity> limits() const { return question_.density; }

    BuildQuestion question_;
    BuildPlan plan_;
    DesignBoxes* boxes_ = nullptr;
    QComboBox* material_ = nullptr;
    QHBoxLayout* proposals_row_ = nullptr;
    std::vector<PressButton*> proposals_;
    DesignBoxes* bar_boxes_ = nullptr;    // of modules
    DesignBoxes* holder_boxes_ = nullptr; // of cells between springs
    DesignBoxes* rim_boxes_ = nullptr;    // of strips: what is seldom asked, beside the checks
    QLineEdit* trial_weld_ = nullptr;
    QLabel* strip_of_ = nullptr;
    LayoutPicture* picture_ = nullptr;
    ModuleRow* row_ = nullptr;
    StepList* checks_ = nullptr;
    QLabel* words_ = nullptr;
    bool filling_ = false;
};

} // namespace ingot::app
