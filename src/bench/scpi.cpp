#include "bench/scpi.h"

#include <charconv>
#include <cmath>

namespace ingot::bench {

namespace {

constexpr double not_a_number = 9.91e37;
constexpr std::size_t longest_line = 1U << 20U;

char upper(char c) {
    return c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c;
}
bool digit(char c) {
    return c >= '0' && c <= '9';
}
bool letter(char c) {
    return upper(c) >= 'A' && upper(c) <= 'Z';
}
std::string_view stripped(std::string_view text) {
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t' || text.front() == '\r'))
        text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t' || text.back() == '\r'))
        text.remove_suffix(1);
    return text;
}

std::optional<std::vector<std::string_view>> split_outside_quotes(std::string_view text, char separator) {
    std::vector<std::string_view> out;
    bool quoted = false;
    std::size_t from = 0;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (text[i] == '"')
            quoted = !quoted;
        if (text[i] == separator && !quoted) {
            out.push_back(text.substr(from, i - from));
            from = i + 1;
        }
    }
    if (quoted)
        return std::nullopt;
    out.push_back(text.substr(from));
    return out;
}

std::string unquoted(std::string_view text) {
    text = stripped(text);
    if (text.size() < 2 || text.front() != '"' || text.back() != '"')
        return std::string(text);
    std::string out;
    const std::string_view inner = text.substr(1, text.size() - 2);
    for (std::size_t i = 0; i < inner.size(); ++i) {
        out += inner[i];
        if (inner[i] == '"' && i + 1 < inner.size() && inner[i + 1] == '"') // a doubled quote is one
            ++i;
    }
    return out;
}

Result<ScpiMessage> parse_message(std::string_view text) {
    const auto wrong = [&](const char* what) { return Problem{"", 0, said("-102 Syntax error: {}", what)}; };
    ScpiMessage message;
    const std::size_t blank = text.find_first_of(" \t");
    std::string_view header = text.substr(0, blank);
    const std::string_view rest = blank == std::string_view::npos ? std::string_view() : stripped(text.substr(blank));
    if (!header.empty() && header.back() == '?') {
        message.question = true;
        header.remove_suffix(1);
    }
    if (!header.empty() && header.front() == ':')
        header.remove_prefix(1);
    while (true) {
        const std::size_t colon = header.find(':');
        const std::string_view part = header.substr(0, colon);
        ScpiWord word;
        std::size_t i = 0;
        if (i < part.size() && part[i] == '*')
            word.text += part[i++];
        while (i < part.size() && letter(part[i]))
            word.text += upper(part[i++]);
        constexpr int most = 100'000;
        while (i < part.size() && digit(part[i]) && word.number < most)
            word.number = word.number * 10 + (part[i++] - '0');
        if (i != part.size() || word.text.empty() || word.text == "*")
            return wrong("a header is words of letters, each with a number behind it where it has one.");
        message.header.push_back(std::move(word));
        if (colon == std::string_view::npos)
            break;
        header.remove_prefix(colon + 1);
    }
    if (!rest.empty())
        message.parameters = scpi_fields(rest);
    return message;
}

} // namespace

std::vector<std::string> scpi_fields(std::string_view text, char separator) {
    std::vector<std::string> out;
    const auto parts = split_outside_quotes(text, separator);
    if (!parts)
        return {std::string(text)};
    out.reserve(parts->size());
    for (const std::string_view part : *parts)
        out.push_back(unquoted(part));
    return out;
}

Result<std::vector<ScpiMessage>> parse_scpi(std::string_view line) {
    if (line.size() > longest_line)
        return Problem{"", 0, said("-223 Too much data")};
    const auto parts = split_outside_quotes(line, ';');
    if (!parts)
        return Problem{"", 0, said("-151 Invalid string data: a quote is not closed.")};
    std::vector<ScpiMessage> out;
    for (const std::string_view part : *parts) {
        if (stripped(part).empty())
            continue;
        auto message = parse_message(stripped(part));
        if (!message)
            return message.problem();
        out.push_back(std::move(message.value()));
    }
    if (out.empty())
        return Problem{"", 0, said("-102 Syntax error: the line is empty.")};
    return out;
}

bool scpi_is(std::string_view pattern, std::string_view word) {
    std::string long_form;
    std::string short_form;
    for (const char c : pattern) {
        long_form += upper(c);
        if (c < 'a' || c > 'z')
            short_form += c;
    }
    return word == long_form || word == short_form;
}

std::string scpi_quoted(std::string_view text) {
    std::string out = "\"";
    for (const char c : text) {
        if (c == '"')
            out += '"';
        out += c == '\n' || c == '\r' ? ' ' : c;
    }
    return out + "\"";
}

std::string scpi_number(std::optional<double> value) {
    if (!value || !std::isfinite(*value))
        return "9.91E37";
    char buffer[32];
    const auto end = std::to_chars(buffer, buffer + sizeof buffer, *value).ptr;
    return {buffer, end};
}

Result<std::optional<double>> scpi_value(std::string_view text) {
    text = stripped(text);
    if (!text.empty() && text.front() == '+')
        text.remove_prefix(1);
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || end != text.data() + text.size() || std::isnan(value) || std::isinf(value))
        return Problem{"", 0, said("\"{}\" is not a number.", std::string(text.substr(0, 40)))};
    if (value >= not_a_number * 0.99)
        return std::optional<double>{};
    return std::optional<double>(value);
}

} // namespace ingot::bench
