// The tables of a workshop file, version by version; documented for other programs in docs/formats/workshop.md.
#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

#include <array>
#include <functional>

namespace ingot::store {

inline constexpr int application_id = 0x494E474F; // "INGO"
inline constexpr int schema_version = 10;
inline constexpr int largest_photo_bytes = 8 * 1024 * 1024;

// What brings a file from the version before to this one. The first makes version 1 of nothing.
using Migration = std::function<void(SQLite::Database&)>;
[[nodiscard]] const std::array<Migration, schema_version>& migrations();

// Version 5: measurements, assemblies with placements, instruments and runs with steps take the place of readings,
// packs and builds.
void migrate_to_5(SQLite::Database& database);

} // namespace ingot::store
