// The strips of a pack as they are found, drawn before they are cut, with its photos beside. Every change is kept at
// once and can be undone.
#pragma once

#include "app/rooms/pack_room.h"

class QLabel;

namespace ingot::app {

class Panel;
class PhotoView;
class StripPicture;

class StripsPage : public PackRoom {
    Q_OBJECT
public:
    explicit StripsPage(Workshop& workshop, QWidget* parent = nullptr);
    void set_pack(Id pack) override;
    void refresh() override;
    bool take_line(const QString& line) override { return line.isEmpty(); }
    [[nodiscard]] QString scan_hint() const override { return tr("a label opens its pack or unit"); }
    [[nodiscard]] EvidenceContent evidence() const override;
    [[nodiscard]] QWidget* hands_on() const override;

private:
    void keep();
    void say();

    Panel* panel_ = nullptr;
    StripPicture* picture_ = nullptr;
    PhotoView* photos_ = nullptr;
    QLabel* words_ = nullptr;
};

} // namespace ingot::app
