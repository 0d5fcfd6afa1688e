// The units of an opened pack, group by group: walked with the arrow keys, findings noted by single letters that stand
// on visible caps, dead ones sent to recycling; what was noted by mistake is taken back by the same letter.
#pragma once

#include "app/rooms/pack_room.h"

class QComboBox;
class QHBoxLayout;
class QLabel;

namespace ingot::app {

class Panel;
class PhotoView;
class TrayPicture;

class UnitsPage : public PackRoom {
    Q_OBJECT
public:
    explicit UnitsPage(Workshop& workshop, QWidget* parent = nullptr);
    void set_pack(Id pack) override;
    void refresh() override;
    bool take_line(const QString& line) override; // a label of this pack's units chooses it
    [[nodiscard]] QString scan_hint() const override { return tr("a unit's label chooses it"); }
    [[nodiscard]] EvidenceContent evidence() const override;
    [[nodiscard]] QWidget* hands_on() const override;
    bool show_unit(Id unit) override;
    // Starts at that label of the sheet; 1: the first. False: it could not be written.
    bool print_label_to(const QString& path, int first);

private:
    void build_keys(Panel* panel);
    void act(QChar letter);
    void recycle(const UnitState& unit);
    void note(const UnitState& unit, const exchange::LookFinding& finding);
    void set_model(const UnitState& unit);
    void set_home();
    void print_label();
    void say(const QString& words);
    [[nodiscard]] const UnitState* chosen() const;

    std::vector<Id> units_; // by place; 0 where none was made
    Panel* panel_ = nullptr;
    TrayPicture* picture_ = nullptr;
    PhotoView* photos_ = nullptr;
    QComboBox* model_ = nullptr;
    QLabel* words_ = nullptr;
    QAction* home_ = nullptr;
    QAction* label_ = nullptr;
};

} // namespace ingot::app
