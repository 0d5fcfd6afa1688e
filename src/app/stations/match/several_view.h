// The builds that want units, side by side over one stock: who gets what by their order, what each could have at most,
// and what one costs the next.
#pragma once

#include "app/stations/station.h"
#include "workshop/job.h"
#include "workshop/wanted_builds.h"

#include <memory>

class QLabel;
class QScrollArea;

namespace ingot::app {

class BuildLanes;
class PressButton;

class SeveralView : public QWidget {
    Q_OBJECT
public:
    // `back` leads to the other view; `head` stand beside the title, the last of them strong.
    SeveralView(Workshop& workshop, QAction* back, const std::vector<QAction*>& head, QWidget* parent);
    // Shows the builds; asks anew who gets what where something changed since the last answer.
    void refresh(double give_up);
    void changed() { stale_ = true; }
    [[nodiscard]] bool searching() const { return job_->busy(); }
    void stop() { job_->stop(); }
    [[nodiscard]] Id chosen_build() const; // 0: none
    void choose(Id build);
    [[nodiscard]] bool any_met() const;
    [[nodiscard]] const std::optional<AllotAnswer>& answer() const { return answer_; }
    [[nodiscard]] BuildLanes* lanes() const { return lanes_; }
    // The unit's place in rack and lane; says who gets it.
    bool show_unit(Id unit);
    [[nodiscard]] EvidenceContent evidence() const;
    // Reserves the units of every build that is met; what was reserved.
    Result<int> reserve_met();

signals:
    void chosen_changed();
    void answered();
    void opened(ingot::Id build);
    void told(const QString& sentence, bool objection);

private:
    void begin(double give_up);
    void take(const AllotAnswer& answer);
    void show_lanes();
    [[nodiscard]] int index_of(Id build) const; // in the answer; -1: not in it

    Workshop& workshop_;
    Job* job_ = nullptr;
    QLabel* words_ = nullptr;
    QLabel* none_ = nullptr;
    BuildLanes* lanes_ = nullptr;
    std::vector<Id> shown_;        // builds, as the lanes
    std::vector<Id> rank_to_unit_; // of the rack
    std::optional<AllotAnswer> answer_;
    bool stale_ = true;
    double give_up_ = 0;
};

} // namespace ingot::app
