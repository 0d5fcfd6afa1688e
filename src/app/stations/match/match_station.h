// Match: choose S x P and the pool, search off the GUI thread, see how level the groups are, and the four ways side by
// side.
#pragma once

#include "app/stations/station.h"
#include "workshop/job.h"

#include <mutex>
#include <set>

class QCheckBox;
class QComboBox;
class QLabel;
class QProgressBar;
class QSpinBox;
class QStackedWidget;

namespace ingot::app {

class ChoiceRow;
class Figure;
class GiveUpBars;
class LevelView;
class Panel;
class SeveralView;
class WaysView;
struct WayRow;

class MatchStation : public StationView {
    Q_OBJECT
public:
    explicit MatchStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void pose() override;
    void start_search();
    void stop_search();
    [[nodiscard]] bool searching() const;
    // Units for a build that has none: what it asks of the stock is set, and Reserve reserves for it. 0: a new build.
    void match_for(Id build);
    // One build, or all that want units over one stock.
    void show_several(bool several);
    [[nodiscard]] bool has_answer() const { return answer_.has_value(); }
    [[nodiscard]] const std::optional<MatchResult>& answer() const { return answer_; }
    [[nodiscard]] LevelView* level_view() const { return level_; }
    [[nodiscard]] SeveralView* several_view() const { return several_view_; }

signals:
    void search_finished();

private:
    struct Found {
        MatchProblem problem;
        std::vector<Id> units;
        std::vector<WayRow> rows;
    };
    void add_search_commands();
    void add_build_commands();
    QWidget* make_one();
    QWidget* make_choices();
    void connect_choices();
    void enable_commands();
    void fill_for();
    void add_build();
    void reserve_met();
    [[nodiscard]] EvidenceContent one_evidence() const;
    [[nodiscard]] PoolFilter filter() const;
    [[nodiscard]] double give_up() const;
    void show_pool_size();
    void show_interim(const MatchProblem& problem, const MatchResult& result);
    void search_all_ways(Found& found, const Job::Token& token);
    void see_other_steps(const MatchProblem& base, const Job::Token& token);
    void take_found(const std::shared_ptr<Found>& found);
    void show_found();
    void show_figures(const MatchResult& result);
    void toggle_lock(Id unit, int group);
    void toggle_exclude(Id unit);
    void reserve();
    void set_locks(std::map<Id, int> locks, std::set<Id> excluded);
    [[nodiscard]] Id id_of(const QString& code) const;

    friend class LocksCommand;

    QStackedWidget* stack_ = nullptr;
    SeveralView* several_view_ = nullptr;
    bool several_ = false;
    Id for_build_ = 0; // 0: a new one
    QComboBox* for_ = nullptr;
    QSpinBox* series_ = nullptr;
    QSpinBox* parallel_ = nullptr;
    QComboBox* chemistry_ = nullptr;
    QComboBox* model_ = nullptr;
    QComboBox* tray_ = nullptr;
    std::array<QCheckBox*, 3> duties_{};
    ChoiceRow* give_up_ = nullptr;
    GiveUpBars* bought_ = nullptr;
    std::array<std::optional<double>, 4> spreads_; // conductance spread at each step of the control
    QLabel* pool_words_ = nullptr;
    QProgressBar* progress_ = nullptr;
    Figure* spread_ = nullptr;
    Figure* usable_ = nullptr;
    Figure* bound_ = nullptr;
    Figure* stranded_ = nullptr;
    LevelView* level_ = nullptr;
    WaysView* ways_ = nullptr;
    QLabel* notes_ = nullptr;
    QAction* search_ = nullptr;
    QAction* stop_ = nullptr;
    QAction* reserve_ = nullptr;
    QAction* lock_ = nullptr;
    QAction* exclude_ = nullptr;
    QAction* forget_ = nullptr;
    QAction* one_mode_ = nullptr;
    QAction* several_mode_ = nullptr;
    QAction* add_build_ = nullptr;
    QAction* drop_build_ = nullptr;
    QAction* earlier_ = nullptr;
    QAction* later_ = nullptr;
    QAction* reserve_met_ = nullptr;
    std::map<Id, int> locks_; // unit to group, 0-based
    std::set<Id> excluded_;
    std::shared_ptr<Found> found_;
    std::optional<MatchResult> answer_; // of the chosen way
    int way_ = 3;
    Job* job_ = nullptr; // goes on after its answer, to see what other steps of the control would buy
    bool filling_ = false;
    bool stale_ = false; // choices changed since the answer
};

} // namespace ingot::app
