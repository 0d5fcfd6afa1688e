// A log file of what the window said and did, for the day when somebody asks what happened. It is kept beside the
// settings, a few files of limited size; it holds no readings, those are in the workshop.
#pragma once

#include <QString>

namespace ingot::app::event_log {

// Begins the log; once. Qt's own warnings go there too. Where it cannot be written there is none, and nothing is said.
void begin(const QString& path);
void note(const QString& words);
void objection(const QString& words);
void alarm(const QString& words);

inline constexpr std::size_t largest_bytes = 524'288;
inline constexpr std::size_t most_files = 3;

} // namespace ingot::app::event_log
