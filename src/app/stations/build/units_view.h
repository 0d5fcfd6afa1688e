// Units: the sheet of a build, group by group; units are taken from their trays by scanning; voltages before joining.
#pragma once

#include "app/stations/build/build_view.h"

class QLabel;

namespace ingot::app {

class BuildPicture;
class Figure;
class Panel;

class UnitsView : public BuildView {
    Q_OBJECT
public:
    // The commands that belong beside what they act on.
    struct Commands {
        QAction *pdf, *csv, *put_back;
    };
    UnitsView(Workshop& workshop, const Commands& commands, QWidget* parent);
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void put_back_last();
    // Another unit in the place of the one that was scanned last.
    void replace_last();
    [[nodiscard]] bool may_replace() const;

private:
    [[nodiscard]] Act taking(Id unit);
    [[nodiscard]] Act putting_back(Id unit);
    [[nodiscard]] bool stands(Id unit) const; // taken for this build

    Figure* taken_ = nullptr;
    Figure* usable_ = nullptr;
    Figure* difference_ = nullptr;
    Figure* current_ = nullptr;
    BuildPicture* picture_ = nullptr;
    QLabel* join_words_ = nullptr;
    Id shown_ = 0; // build
    Id last_ = 0;  // unit
};

} // namespace ingot::app
