// Unit codes: label roll, number, check character: "K4-0193-T".
//
// Alphabet: 0-9 and the letters without I, L, O, Q and U, which are misread for others (31 characters; 31
// is prime). The check character makes the weighted sum of all characters divisible by 31, with a different weight,
// none of them 0 modulo 31, at each place. So any single wrong character and any swap of two neighbours is caught (a
// swap of a and b at weights v and w changes the sum by (a-b)(v-w), which is never 0 modulo a prime unless a = b).
#pragma once

#include "core/cells/problem.h"

#include <string>
#include <string_view>

namespace ingot {

struct UnitCode {
    std::string roll; // two characters, first a letter
    int number = 0;   // 0..9999

    // "K4-0193-T".
    [[nodiscard]] std::string text() const;
    friend bool operator==(const UnitCode&, const UnitCode&) = default;
};

inline constexpr std::string_view unit_code_alphabet = "0123456789ABCDEFGHJKMNPRSTVWXYZ";

// Accepts small letters, missing or other separators, and the look-alikes O, Q -> 0; I, L -> 1; U -> V.
// The problem says whether the shape or the check character is wrong.
[[nodiscard]] Result<UnitCode> parse_unit_code(std::string_view text);

// True if the text has the shape of a unit code, whatever its check character.
[[nodiscard]] bool looks_like_unit_code(std::string_view text);

} // namespace ingot
