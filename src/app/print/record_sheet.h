// A list on A4 pages.
#pragma once

#include <QString>

namespace ingot::app {

// `rows`: lines of fields with a tab between them, the first the heads of the columns. False: it could not be written.
[[nodiscard]] bool write_record_sheet(const QString& path, const QString& heading, const QString& shop,
                                      const QString& rows);

} // namespace ingot::app
