// The shop's own library and settings: protocols and teardown plans copied, edited, versioned; hours, addresses,
// prices.
#pragma once

#include "workshop/service.h"

namespace ingot {

class CatalogueService : public Service {
public:
    using Service::Service;

    // A protocol or a teardown plan as a shop wrote it, as the next version, in a file of its own. Refused with file
    // and line where it cannot be read, and with the reason where a protocol is dangerous. The text that was kept.
    Result<std::string> save_protocol(const std::string& text);
    Result<std::string> save_teardown_plan(const std::string& text);

    [[nodiscard]] std::string setting(const std::string& key) const { return session_.catalogue.value(key); }
    Result<bool> set_setting(const std::string& key, const std::string& value);

    [[nodiscard]] std::vector<Instrument> instruments() const { return session_.measurements.instruments(); }
    Result<bool> set_instrument(const Instrument& instrument);

private:
    Result<bool> keep_text(const std::string& kind, const std::string& name, int version, const std::string& text);
};

} // namespace ingot
