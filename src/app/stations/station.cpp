#include "app/stations/station.h"

#include <QCoreApplication>

namespace ingot::app {

StationView::StationView(Workshop& workshop, Station station, QWidget* parent)
    : Page(workshop, parent), station_(station) {}

QString station_name(Station station) {
    const auto tr = [](const char* text) { return QCoreApplication::translate("ingot::app", text); };
    switch (station) {
    case Station::receive:
        return tr("Receive");
    case Station::triage:
        return tr("Triage");
    case Station::open:
        return tr("Open");
    case Station::test:
        return tr("Test");
    case Station::rest:
        return tr("Rest");
    case Station::sort:
        return tr("Sort");
    case Station::match:
        return tr("Match");
    case Station::build:
        return tr("Build");
    case Station::prove:
        return tr("Prove");
    }
    return {};
}

} // namespace ingot::app
