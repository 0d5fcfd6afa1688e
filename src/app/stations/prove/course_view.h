// A joined pack over time: as it is simulated from its units, and as its board wrote it down.
#pragma once

#include "app/stations/station.h"
#include "workshop/pack_course.h"

#include <QWidget>

class QLabel;

namespace ingot {
class Job;
}

namespace ingot::app {

class CoursePicture;

class CourseView : public QWidget {
    Q_OBJECT
public:
    CourseView(Workshop& workshop, QWidget* parent);
    void show_pack(Id pack);
    // Read, and simulated, beside the window; what cannot be read is told, and the log before it stays.
    void read_log(const QString& path);
    void forget_log();
    [[nodiscard]] bool has_log() const { return log_.has_value(); }
    [[nodiscard]] bool reading() const { return reading_; }
    // Of its rows the proof takes what it asks for.
    void take_figures();
    // What was read so far is dropped; the log before it stays.
    void stop();
    [[nodiscard]] const PackCourse& course() const { return course_; }
    [[nodiscard]] EvidenceContent evidence() const;

signals:
    void changed();
    void told(const QString& sentence, bool objection);

private:
    void work();
    void show_course();

    Workshop& workshop_;
    Id pack_ = 0;
    std::optional<BoardLog> log_;
    QString file_;
    QString asked_; // of what course_ is, or will be
    bool reading_ = false;
    PackCourse course_;
    Job* job_ = nullptr;
    QLabel* words_ = nullptr;
    CoursePicture* picture_ = nullptr;
};

} // namespace ingot::app
