// The stations as stops on one line, in the order of the work, each with how much waits there.
#pragma once

#include "workshop/workshop.h"

#include <QWidget>

namespace ingot::app {

class Route : public QWidget {
    Q_OBJECT
public:
    explicit Route(QWidget* parent = nullptr);
    void set_waiting(const std::array<int, station_count>& waiting);
    void set_hand(Station station, const QString& words); // empty: nothing for the hand
    void set_current(Station station);
    [[nodiscard]] Station current() const { return current_; }
    [[nodiscard]] QSize sizeHint() const override { return {176, 600}; }
    [[nodiscard]] QRect row_of(Station station) const;

signals:
    void chosen(ingot::Station station);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    std::array<int, station_count> waiting_{};
    std::array<QString, station_count> hand_;
    Station current_ = Station::receive;
};

} // namespace ingot::app
