// What a person says in the proof of a joined pack, beside what is measured in it.
#pragma once

#include "core/cells/id.h"

#include <optional>
#include <string>

namespace ingot {

enum class ProofNoteKind {
    answer,   // about a ProofItem: "yes", "no", "none" (it has no such thing)
    left_out, // about a ProofRound: why
    signed_,  // about a ProofRound: by whom
};
[[nodiscard]] const char* code(ProofNoteKind kind);
[[nodiscard]] std::optional<ProofNoteKind> proof_note_kind_from(const std::string& code);

// The newest about a thing counts; an empty value takes it back.
struct ProofNote {
    Id id = 0;
    Id assembly = 0;
    ProofNoteKind kind{};
    std::string about, value, noted_at;
};

} // namespace ingot
