// Build: the sheet of a build, group by group; units are taken from their trays by scanning; voltages before joining.
#pragma once

#include "app/stations/station.h"

class QLabel;

namespace ingot::app {

class RecordCombo;
class BuildPicture;
class Figure;
class Panel;

class BuildStation : public StationView {
    Q_OBJECT
public:
    explicit BuildStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void pose() override;
    bool write_pdf_to(const QString& path);
    [[nodiscard]] Id build() const { return build_; }

private:
    void add_commands();
    [[nodiscard]] Act taking(Id build, Id unit);
    [[nodiscard]] Act putting_back(Id build, Id unit);
    void put_back_last();
    void choose(Id build);

    RecordCombo* builds_ = nullptr;
    Panel* head_ = nullptr;
    QLabel* words_ = nullptr;
    Figure* taken_ = nullptr;
    Figure* usable_ = nullptr;
    Figure* difference_ = nullptr;
    Figure* current_ = nullptr;
    BuildPicture* picture_ = nullptr;
    Panel* join_ = nullptr;
    QLabel* join_words_ = nullptr;
    QAction* pdf_ = nullptr;
    QAction* csv_ = nullptr;
    QAction* put_back_ = nullptr;
    QAction* give_up_ = nullptr;
    Id build_ = 0;
    Id newest_seen_ = 0;
    Id last_ = 0; // unit
    bool filling_ = false;
};

} // namespace ingot::app
