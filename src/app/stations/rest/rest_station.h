// Units at rest: what is to be read today, a reading round that walks from one to the next, which of them leak.
#pragma once

#include "app/stations/station.h"

class QLabel;
class QLineEdit;

namespace ingot {
class Job;
class RestModel;
} // namespace ingot

namespace ingot::app {

class ChoiceRow;
class RecordTable;
class RestPicture;

class RestStation : public StationView {
    Q_OBJECT
public:
    explicit RestStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    // A label chooses a unit; a figure is its voltage now, and the next one is chosen.
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void pose() override;
    [[nodiscard]] bool judging() const;

private:
    void judge();
    void shown(const RestShelf& shelf);
    void choose(Id unit);
    void keep();
    void next_due();
    void show_picture();

    Job* job_ = nullptr;
    bool stale_ = true; // the shelf has changed since it was judged
    QAction *next_ = nullptr, *keep_ = nullptr;
    RecordTable* table_ = nullptr;
    RestModel* model_ = nullptr;
    RestPicture* picture_ = nullptr;
    ChoiceRow* which_ = nullptr;
    QLineEdit* instrument_ = nullptr;
    QLabel *words_ = nullptr, *none_ = nullptr;
};

} // namespace ingot::app
