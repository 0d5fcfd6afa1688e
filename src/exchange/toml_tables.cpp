#include "exchange/toml_tables.h"

#include <algorithm>

namespace ingot::exchange {

toml::table parse_toml(const std::string& text, const std::string& file) {
    // The parser takes a control character inside a key for a mistake of its own and stops the program.
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto c = static_cast<unsigned char>(text[i]);
        if ((c < 0x20 && c != '\n' && c != '\r' && c != '\t') || c == 0x7F) {
            const auto line = 1 + std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(i), '\n');
            throw Broken{
                {file, static_cast<int>(line), said("holds a control character; a data file is plain text (UTF-8).")}};
        }
    }
    try {
        return toml::parse(text, file);
    } catch (const toml::parse_error& error) {
        throw Broken{
            {file, static_cast<int>(error.source().begin.line), said("cannot be read: {}.", error.description())}};
    }
}

} // namespace ingot::exchange
