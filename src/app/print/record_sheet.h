// A list on A4 pages.
#pragma once

#include <QStringList>

#include <vector>

namespace ingot::app {

// `rows`: the heads of the columns first; `notes`: paragraphs under the list. False: it could not be written.
[[nodiscard]] bool write_record_sheet(const QString& path, const QString& heading, const QString& shop,
                                      const std::vector<QStringList>& rows, const QStringList& notes = {});

} // namespace ingot::app
