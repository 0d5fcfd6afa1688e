#include "core/cells/unit_code.h"

#include <array>
#include <cctype>
#include <cstddef>

namespace ingot {

namespace {

constexpr int modulus = 31;
constexpr std::size_t body_length = 6;

int value_of(char c) {
    const auto at = unit_code_alphabet.find(c);
    return at == std::string_view::npos ? -1 : static_cast<int>(at);
}

// The check value for a body of roll and number: weights 2..7, the check character itself has weight 1.
int check_value(std::string_view body) {
    int sum = 0;
    for (std::size_t i = 0; i < body.size(); ++i)
        sum += value_of(body[i]) * static_cast<int>(i + 2);
    return (modulus - sum % modulus) % modulus;
}

char unify(char c) {
    switch (const char upper = static_cast<char>(std::toupper(static_cast<unsigned char>(c)))) {
    case 'O':
    case 'Q':
        return '0';
    case 'I':
    case 'L':
        return '1';
    case 'U':
        return 'V';
    default:
        return upper;
    }
}

// Roll, number and check without separators; empty if a character cannot belong to a code.
std::string compact(std::string_view text) {
    std::string out;
    for (const char c : text) {
        if (c == '-' || c == ' ' || c == '/' || c == '.')
            continue;
        const char u = unify(c);
        if (value_of(u) < 0)
            return {};
        out += u;
    }
    return out;
}

bool has_shape(std::string_view flat) {
    if (flat.size() != body_length + 1 || value_of(flat[0]) < 10)
        return false;
    for (std::size_t i = 2; i < body_length; ++i)
        if (value_of(flat[i]) > 9)
            return false;
    return true;
}

} // namespace

std::string UnitCode::text() const {
    std::array<char, 5> digits{};
    int rest = number;
    for (int i = 3; i >= 0; --i, rest /= 10)
        digits[static_cast<std::size_t>(i)] = static_cast<char>('0' + rest % 10);
    const std::string figures(digits.data(), 4);
    const char check = unit_code_alphabet[static_cast<std::size_t>(check_value(roll + figures))];
    std::string out = roll;
    out += '-';
    out += figures;
    out += '-';
    out += check;
    return out;
}

bool looks_like_unit_code(std::string_view text) {
    return has_shape(compact(text));
}

Result<UnitCode> parse_unit_code(std::string_view text) {
    const std::string flat = compact(text);
    if (!has_shape(flat))
        return Problem{"", 0,
                       said("\"{}\" is not a unit code; a code looks like K4-0193 and a check character.", text)};
    const std::string body = flat.substr(0, body_length);
    if (value_of(flat.back()) != check_value(body))
        return Problem{"", 0,
                       said("The check character of \"{}\" does not fit: one character is wrong or two are swapped. "
                            "Scan or read the label again.",
                            text)};
    return UnitCode{body.substr(0, 2), std::stoi(body.substr(2))};
}

} // namespace ingot
