// One entry of a shop's library, taken out of its files, as the fields of a form and back: what a bench writes itself
// (unit models, chemistries, formats, look findings). TOML stays the file format; a key's last letters are its unit.
#pragma once

#include "exchange/library_toml.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ingot::exchange {

enum class EntryKind { model, chemistry, format, finding };
inline constexpr int entry_kind_count = 4;
[[nodiscard]] const char* library_kind(EntryKind kind); // as LibraryText has it

struct EntryField {
    enum class Type { text, number, whole, flag, choice };
    std::string key; // of the entry's table; voltage.full_v: of a table in it
    Type type = Type::text;
    bool required = true;
    std::vector<std::string> choices;
};
// In the order of the form, the id first; the version is not among them.
[[nodiscard]] const std::vector<EntryField>& entry_fields(EntryKind kind);

// That entry alone, of its highest version; nothing: there is none. Texts that cannot be read are passed over.
[[nodiscard]] std::optional<std::string> entry_text(const std::vector<LibraryText>& texts, EntryKind kind,
                                                    const std::string& id);
// What its fields hold; a field that it does not have is missing. Objects to what is no TOML and to more than one
// entry.
[[nodiscard]] Result<std::map<std::string, std::string>> entry_values(EntryKind kind, const std::string& text);
// The entry with those values: what has no field stays as it is, an empty value takes its key away. Objects to a
// required field that is empty and to what is no number, naming the field.
[[nodiscard]] Result<std::string> entry_with(EntryKind kind, const std::string& text,
                                             const std::map<std::string, std::string>& values);

} // namespace ingot::exchange
