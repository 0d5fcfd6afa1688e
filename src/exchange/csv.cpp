#include "exchange/csv.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fmt/format.h>

namespace ingot::exchange {

namespace {

std::string_view strip(std::string_view s) {
    while (!s.empty() && (s.front() == ' ' || s.front() == '\r' || s.front() == '\t'))
        s.remove_prefix(1);
    while (!s.empty() && (s.back() == ' ' || s.back() == '\r' || s.back() == '\t'))
        s.remove_suffix(1);
    return s;
}

// What separates the header: whichever of tab, semicolon, comma stands in it outside quotes, in this order.
char guess_separator(std::string_view header) {
    bool quoted = false;
    std::size_t tabs = 0;
    std::size_t semicolons = 0;
    for (const char c : header) {
        if (c == '"')
            quoted = !quoted;
        else if (!quoted && c == '\t')
            ++tabs;
        else if (!quoted && c == ';')
            ++semicolons;
    }
    if (tabs > 0)
        return '\t';
    return semicolons > 0 ? ';' : ',';
}

std::string shown(std::string_view field) {
    constexpr std::size_t most = 40;
    std::string out(field.substr(0, most));
    for (char& c : out)
        if (static_cast<unsigned char>(c) < 0x20)
            c = '?';
    return field.size() > most ? out + "..." : out;
}

} // namespace

double last_digit(std::string_view text) {
    text = strip(text);
    const auto mark = text.find_first_of(".,");
    if (mark == std::string_view::npos || text.find_first_of("eE") != std::string_view::npos)
        return 1;
    return std::pow(10.0, -static_cast<double>(text.size() - mark - 1));
}

std::optional<double> parse_number(std::string_view text) {
    text = strip(text);
    if (!text.empty() && text.front() == '+')
        text.remove_prefix(1);
    double value = 0;
    const auto comma = text.find(',');
    if (comma == std::string_view::npos) {
        const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
        if (error != std::errc{} || end != text.data() + text.size() || !std::isfinite(value))
            return std::nullopt;
        return value;
    }
    std::string pointed(text);
    if (pointed.find('.') != std::string::npos) // thousands and decimals cannot be told apart
        return std::nullopt;
    pointed[comma] = '.';
    const auto [end, error] = std::from_chars(pointed.data(), pointed.data() + pointed.size(), value);
    if (error != std::errc{} || end != pointed.data() + pointed.size() || !std::isfinite(value))
        return std::nullopt;
    return value;
}

Result<CsvReader> CsvReader::open(std::string_view text, std::string file) {
    CsvReader reader;
    reader.file_ = std::move(file);
    reader.rest_ = text;
    constexpr std::string_view mark = "\xEF\xBB\xBF";
    if (reader.rest_.starts_with(mark)) {
        reader.rest_.remove_prefix(mark.size());
        reader.dialect_.byte_order_mark = true;
    }
    constexpr std::size_t looked_at = 4096;
    if (reader.rest_.substr(0, looked_at).find('\0') != std::string_view::npos)
        return Problem{reader.file_, 1, said("this is not text. Export the data as CSV (UTF-8) and try again.")};
    bool ended = false;
    std::string_view header;
    while (!reader.rest_.empty() && strip(header).empty())
        header = reader.take_line(ended);
    if (strip(header).empty())
        return Problem{reader.file_, 1, said("the file is empty; a header line with column names is needed.")};
    reader.dialect_.crlf = header.ends_with('\r');
    reader.dialect_.separator = guess_separator(header);
    std::vector<std::string_view> fields;
    if (!reader.split(header, fields))
        return reader.problem(said("a quote in the header is never closed. Remove it or close it."));
    for (const auto field : fields)
        reader.header_.emplace_back(field);
    while (!reader.header_.empty() && reader.header_.back().empty())
        reader.header_.pop_back();
    return reader;
}

std::string_view CsvReader::take_line(bool& ended) {
    const auto at = rest_.find('\n');
    ended = at != std::string_view::npos;
    const std::string_view line = rest_.substr(0, at);
    rest_.remove_prefix(ended ? at + 1 : rest_.size());
    ++line_;
    return line;
}

bool CsvReader::split(std::string_view line, std::vector<std::string_view>& fields) {
    fields.clear();
    if (line.find('"') == std::string_view::npos) {
        while (true) {
            const auto at = line.find(dialect_.separator);
            fields.push_back(strip(line.substr(0, at)));
            if (at == std::string_view::npos)
                return true;
            line.remove_prefix(at + 1);
        }
    }
    unquoted_.clear();
    unquoted_.reserve(static_cast<std::size_t>(std::count(line.begin(), line.end(), dialect_.separator)) + 1);
    std::size_t i = 0;
    while (true) {
        while (i < line.size() && line[i] == ' ')
            ++i;
        std::string field;
        if (i < line.size() && line[i] == '"') {
            ++i;
            bool closed = false;
            while (i < line.size() && !closed) {
                if (line[i] == '"' && i + 1 < line.size() && line[i + 1] == '"') {
                    field += '"';
                    i += 2;
                } else if (line[i] == '"') {
                    closed = true;
                    ++i;
                } else {
                    field += line[i++];
                }
            }
            if (!closed)
                return false;
            while (i < line.size() && line[i] != dialect_.separator)
                ++i;
        } else {
            const auto at = std::min(line.find(dialect_.separator, i), line.size());
            field = strip(line.substr(i, at - i));
            i = at;
        }
        unquoted_.push_back(std::move(field));
        fields.push_back(unquoted_.back());
        if (i >= line.size())
            return true;
        ++i;
    }
}

Result<bool> CsvReader::next(std::vector<std::string_view>& fields) {
    while (!rest_.empty()) {
        bool ended = false;
        std::string_view line = take_line(ended);
        if (strip(line).empty())
            continue;
        const int begun = line_;
        bool closed = split(line, fields);
        // A quoted field may hold line breaks; one that is never closed does not swallow the file.
        constexpr int most_lines = 100;
        while (!closed && ended && !rest_.empty() && line_ - begun < most_lines) {
            const std::string_view more = take_line(ended);
            line = {line.data(), static_cast<std::size_t>(more.data() + more.size() - line.data())};
            closed = split(line, fields);
        }
        const std::size_t want = header_.size();
        if (!ended && begun == line_ && (!closed || fields.size() < want)) {
            dialect_.last_line_dropped = true;
            return false;
        }
        if (!closed) {
            line_ = begun;
            return problem(said("a quote that is opened on this line is never closed. Remove it or close it."));
        }
        while (fields.size() > want && fields.back().empty())
            fields.pop_back();
        if (fields.size() != want)
            return problem(
                said("{} columns here, but the header has {}. Separate columns by '{}' alone.", fields.size(), want,
                     dialect_.separator == '\t' ? said("tab") : as_told(std::string(1, dialect_.separator))));
        return true;
    }
    return false;
}

Result<std::optional<double>> CsvReader::number(std::string_view field, std::string_view column) {
    if (field.empty())
        return std::optional<double>{};
    const std::optional<double> value = parse_number(field);
    if (!value)
        return problem(said("\"{}\" in column \"{}\" is not a number. Write it like 3.70 or 3,70, or leave it blank.",
                            shown(field), column));
    if (field.find(',') != std::string_view::npos)
        dialect_.decimal_comma = true;
    return value;
}

std::string csv_line(const std::vector<std::string>& fields) {
    std::string out;
    for (std::size_t i = 0; i < fields.size(); ++i) {
        if (i > 0)
            out += ',';
        if (fields[i].find_first_of(",\"\n\r;") == std::string::npos) {
            out += fields[i];
            continue;
        }
        out += '"';
        for (const char c : fields[i])
            out += c == '"' ? std::string("\"\"") : std::string(1, c);
        out += '"';
    }
    return out + "\n";
}

std::string csv_number(std::optional<double> value) {
    return value ? fmt::format("{}", *value) : std::string();
}

} // namespace ingot::exchange
