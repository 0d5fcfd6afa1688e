#include "core/assembly/assembly.h"

#include <array>
#include <cstddef>

namespace ingot {

namespace {

constexpr std::array<const char*, assembly_state_count> state_codes{
    "received", "in-triage", "to-open", "under-repair", "opened",     "refused",  "planned",
    "taken",    "given-up",  "joined",  "proved",       "in-service", "returned", "spent"};

} // namespace

const char* code(AssemblyState state) {
    return state_codes[static_cast<std::size_t>(state)];
}

std::optional<AssemblyState> assembly_state_from(const std::string& code) {
    for (std::size_t i = 0; i < state_codes.size(); ++i)
        if (code == state_codes[i])
            return static_cast<AssemblyState>(i);
    return std::nullopt;
}

bool may_follow(AssemblyState from, AssemblyState to) {
    using S = AssemblyState;
    switch (to) {
    case S::received:
    case S::in_triage:
        return from == S::received || from == S::in_triage || from == S::to_open || from == S::refused ||
               from == S::returned || from == S::under_repair;
    case S::to_open:
        return from == S::received || from == S::in_triage || from == S::to_open || from == S::returned ||
               from == S::under_repair;
    case S::refused:
        return from == S::received || from == S::in_triage || from == S::to_open;
    case S::under_repair:
        return from == S::received || from == S::in_triage || from == S::to_open || from == S::returned;
    case S::joined:
        return from == S::taken || from == S::under_repair;
    case S::proved:
        return from == S::joined || from == S::under_repair;
    case S::in_service:
        return from == S::proved || from == S::joined || from == S::under_repair;
    case S::returned:
        return from == S::in_service;
    case S::spent:
        return from == S::in_service || from == S::returned;
    case S::opened:
    case S::planned:
    case S::taken:
    case S::given_up:
        return false;
    }
    return false;
}

} // namespace ingot
