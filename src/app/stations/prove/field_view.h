// A pack in the field: its groups read again, the trend, when a balance is due.
#pragma once

#include "app/stations/station.h"
#include "workshop/workshop.h"

#include <QWidget>

class QLabel;

namespace ingot {
class Job;
}

namespace ingot::app {

class FieldPicture;
class ReadingBoxes;

class FieldView : public QWidget {
    Q_OBJECT
public:
    FieldView(Workshop& workshop, QWidget* parent);
    void show_pack(Id pack);
    void refresh();
    [[nodiscard]] const PackInField& pack() const { return pack_; }
    [[nodiscard]] int group() const { return active_ + 1; } // that takes the next figure, from 1
    void next_group();
    void choose_group(int group);
    // The figure belongs to that group; then the next one is asked.
    Result<Id> take(double volts, const QString& line);
    Result<bool> strike_last();
    void echo(const QString& typed);
    [[nodiscard]] EvidenceContent evidence() const;

signals:
    void group_changed();
    void explained();

private:
    void show_boxes(const QString& typed = {});
    [[nodiscard]] int first_empty() const;
    void explain_return();
    void say_return(EvidenceContent& content) const;

    Workshop& workshop_;
    PackInField pack_;
    QLabel* words_ = nullptr;
    ReadingBoxes* boxes_ = nullptr;
    FieldPicture* picture_ = nullptr;
    int active_ = 0;
    // Of a pack that came back: what explains the figures read since, and of which figure that was asked.
    std::optional<Explained> explained_;
    TriageCase asked_;
    Id asked_of_ = 0;
    Job* job_ = nullptr;
};

} // namespace ingot::app
