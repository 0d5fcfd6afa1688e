// Build: what a build's device needs, its units, its layout, its steps, how it will run; one view at a time.
#pragma once

#include "app/stations/station.h"
#include "workshop/build_plan.h"

#include <array>

class QLabel;
class QStackedWidget;

namespace ingot {
class Job;
}

namespace ingot::app {

class BuildView;
class LayoutView;
class NeedView;
class RecordCombo;
class Panel;
class PressButton;
class RunView;
class StepsView;
class UnitsView;

class BuildStation : public StationView {
    Q_OBJECT
public:
    enum class View { need, units, layout, steps, run };
    static constexpr int view_count = 5;

    explicit BuildStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    bool take_line(const QString& line) override;
    void echo(const QString& typed) override;
    bool step_back() override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void pose() override;
    bool write_pdf_to(const QString& path);
    [[nodiscard]] Id build() const { return build_; }
    [[nodiscard]] View view() const { return view_; }
    void show_view(View view);
    [[nodiscard]] bool working() const; // beside the window

    // PDF, or two SVG files by its name.
    bool write_weld_map_to(const QString& path);

private:
    void add_commands();
    void add_views();
    void choose(Id build);
    [[nodiscard]] Id newest_with_units() const; // 0: none
    void begin_build();
    void add_run_commands();
    void add_paper_commands();
    void add_layout_commands();
    void enable_layout_commands();
    const LayoutProposal* plan_on_paper();
    void save_weld_map();
    void save_cut_list();
    void save_wiring();
    void ask_profile();
    void ask_beside();
    void save_spice();
    [[nodiscard]] std::string builds_label(Id build) const;
    void work(); // plan and run anew what the view in sight shows
    [[nodiscard]] BuildView* now() const { return views_[static_cast<std::size_t>(view_)]; }

    RecordCombo* builds_ = nullptr;
    Panel* head_ = nullptr;
    QLabel* words_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    std::array<BuildView*, view_count> views_{};
    std::array<QAction*, view_count> view_commands_{};
    std::array<PressButton*, view_count> view_buttons_{};
    NeedView* need_ = nullptr;
    UnitsView* units_ = nullptr;
    LayoutView* layout_ = nullptr;
    StepsView* steps_ = nullptr;
    RunView* run_view_ = nullptr;
    QAction *profile_ = nullptr, *steady_ = nullptr, *beside_ = nullptr, *spice_ = nullptr;
    QAction *weld_map_ = nullptr, *cut_list_ = nullptr, *wiring_ = nullptr;
    QAction *pdf_ = nullptr, *csv_ = nullptr, *put_back_ = nullptr, *give_up_ = nullptr, *put_in_ = nullptr,
            *find_units_ = nullptr, *begin_ = nullptr, *replace_ = nullptr, *take_design_ = nullptr, *tick_ = nullptr,
            *take_back_ = nullptr, *place_by_heat_ = nullptr;
    QAction *move_ = nullptr, *swap_ = nullptr, *leave_out_ = nullptr, *as_proposed_ = nullptr;
    std::array<QAction*, 3> remedies_{};
    Job *planning_ = nullptr, *running_ = nullptr;
    bool plan_stale_ = true, run_stale_ = true;
    View view_ = View::units;
    Id build_ = 0;
    Id newest_seen_ = 0;
    bool filling_ = false;
};

} // namespace ingot::app
