#include "app/shell/shelf_watch.h"

#include <algorithm>
#include <map>

namespace ingot::app {

namespace {
constexpr int patience_ms = 1500; // readings come one after the other; the shelf is judged after them
} // namespace

ShelfWatch::ShelfWatch(Workshop& workshop, QObject* parent)
    : QObject(parent), workshop_(workshop), job_(new Job(this)) {
    soon_.setSingleShot(true);
    soon_.setInterval(patience_ms);
    connect(&soon_, &QTimer::timeout, this, &ShelfWatch::look);
    connect(&workshop, &Workshop::changed, this, [this](const ChangeSet& changes) {
        if (changes.everything || changes.rules || changes.library || !changes.units.empty() ||
            !changes.assemblies.empty())
            soon_.start();
    });
    soon_.start();
}

// One judgement at a time: a large shelf takes seconds, and is judged again when they are over.
void ShelfWatch::look() {
    if (job_->busy()) {
        soon_.start();
        return;
    }
    job_->begin<RestShelf>([judge = shelf_judgement(workshop_)](
                               const Job::Token& token) { return judge([&token] { return token.wanted(); }); },
                           [this](const RestShelf& shelf) { tell(shelf); });
}

void ShelfWatch::tell(const RestShelf& shelf) {
    std::vector<ClockEvent> readings;
    const QDateTime now = QDateTime::currentDateTime();
    std::map<QString, DueVisit> overdue; // whatever day they were for, a tray is walked once
    std::vector<DueVisit> visits;
    for (DueVisit& visit : due_visits(workshop_, shelf)) {
        if (visit.at > now) {
            visits.push_back(std::move(visit));
            continue;
        }
        DueVisit& once = overdue[visit.home];
        once.at = now;
        once.home = visit.home;
        once.units += visit.units;
    }
    for (auto& [home, visit] : overdue)
        visits.push_back(std::move(visit));
    for (const DueVisit& visit : visits) {
        ClockEvent& reading = readings.emplace_back();
        reading.at = visit.at;
        reading.hand = true;
        reading.words = visit.home.isEmpty() ? tr("read %n units", nullptr, visit.units)
                                             : tr("read %1: %2").arg(visit.home).arg(visit.units);
    }
    // Packs in service are read when they come by.
    for (const ProveService::Visit& visit : workshop_.prove().field_visits()) {
        ClockEvent& reading = readings.emplace_back();
        reading.at = QDateTime::fromString(QString::fromStdString(visit.at), Qt::ISODate).toLocalTime();
        reading.hand = true;
        reading.field = true;
        reading.words = tr("read %1").arg(QString::fromStdString(visit.label));
    }
    std::stable_sort(readings.begin(), readings.end(),
                     [](const ClockEvent& a, const ClockEvent& b) { return a.at < b.at; });
    emit due(readings);
}

} // namespace ingot::app
