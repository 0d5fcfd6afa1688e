// Pictures of every main view from the open workshop, for the documentation and for a machine without a display.
#pragma once

#include <QString>

namespace ingot::app {

class MainWindow;
// Writes the PNG files to `folder`; false if one could not be written.
bool write_screenshots(MainWindow& window, const QString& folder);

} // namespace ingot::app
