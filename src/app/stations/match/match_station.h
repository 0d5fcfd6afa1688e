// Match: choose S x P and the pool, search off the GUI thread, see how level the groups are, and the four ways side by
// side.
#pragma once

#include "app/parts/ways_view.h"
#include "app/stations/station.h"
#include "workshop/job.h"

#include <map>
#include <memory>
#include <set>

class QCheckBox;
class QComboBox;
class QHBoxLayout;
class QLabel;
class QProgressBar;
class QScrollArea;
class QSpinBox;
class QStackedWidget;

namespace ingot::app {

class ChoiceRow;
class Figure;
class GiveUpBars;
class LevelView;
class Panel;
class SeveralView;

class MatchStation : public StationView {
    Q_OBJECT
public:
    // What the person decided about single units, for the next search.
    struct Choices {
        std::map<Id, int> locks; // unit to group, 0-based
        std::set<Id> excluded;
        std::set<std::pair<Id, Id>> apart; // the lower identity first
        [[nodiscard]] bool empty() const { return locks.empty() && excluded.empty() && apart.empty(); }
    };
    explicit MatchStation(Workshop& workshop, QWidget* parent = nullptr);
    ~MatchStation() override; // a search that still runs is waited for while there is something to tell
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void pose() override;
    // `longer`: goes on from the answer in sight with more patience of the search before.
    void start_search(bool longer = false);
    void stop_search();
    [[nodiscard]] bool searching() const;
    // Units for a build that has none: what it asks of the stock is set, and Reserve reserves for it. 0: a new build.
    void match_for(Id build);
    // One build, or all that want units over one stock.
    void show_several(bool several);
    [[nodiscard]] bool has_answer() const { return answer_.has_value(); }
    [[nodiscard]] const std::optional<MatchResult>& answer() const { return answer_; }
    [[nodiscard]] Id unit_of(std::size_t index) const; // in the answer's groups
    [[nodiscard]] LevelView* level_view() const { return level_; }
    [[nodiscard]] SeveralView* several_view() const { return several_view_; }
    bool step_back() override; // what is held for an exchange is let go
    void set_demands(const NamedDemands& demands);
    [[nodiscard]] const NamedDemands& demands() const { return demands_; }

signals:
    void search_finished();

protected:
    void keyPressEvent(QKeyEvent* event) override; // Esc lets go of what is held

private:
    struct Found {
        MatchProblem problem;
        std::vector<Id> units;
        std::vector<WayRow> rows;
        int spared = 0;       // stronger units that stay in stock,
        double wanted_ah = 0; // because the build wants no more
    };
    // An answer that was kept, or changed by hand; it stands beside what is searched next.
    struct Kept {
        WayRow row;
        std::shared_ptr<const Found> of;
        bool by_hand = false;
    };
    void add_search_commands();
    void add_hand_commands();
    QWidget* make_one();
    QWidget* make_choices();
    QHBoxLayout* make_kept_row(QWidget* panel);
    void connect_choices();
    void enable_commands();
    void fill_for();

    // --- match_several.cpp: builds that want units ---
    void add_build_commands();
    void add_build();
    void add_refill();
    void reserve_met();

    [[nodiscard]] EvidenceContent one_evidence() const;
    void fill_sets();
    [[nodiscard]] Id chosen_set() const; // 0: units that belong to none
    [[nodiscard]] PoolFilter filter() const;
    [[nodiscard]] double give_up() const;
    void show_pool_size();
    void show_interim(const MatchProblem& problem, const MatchResult& result);
    void go_on(Found& found) const;
    void search_all_ways(Found& found, const Job::Token& token);
    void see_other_steps(const MatchProblem& base, const Job::Token& token);
    void take_found(const std::shared_ptr<Found>& found);
    void show_found();
    void show_figures(const MatchResult& result);
    void toggle_lock(Id unit, int group);
    void toggle_exclude(Id unit);
    void reserve();
    void set_locks(Choices choices);
    [[nodiscard]] Id id_of(const QString& code) const;

    // --- match_by_hand.cpp: what is asked, exchanged, kept ---
    void fill_demands();
    void choose_demands();
    void ask_for_demands();
    void keep_apart();
    void hold_unit();
    void let_go();
    // What an exchange would make of the answer; `with` may be in the pack or in the stock.
    [[nodiscard]] std::optional<MatchResult> exchanged(Id unit, Id with) const;
    [[nodiscard]] std::size_t index_of(Id unit) const;
    void see_exchange(Id unit, Id with);
    void exchange(Id unit, Id with);
    void keep_answer();
    void set_kept(std::vector<Kept> kept, int row);
    void write_groups();
    [[nodiscard]] const Found* shown() const; // what the chosen row was found for; null: nothing
    [[nodiscard]] EvidenceContent exchange_evidence() const;
    void add_why_here(EvidenceContent& content, Id unit) const;
    void add_demands(EvidenceContent& content) const;

    friend class ChoicesCommand;
    friend class KeptCommand;

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
    QWidget* set_choice_ = nullptr; // there while there are matched sets
    QComboBox* set_ = nullptr;
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
    QScrollArea* ways_area_ = nullptr;
    QLabel* notes_ = nullptr;
    QAction* search_ = nullptr;
    QAction* longer_ = nullptr;
    QAction* stop_ = nullptr;
    QAction* reserve_ = nullptr;
    QAction* lock_ = nullptr;
    QAction* exclude_ = nullptr;
    QAction* forget_ = nullptr;
    QAction* one_mode_ = nullptr;
    QAction* several_mode_ = nullptr;
    QAction* add_build_ = nullptr;
    QAction* add_refill_ = nullptr;
    QAction* drop_build_ = nullptr;
    QAction* earlier_ = nullptr;
    QAction* later_ = nullptr;
    QAction* reserve_met_ = nullptr;
    QAction* ask_ = nullptr;
    QAction* apart_ = nullptr;
    QAction* exchange_ = nullptr;
    QAction* keep_ = nullptr;
    QAction* groups_csv_ = nullptr;
    QAction* break_set_ = nullptr;
    Choices choices_;
    QComboBox* demands_box_ = nullptr;
    NamedDemands demands_;                                         // without pairs; these are among the choices
    std::array<std::optional<MatchResult>, demand_count> without_; // the answer without one demand
    std::vector<Kept> kept_;
    Id held_ = 0; // to be exchanged
    Id with_ = 0; // what it is exchanged with, while that is looked at
    std::optional<MatchResult> preview_;
    std::shared_ptr<Found> found_;
    std::optional<MatchResult> answer_; // of the chosen way
    int way_ = 3;                       // the row: ways first, then what was kept
    Job* job_ = nullptr;                // goes on after its answer, to see what other steps of the control would buy
    bool filling_ = false;
    bool stale_ = false; // choices changed since the answer
};

} // namespace ingot::app
