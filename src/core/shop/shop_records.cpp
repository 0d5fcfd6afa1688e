#include "core/shop/shop_records.h"

#include <array>

namespace ingot {

namespace {

constexpr std::array<const char*, 4> note_kinds{"symptom", "replaced", "lead-swap", "teardown"};

} // namespace

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
