// What a person is told when something given to Ingot cannot be used: where it is, what is wrong, what would be right.
#pragma once

#include "core/cells/sentence.h"

#include <optional>
#include <stdexcept>
#include <string>
#include <utility>
#include <variant>

namespace ingot {

struct Problem {
    std::string where; // file, table or field; may be empty
    int line = 0;      // 1-based; 0 = no line
    Sentence sentence; // what is wrong and what would be right

    // "FILE:LINE: sentence", leaving out what is not known; in English, as the command line says it.
    [[nodiscard]] std::string text() const { return place() + sentence.english(); }
    // "FILE:LINE: ", or nothing.
    [[nodiscard]] std::string place() const {
        std::string out = where;
        if (line > 0)
            out += (out.empty() ? "line " : ":") + std::to_string(line);
        if (!out.empty())
            out += ": ";
        return out;
    }
};

// A value, or the problem that stood in its way. Asking for the one that is not there is a bug and throws.
template <class T> class Result {
public:
    Result(T value) : state_(std::move(value)) {}
    Result(Problem problem) : state_(std::move(problem)) {}

    [[nodiscard]] bool ok() const { return std::holds_alternative<T>(state_); }
    explicit operator bool() const { return ok(); }
    [[nodiscard]] const T& value() const& { return get(*this); }
    [[nodiscard]] T& value() & { return get(*this); }
    // By value, so that nothing dangles when a part of a temporary result is used.
    [[nodiscard]] T value() && { return std::move(get(*this)); }
    [[nodiscard]] const Problem& problem() const {
        if (ok())
            throw std::logic_error("Result: no problem to read");
        return std::get<Problem>(state_);
    }

private:
    template <class Self> static auto& get(Self& self) {
        if (!self.ok())
            throw std::logic_error("Result: no value: " + std::get<Problem>(self.state_).text());
        return std::get<T>(self.state_);
    }
    std::variant<T, Problem> state_;
};

} // namespace ingot
