// What is said about joining and about a change of chemistry, in sentences.
#pragma once

#include "core/build/conversion.h"

#include <QString>

#include <optional>
#include <string>

namespace ingot::wording {

[[nodiscard]] QString reversed_unit(const std::string& unit);
[[nodiscard]] QString deep_unit(const std::string& unit);
[[nodiscard]] QString clash(const Clash& clash, const ConversionDesign& design, const DeviceWindow& device);
[[nodiscard]] QString needs_board(int series, std::optional<double> current_a);

} // namespace ingot::wording
