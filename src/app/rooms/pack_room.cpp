#include "app/rooms/pack_room.h"

namespace ingot::app {

PackRoom::PackRoom(Workshop& workshop, Room room, QWidget* parent) : Page(workshop, parent), room_(room) {
    setObjectName(QStringLiteral("room_%1").arg(static_cast<int>(room)));
}

QString PackRoom::title() const {
    const Assembly* pack = record();
    if (pack == nullptr)
        return tr("%1: no pack is chosen yet").arg(room_name(room_));
    const QString label = QString::fromStdString(pack->label);
    switch (room_) {
    case Room::units:
        return tr("Units of %1").arg(label);
    case Room::strips:
        return tr("Strips of %1").arg(label);
    case Room::donors:
        return tr("Donors for packs like %1").arg(label);
    case Room::worth:
        return tr("Is %1 worth it?").arg(label);
    default:
        return label;
    }
}

} // namespace ingot::app
