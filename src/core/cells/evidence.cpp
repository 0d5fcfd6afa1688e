#include "core/cells/evidence.h"

#include <array>
#include <cstddef>

namespace ingot {

namespace {
constexpr std::array<const char*, duty_count> duty_codes{"drive",     "store", "light",     "rest-again",
                                                         "undecided", "scrap", "quarantine"};
constexpr std::array<const char*, 16> evidence_codes{"capacity",
                                                     "resistance",
                                                     "self-discharge",
                                                     "voltage",
                                                     "finding",
                                                     "missing-capacity",
                                                     "missing-resistance",
                                                     "missing-self-discharge",
                                                     "missing-voltage",
                                                     "missing-reference",
                                                     "sibling-leak",
                                                     "current",
                                                     "age",
                                                     "temperature-rise",
                                                     "care-finding",
                                                     "overruled"};
} // namespace

const char* code(Duty duty) {
    return duty_codes[static_cast<std::size_t>(duty)];
}
const char* code(EvidenceKind kind) {
    return evidence_codes[static_cast<std::size_t>(kind)];
}

std::optional<Duty> duty_from(const std::string& code) {
    for (std::size_t i = 0; i < duty_codes.size(); ++i)
        if (code == duty_codes[i])
            return static_cast<Duty>(i);
    return std::nullopt;
}

} // namespace ingot
