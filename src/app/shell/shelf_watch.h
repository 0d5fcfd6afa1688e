// Judges the shelf beside the window some time after its readings changed, so that the foot of the window says when it
// is to be walked, whichever station is in sight.
#pragma once

#include "app/parts/bench_clock.h"
#include "workshop/job.h"
#include "workshop/rest_due.h"

#include <QTimer>

namespace ingot::app {

class ShelfWatch : public QObject {
    Q_OBJECT
public:
    ShelfWatch(Workshop& workshop, QObject* parent);
    void look(); // now

signals:
    void due(const std::vector<ingot::app::ClockEvent>& readings);

private:
    void tell(const RestShelf& shelf);

    Workshop& workshop_;
    Job* job_;
    QTimer soon_;
};

} // namespace ingot::app
