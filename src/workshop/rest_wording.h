// What is said about units at rest.
#pragma once

#include "workshop/rest.h"

#include <QString>

namespace ingot::wording {

[[nodiscard]] QString leak_verdict(LeakVerdict verdict);
[[nodiscard]] QString drift(double v_per_day);
[[nodiscard]] QString drift_between(double low_v_per_day, double high_v_per_day);
// Why the verdict is what it is, and what to do.
[[nodiscard]] QString leak_reason(const RestingLine& line);

} // namespace ingot::wording
