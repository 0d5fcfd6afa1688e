// What is said of populations.
#pragma once

#include "workshop/populations.h"

#include <QStringList>

namespace ingot::wording {

[[nodiscard]] QString chance(const ShareOf& share); // "62 % (48 to 75)"
// One sentence for each thing that stands out, the strongest of its kind first.
[[nodiscard]] QStringList what_stands_out(const Workshop& workshop, const PopulationAnswer& answer);

} // namespace ingot::wording
