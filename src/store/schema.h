// The tables of a workshop file; documented for other programs in docs/formats/workshop.md.
#pragma once

namespace ingot::store {

inline constexpr int application_id = 0x494E474F; // "INGO"
inline constexpr int schema_version = 4;
extern const char* const schema_sql;    // version 1
extern const char* const upgrade_2_sql; // what version 2 adds
extern const char* const upgrade_3_sql; // what version 3 adds
extern const char* const upgrade_4_sql; // what version 4 changes
inline constexpr int largest_photo_bytes = 8 * 1024 * 1024;

} // namespace ingot::store
