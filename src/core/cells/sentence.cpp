#include "core/cells/sentence.h"

#include <array>
#include <charconv>

namespace ingot {

Sentence as_told(std::string text) {
    Sentence out;
    out.pattern_ = std::move(text);
    return out;
}

Sentence argument(double value) {
    std::array<char, 32> text{};
    const auto end = std::to_chars(text.data(), text.data() + text.size(), value);
    Sentence out = as_told(std::string(text.data(), end.ptr));
    out.kind_ = Sentence::Kind::figure;
    return out;
}

Sentence argument(long long value) {
    return as_told(std::to_string(value));
}

std::string Sentence::english() const {
    return in([](const std::string& pattern) { return pattern; });
}

std::string Sentence::in(const Translation& translation, std::string_view decimal) const {
    if (kind_ == Kind::words_as_they_are)
        return pattern_;
    if (kind_ == Kind::figure) {
        std::string figure = pattern_;
        const std::size_t point = figure.find('.');
        return point == std::string::npos ? figure : figure.replace(point, 1, decimal);
    }
    const std::string text = translation(pattern_);
    std::string out;
    std::size_t next = 0;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const std::size_t close = text[i] == '{' ? text.find('}', i) : std::string::npos;
        if (close == std::string::npos) {
            out += text[i];
            continue;
        }
        // "{}" is the next in order, "{1}" the second; what a translator got wrong stays visible.
        std::size_t place = next;
        const auto read = std::from_chars(text.data() + i + 1, text.data() + close, place);
        if (close == i + 1)
            ++next;
        if (place < arguments_.size() && read.ptr == text.data() + close)
            out += arguments_[place].in(translation, decimal);
        else
            out += text.substr(i, close - i + 1);
        i = close;
    }
    return out;
}

} // namespace ingot
