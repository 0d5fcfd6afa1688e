// The tester on the bench: the wall of bays, and below it the curves, the plan and the conditioning of what is chosen.
// Owns the runs and the plan; the station around it gives it units and asks it for Evidence.
#pragma once

#include "app/parts/bench_clock.h"
#include "app/parts/run_plot.h"
#include "app/stations/station.h"
#include "workshop/bay_schedule.h"
#include "workshop/job.h"
#include "workshop/run_forecasts.h"

#include <QElapsedTimer>

class QComboBox;
class QHBoxLayout;
class QLabel;
class QStackedWidget;
class QVBoxLayout;

namespace ingot::app {

class BayWall;
class ChoiceRow;
class ConditioningView;
class Panel;
class PlanLanes;

class BenchView : public QWidget {
    Q_OBJECT
public:
    enum class Page { unit, curves, plan, conditioning };
    // `unit_page` is shown as the first page.
    BenchView(Workshop& workshop, QWidget* unit_page, QWidget* parent = nullptr);

    [[nodiscard]] Bays& bays() { return bays_; }
    [[nodiscard]] BaySchedule& schedule() { return schedule_; }
    [[nodiscard]] BayWall* wall() const { return wall_; }
    [[nodiscard]] PlanLanes* lanes() const { return lanes_; }
    [[nodiscard]] ConditioningView* conditioning() const { return conditioning_; }
    [[nodiscard]] RunPlot* plot() const { return plot_; }
    [[nodiscard]] bool planning() const { return planning_; }

    // Buttons of the bench's head, made from the station's commands.
    void add_command_button(QAction* command);
    void add_page_button(QAction* command, const QString& words); // a page of its own, in fewer words
    void attach(const std::string& address);
    void detach();
    // Starts ingot-sim beside this program, or finds the one that runs, and attaches it.
    void start_simulated(double rate);
    void set_rate(double rate);
    void show_page(Page page);
    [[nodiscard]] Page page() const;
    void show_unit(Id unit);
    void refresh();

    // Unit, bay, yes: what is offered starts only when it is said again, by the bay's label, "yes" or Start. By the
    // unit's queued protocol, the chosen one, or the usual one.
    void offer(const OnChannel& on, int bay);
    [[nodiscard]] bool offered() const { return offered_bay_ > 0; }
    void take_offer();
    void withdraw_offer();
    // What a scanned or typed bay means: offer the unit, start what is offered, lift out, or show it.
    void bay_scanned(int bay, Id unit);
    void lift_out(int bay);
    void plan();
    [[nodiscard]] int chosen_bay() const;
    void choose_bay(int bay);
    [[nodiscard]] EvidenceContent evidence(const EvidenceContent& of_unit) const;
    [[nodiscard]] int wanting_hand() const;
    [[nodiscard]] int running() const; // bays in which current flows or waits to
    // The log that is looked at: of the chosen bay, else the newest of the unit.
    [[nodiscard]] std::optional<LogSamples> chosen_log() const;

    void fill_clock(BenchClock& clock) const;

signals:
    void told(const QString& sentence, bool objection);
    void alarmed(const QString& sentence);
    void acknowledged(const QString& what);
    void evidence_changed();
    void unit_chosen(qlonglong unit);
    void changed(); // for the route and the clock
    void come_back(const QString& words);
    void plan_ready();

private:
    void add_offer(QVBoxLayout* outer);
    void show_offer();
    void bay_pressed(int bay); // on the wall: never starts
    [[nodiscard]] std::string protocol_for(const OnChannel& on) const;
    [[nodiscard]] const BayView* bay_looked_at() const; // of the chosen unit or assembly; null: it stands in none
    void show_curves();
    void draw_curves();
    void show_head();
    [[nodiscard]] QString testers_in_words() const;
    void take_plan(const BaySchedule::Planned& planned);
    void say_of_plan(const QString& words);
    void show_plan_words();
    [[nodiscard]] QStringList capacity_notes() const;
    void notify();

    Workshop& workshop_;
    Bays bays_;
    BaySchedule schedule_;
    QWidget* head_ = nullptr; // only with a tester
    QString plan_said_;
    QHBoxLayout* head_row_ = nullptr;
    QList<QWidget*> without_tester_; // buttons that bring one
    QLabel* counts_ = nullptr;
    QComboBox* protocol_ = nullptr;
    BayWall* wall_ = nullptr;
    ChoiceRow* pages_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    RunPlot* plot_ = nullptr;
    PlanLanes* lanes_ = nullptr;
    QLabel* plan_words_ = nullptr;
    ConditioningView* conditioning_ = nullptr;
    QTimer* repaint_ = nullptr;
    Id unit_ = 0;
    Id assembly_ = 0; // in the chosen bay, and no unit was chosen since
    Panel* offer_ = nullptr;
    QLabel* offer_words_ = nullptr;
    OnChannel offered_on_;
    int offered_bay_ = 0;
    QElapsedTimer offered_since_;
    QStringList capacity_notes_;        // of the unit
    mutable RunForecasts forecasts_;    // what runs is asked again only as it goes on
    std::vector<RunCurve> kept_curves_; // finished runs of the unit that is looked at
    CurveBand band_;                    // of its siblings
    double usual_cutoff_v_ = 0;
    int alarm_bay_ = 0; // stopped by itself, and nothing was chosen since
    std::optional<BaySchedule::Planned> planned_;
    Job* job_ = nullptr;
    bool planning_ = false;
    bool plan_stale_ = false;
    QDateTime told_to_come_;
};

} // namespace ingot::app
