// Units at rest: what is to be read today, a reading round that walks from one to the next, which of them leak.
#pragma once

#include "app/stations/station.h"
#include "workshop/rest.h"

#include <set>

class QLabel;
class QLineEdit;

namespace ingot {
class Job;
class RestModel;
} // namespace ingot

namespace ingot::app {

class ChoiceRow;
class DueBoardView;
class RecordTable;
class RestPicture;

class RestStation : public StationView {
    Q_OBJECT
public:
    explicit RestStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    // A label chooses a unit; a figure is its voltage now, and the next one is chosen.
    bool take_line(const QString& line) override;
    [[nodiscard]] std::optional<Quantity> wanted_reading() const override;
    void take_reading(const bench::MeterReading& reading, Quantity quantity, const std::string& instrument) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void pose() override;
    [[nodiscard]] bool judging() const;
    [[nodiscard]] DueBoardView* due() const { return due_view_; }

private:
    void judge();
    void shown(const RestShelf& shelf);
    void choose(Id unit);
    void keep();
    void next_due();
    void show_picture();
    void make_commands();
    QWidget* make_shelf();
    QWidget* make_siblings();
    void write_calendar();
    void charged_full();
    void discharged();
    bool read(const RestingLine& line, double volts, std::optional<double> resolution);
    [[nodiscard]] bool round_stands(); // begun anew where meter or room changed
    void show_round();
    void show_due();
    void walk_tray();

    Job* job_ = nullptr;
    bool stale_ = true; // the shelf has changed since it was judged
    QAction *next_ = nullptr, *keep_ = nullptr;
    RecordTable* table_ = nullptr;
    RestModel* model_ = nullptr;
    RestPicture* picture_ = nullptr;
    ChoiceRow* which_ = nullptr;
    QLineEdit *instrument_ = nullptr, *room_ = nullptr;
    QLabel *words_ = nullptr, *none_ = nullptr, *shared_ = nullptr, *round_words_ = nullptr;
    DueBoardView* due_view_ = nullptr;
    std::vector<std::vector<Id>> chip_rows_; // of each chip of the due board
    std::set<Id> tray_rows_;                 // of the chip that is chosen; empty: all
    ShelfRound round_;
    int round_readings_ = 0;
};

} // namespace ingot::app
