// The tables of a workshop file; documented for other programs in docs/formats/workshop.md.
#pragma once

namespace ingot::store {

inline constexpr int application_id = 0x494E474F; // "INGO"
inline constexpr int schema_version = 1;
extern const char* const schema_sql;

} // namespace ingot::store
