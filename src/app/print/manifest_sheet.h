// The recycling manifest as a PDF, with the usual cautions of carriage.
#pragma once

#include "workshop/workshop.h"

namespace ingot::app {

// False if the file cannot be written.
[[nodiscard]] bool write_manifest_sheet(const QString& path, const std::vector<ManifestLine>& manifest,
                                        const QString& shop, const QString& date);

} // namespace ingot::app
