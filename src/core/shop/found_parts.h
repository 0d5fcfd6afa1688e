// What hides in a pack beside its units, as it is found when it is opened: what the next one needs, and where it is
// kept.
#pragma once

#include <map>
#include <optional>
#include <string>

namespace ingot {

enum class FoundPart {
    board,
    sensor,       // of temperature, for board or charger
    thermal_fuse, // or switch
    series_part,  // coil or resistor in the lead
    connector,
    spacers,    // holders, foam, cards
    case_parts, // case, screws, seals
    wires,      // under the cells: where they run
};
inline constexpr int found_part_count = 8;
[[nodiscard]] const char* code(FoundPart part);
[[nodiscard]] std::optional<FoundPart> found_part_from(const std::string& code);

// Where each is kept, or how it lies, in a person's words.
using FoundParts = std::map<FoundPart, std::string>;
// One line for the workshop file, and back; what it does not know is passed over. A semicolon in the words becomes a
// comma.
[[nodiscard]] std::string write_found_parts(const FoundParts& parts);
[[nodiscard]] FoundParts read_found_parts(const std::string& line);

} // namespace ingot
