// The pages of the route: one station each.
#pragma once

#include "app/stations/page.h"

namespace ingot::app {

QString station_name(Station station);

class StationView : public Page {
    Q_OBJECT
public:
    StationView(Workshop& workshop, Station station, QWidget* parent = nullptr);

    [[nodiscard]] Station station() const { return station_; }
    [[nodiscard]] QString title() const override { return station_name(station_); }

private:
    Station station_;
};

} // namespace ingot::app
