#include "core/shop/found_parts.h"

#include <algorithm>
#include <array>
#include <sstream>

namespace ingot {

namespace {

constexpr std::array<const char*, found_part_count> part_codes{"board",     "sensor",  "thermal-fuse", "series-part",
                                                               "connector", "spacers", "case-parts",   "wires"};

} // namespace

const char* code(FoundPart part) {
    return part_codes[static_cast<std::size_t>(part)];
}

std::optional<FoundPart> found_part_from(const std::string& code) {
    for (std::size_t i = 0; i < part_codes.size(); ++i)
        if (code == part_codes[i])
            return static_cast<FoundPart>(i);
    return std::nullopt;
}

std::string write_found_parts(const FoundParts& parts) {
    std::string out;
    for (auto [part, words] : parts) {
        std::replace(words.begin(), words.end(), ';', ',');
        if (!words.empty())
            out.append(out.empty() ? "" : "; ").append(code(part)).append(": ").append(words);
    }
    return out;
}

FoundParts read_found_parts(const std::string& line) {
    FoundParts out;
    std::istringstream in(line);
    for (std::string one; std::getline(in, one, ';');) {
        const std::size_t from = one.find_first_not_of(' ');
        const std::size_t colon = one.find(": ");
        if (from == std::string::npos || colon == std::string::npos)
            continue;
        if (const auto part = found_part_from(one.substr(from, colon - from)))
            out[*part] = one.substr(colon + 2);
    }
    return out;
}

} // namespace ingot
