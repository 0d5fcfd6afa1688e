// Test protocols as TOML (data/protocols): read, and written again for a shop's own copy.
#pragma once

#include "core/measure/protocol.h"
#include "exchange/toml_tables.h"

#include <string>

namespace ingot::exchange {

// Throws Broken.
[[nodiscard]] Protocol parse_protocol(const TableReader& table);
// One protocol, as a shop wrote it.
[[nodiscard]] Result<Protocol> read_protocol(const std::string& text, const std::string& file);
// As a file with one [[protocol]]; reads back equal.
[[nodiscard]] std::string write_protocol(const Protocol& protocol);

} // namespace ingot::exchange
