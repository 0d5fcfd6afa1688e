#include "core/shop/shop_records.h"

#include <array>

namespace ingot {

namespace {

constexpr std::array<const char*, 4> note_kinds{"symptom", "replaced", "lead-swap", "teardown"};

constexpr std::array<const char*, particular_count> particular_kinds{
    "device", "charger", "board",      "age",  "cycles", "repairs",     "price",
    "words",  "note",    "true-cause", "mass", "hours",  "matched-set", "parts-found"};

} // namespace

const char* code(ParticularKind kind) {
    return particular_kinds[static_cast<std::size_t>(kind)];
}

std::optional<ParticularKind> particular_kind_from(const std::string& code) {
    for (std::size_t i = 0; i < particular_kinds.size(); ++i)
        if (code == particular_kinds[i])
            return static_cast<ParticularKind>(i);
    return std::nullopt;
}

const char* code(NoteKind kind) {
    return note_kinds[static_cast<std::size_t>(kind)];
}

std::optional<NoteKind> note_kind_from(const std::string& code) {
    for (std::size_t i = 0; i < note_kinds.size(); ++i)
        if (code == note_kinds[i])
            return static_cast<NoteKind>(i);
    return std::nullopt;
}

} // namespace ingot
