// A sentence for a person, kept as its English pattern and what fills it, so that the interface can say it in another
// language. A pattern is a literal with one "{}" for each argument, in order; a mismatch does not compile. Translators
// may turn the order round: "{1} ... {0}".
#pragma once

#include <cstddef>
#include <functional>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <vector>

namespace ingot {

class Sentence {
public:
    // Gives the translation of an English pattern, or the pattern itself.
    using Translation = std::function<std::string(const std::string& pattern)>;

    Sentence() = default;
    Sentence(std::string pattern, std::vector<Sentence> arguments)
        : pattern_(std::move(pattern)), arguments_(std::move(arguments)), kind_(Kind::pattern) {}

    [[nodiscard]] bool empty() const { return pattern_.empty(); }
    [[nodiscard]] std::string english() const;
    // `decimal` stands between whole and fraction of its figures.
    [[nodiscard]] std::string in(const Translation& translation, std::string_view decimal = ".") const;

private:
    friend Sentence as_told(std::string text);
    friend Sentence argument(double value);

    enum class Kind { words_as_they_are, figure, pattern };
    std::string pattern_;
    std::vector<Sentence> arguments_;
    Kind kind_ = Kind::words_as_they_are;
};

// Words that stand as they are: a name, what the system or a device said, a sentence worded already.
Sentence as_told(std::string text);

// What `said` takes besides text: figures as the shortest text that reads back the same.
Sentence argument(double value);
Sentence argument(long long value);
template <class Whole, std::enable_if_t<std::is_integral_v<Whole>, int> = 0> Sentence argument(Whole value) {
    return argument(static_cast<long long>(value));
}
inline Sentence argument(std::string_view text) {
    return as_told(std::string(text));
}
inline Sentence argument(const Sentence& sentence) {
    return sentence;
}

// A literal whose places are counted at compile time.
template <class... Arguments> class Pattern {
public:
    template <std::size_t length> consteval Pattern(const char (&text)[length]) : text_(text) {
        std::size_t places = 0;
        for (std::size_t i = 0; i + 1 < length; ++i)
            if (text[i] == '{' || text[i] == '}') {
                if (text[i] == '}' || text[i + 1] != '}')
                    throw "a pattern has places {} and no other braces";
                ++places;
                ++i;
            }
        if (places != sizeof...(Arguments))
            throw "a pattern has one place {} for each argument";
    }
    [[nodiscard]] const char* text() const { return text_; }

private:
    const char* text_;
};

// said("{} is held.", label): found by this name when translations are collected (CONTRIBUTING.md).
template <class... Arguments>
Sentence said(std::type_identity_t<Pattern<Arguments...>> pattern, const Arguments&... arguments) {
    std::vector<Sentence> filled;
    filled.reserve(sizeof...(Arguments));
    (filled.push_back(argument(arguments)), ...);
    return {pattern.text(), std::move(filled)};
}

} // namespace ingot
