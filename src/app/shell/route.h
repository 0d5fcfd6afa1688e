// The stations as stops on one line, in the order of the work, each with how much waits there; under the line, apart,
// the rooms beside it.
#pragma once

#include "app/parts/painted.h"
#include "app/rooms/room.h"
#include "workshop/workshop.h"

#include <optional>

namespace ingot::app {

class Route : public Painted {
    Q_OBJECT
public:
    explicit Route(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set_waiting(const std::array<int, station_count>& waiting);
    void set_hand(Station station, const QString& words); // empty: nothing for the hand
    void set_current(Station station);
    void set_current(Room room);
    [[nodiscard]] Station current() const { return current_; } // the station that was seen last
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QRect row_of(Station station) const;
    [[nodiscard]] QRect row_of(Room room) const; // the Ledger and the Library have one

signals:
    void chosen(ingot::Station station);
    void room_chosen(ingot::app::Room room);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    std::array<int, station_count> waiting_{};
    std::array<QString, station_count> hand_;
    [[nodiscard]] int row_height() const;
    [[nodiscard]] int room_height() const;
    void draw_stop(QPainter& painter, Station station);
    void draw_room(QPainter& painter, Room room);

    Station current_ = Station::receive;
    std::optional<Room> room_;
};

} // namespace ingot::app
