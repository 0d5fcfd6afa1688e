// Any bytes as a data file of each kind, as an entry of the library or an offer to it, as parts found in a pack, as
// what a hand moved in a layout.
#include "core/build/layout_moves.h"
#include "core/shop/found_parts.h"
#include "exchange/library_entry.h"
#include "exchange/library_offer.h"
#include "exchange/library_toml.h"

#include <cstdint>
#include <string>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string text(reinterpret_cast<const char*>(data), size);
    for (const char* kind : {"ocv", "chemistries", "formats", "models", "rule-sets", "look-findings", "cautions"})
        (void)ingot::exchange::parse_library({{kind, "fuzz.toml", text}});
    using ingot::exchange::EntryKind;
    for (const EntryKind kind : {EntryKind::model, EntryKind::chemistry, EntryKind::format, EntryKind::finding,
                                 EntryKind::symptom, EntryKind::instrument, EntryKind::prices})
        if (const auto values = ingot::exchange::entry_values(kind, text))
            (void)ingot::exchange::entry_with(kind, text, values.value());
    (void)ingot::exchange::read_instrument_entry(text);
    (void)ingot::exchange::read_prices_entry(text);
    (void)ingot::exchange::library_offers({{"symptoms", "fuzz.toml", text}, {"rule-sets", "fuzz.toml", text}}, {});
    (void)ingot::write_found_parts(ingot::read_found_parts(text));
    (void)ingot::layout_moves_from(text);
    return 0;
}
