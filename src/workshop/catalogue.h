// The shop's own library and settings: protocols and teardown plans copied, edited, versioned; hours, addresses,
// prices.
#pragma once

#include "exchange/library_entry.h"
#include "exchange/library_offer.h"
#include "exchange/log_shape.h"
#include "workshop/service.h"

namespace ingot {

class CatalogueService : public Service {
public:
    using Service::Service;

    // A protocol or a teardown plan as a shop wrote it, as the next version, in a file of its own. Refused with file
    // and line where it cannot be read, and with the reason where a protocol is dangerous. The text that was kept.
    Result<std::string> save_protocol(const std::string& text);
    Result<std::string> save_teardown_plan(const std::string& text);

    // A unit model of this shop's, as its next version: what is printed on the unit is its id, so that units that were
    // written down with it before are known by it from now on. Refused: a chemistry that is not in the library, a
    // rating that its format cannot hold.
    Result<bool> save_model(UnitModel model);
    // Models as TOML, each with a version of its own; all or nothing.
    Result<int> bring_in_models(const std::string& text, const std::string& file);

    // An entry of the library as a shop wrote it (library_entry.h), as its next version; a new id is a new entry. What
    // used it before counts by it from now on. Refused: what cannot be read, a model that its format cannot hold, and a
    // lithium chemistry of Ingot's own that would be charged higher: that is one of its own, under another name.
    Result<std::string> save_entry(exchange::EntryKind kind, const std::string& text);
    // Empty: there is none. Of an instrument that nobody entered: one without a name. Prices: whatever the id.
    [[nodiscard]] std::string entry(exchange::EntryKind kind, const std::string& id) const;

    // What Ingot ships and this workshop has not, or in an older version; nothing where the data cannot be read. Taken
    // in one by one, by a person.
    [[nodiscard]] std::vector<exchange::LibraryOffer> offers() const;
    Result<bool> take_in(const exchange::LibraryOffer& offer);

    // What a shop said of the columns of its testers' logs (log_shape.h), by shape_key; for files of those columns.
    [[nodiscard]] std::map<std::string, std::string> log_shapes() const;
    Result<bool> keep_log_shape(const std::vector<std::string>& header, const exchange::LogShape& shape);

    [[nodiscard]] std::string setting(const std::string& key) const { return session_.catalogue.value(key); }
    Result<bool> set_setting(const std::string& key, const std::string& value);

    [[nodiscard]] std::vector<Instrument> instruments() const { return session_.measurements.instruments(); }
    Result<bool> set_instrument(const Instrument& instrument);
    // It was held against another, just now: the instrument's last check. `what`: what both showed, in words.
    Result<bool> note_check(const std::string& instrument, const std::string& against, const std::string& what);

private:
    // The shop's library with that text in place of the one of its name.
    [[nodiscard]] std::vector<exchange::LibraryText> texts_with(const std::string& kind, const std::string& name,
                                                                const std::string& text) const;
    [[nodiscard]] std::vector<exchange::LibraryText> texts() const;
    Result<bool> save_instrument(const Instrument& instrument);
    Result<std::string> save_record(exchange::EntryKind kind, const std::string& text);
    Result<bool> keep_text(const std::string& kind, const std::string& name, int version, const std::string& text);
};

} // namespace ingot
