// A room that is about one pack.
#pragma once

#include "app/stations/page.h"

namespace ingot::app {

class PackRoom : public Page {
    Q_OBJECT
public:
    PackRoom(Workshop& workshop, Room room, QWidget* parent);
    // The room's name and the pack's label.
    [[nodiscard]] QString title() const override;
    // The room takes this pack up, also where it has another one.
    virtual void set_pack(Id pack) { pack_ = pack; }
    [[nodiscard]] Id pack() const { return pack_; }

protected:
    [[nodiscard]] const Assembly* record() const { return workshop().pack(pack_); }

private:
    Room room_;
    Id pack_ = 0;
};

} // namespace ingot::app
