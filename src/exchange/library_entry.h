// One entry of a shop's library, taken out of its files, as the fields of a form and back: what a bench writes itself
// (unit models, chemistries, formats, look findings, symptoms). TOML stays the file format; a key's last letters are
// its unit. Instruments and the shop's prices and hours are records and not texts of the library: they are written as
// such a text for the form, and read from it.
#pragma once

#include "core/measure/measurement.h"
#include "core/worth/worth.h"
#include "exchange/library_toml.h"

#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace ingot::exchange {

enum class EntryKind { model, chemistry, format, finding, symptom, instrument, prices };
[[nodiscard]] const char* library_kind(EntryKind kind); // as LibraryText has it; "": it is a record

struct EntryField {
    enum class Type { text, number, share, whole, flag, choice }; // share: over 0 and under 1
    std::string key; // of the entry's table; voltage.full_v: of a table in it
    Type type = Type::text;
    bool required = true;
    std::vector<std::string> choices = {};
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

[[nodiscard]] std::string instrument_entry(const Instrument& instrument);
// Objects to a name or a channel that is missing and to a figure that no instrument has. When it was last checked is
// not in it.
[[nodiscard]] Result<Instrument> read_instrument_entry(const std::string& text);
[[nodiscard]] std::string prices_entry(const WorthPrices& prices, const WorthHours& hours);
// Objects to what is missing, and to what is under 0 and is no recycling: who recycles may pay.
[[nodiscard]] Result<std::pair<WorthPrices, WorthHours>> read_prices_entry(const std::string& text);

} // namespace ingot::exchange
