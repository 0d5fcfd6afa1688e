// Measurement TOML tables with objections that name file and line. Internals of the library's readers.
#pragma once

#include "core/cells/problem.h"

#include <cstdint>
#include <fmt/format.h>
#include <optional>
#include <string>
#include <toml++/toml.h>
#include <vector>

namespace ingot::exchange {

// Thrown by the readers of TOML only; every public function returns it as a Problem.
struct Broken {
    Problem problem;
};

class TableReader {
public:
    TableReader(const toml::table& table, std::string file) : table_(table), file_(std::move(file)) {}

    [[noreturn]] void fail(Sentence sentence, const toml::node* at = nullptr) const {
        const auto line = (at != nullptr ? at->source() : table_.source()).begin.line;
        throw Broken{{file_, static_cast<int>(line), std::move(sentence)}};
    }
    [[nodiscard]] std::string text(const char* key) const {
        const auto value = table_[key].value<std::string>();
        if (!value)
            fail(said("\"{}\" is missing or not a text.", key), table_.get(key));
        return *value;
    }
    [[nodiscard]] std::string text_or(const char* key, const std::string& otherwise) const {
        return table_.contains(key) ? text(key) : otherwise;
    }
    [[nodiscard]] double number(const char* key) const {
        const auto value = table_[key].value<double>();
        if (!value)
            fail(said("\"{}\" is missing or not a number.", key), table_.get(key));
        return *value;
    }
    [[nodiscard]] std::optional<double> number_if(const char* key) const {
        if (!table_.contains(key))
            return std::nullopt;
        return number(key);
    }
    [[nodiscard]] int whole(const char* key, int otherwise) const {
        if (!table_.contains(key))
            return otherwise;
        const auto value = table_[key].value<std::int64_t>();
        if (!value)
            fail(said("\"{}\" is not a whole number.", key), table_.get(key));
        return static_cast<int>(*value);
    }
    [[nodiscard]] bool flag(const char* key) const { return table_[key].value_or(false); }
    [[nodiscard]] TableReader table(const char* key) const {
        const auto* inner = table_[key].as_table();
        if (inner == nullptr)
            fail(said("table [{}] is missing.", key));
        return {*inner, file_};
    }
    [[nodiscard]] std::vector<TableReader> tables(const char* key) const {
        std::vector<TableReader> out;
        const auto* list = table_[key].as_array();
        if (list == nullptr)
            fail(said("list [[{}]] is missing.", key));
        for (const auto& node : *list) {
            if (node.as_table() == nullptr)
                fail(said("\"{}\" must be a list of tables.", key), &node);
            out.emplace_back(*node.as_table(), file_);
        }
        return out;
    }
    [[nodiscard]] std::vector<std::string> texts(const char* key) const {
        std::vector<std::string> out;
        const auto* list = table_[key].as_array();
        if (list == nullptr)
            fail(said("\"{}\" is missing or not a list.", key), table_.get(key));
        for (const auto& node : *list) {
            const auto value = node.value<std::string>();
            if (!value)
                fail(said("\"{}\" must be a list of texts.", key), &node);
            out.push_back(*value);
        }
        return out;
    }
    [[nodiscard]] const toml::table& raw() const { return table_; }

private:
    const toml::table& table_;
    std::string file_;
};

// Throws Broken with the line where the text is no TOML.
[[nodiscard]] toml::table parse_toml(const std::string& text, const std::string& file);

} // namespace ingot::exchange
