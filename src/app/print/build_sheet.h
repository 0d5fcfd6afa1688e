// A build sheet as PDF: group by group which unit from which tray and well, voltages before joining, cautions.
#pragma once

#include "workshop/workshop.h"

#include <QString>

#include <vector>

namespace ingot::app {

[[nodiscard]] bool write_build_sheet(const QString& path, const BuildSheet& sheet, const QString& workshop,
                                     const std::vector<QString>& cautions);

} // namespace ingot::app
