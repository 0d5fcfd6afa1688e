// The one place where stored units meet shown units: V to 0.001, unit capacity in Ah to 0.001, pack capacity to 0.01,
// milliohms to 0.1, leak in mAh/day. Thin space between figure and unit; decimal point or comma as the locale has it.
#pragma once

#include <QString>

#include <optional>
#include <vector>

namespace ingot::figures {

QString volts(double v, int digits = 3);
QString millivolts_signed(double v);
QString unit_capacity(double ah);
QString pack_capacity(double ah);
QString milliohms(double ohm);
QString kilohms(double ohm);
QString megohms(double ohm);
QString amperes(double a);
QString leak(double ah_per_day);
QString percent(double fraction, int digits = 1);
QString seconds(double s); // h:mm:ss
// "-" where nothing is known.
QString or_dash(const std::optional<double>& value, QString (*show)(double));
// Without unit, for table columns and boxes.
QString plain(double value, int digits);

// What a person typed: decimal point or comma; nothing if it is not one number.
std::optional<double> typed(const QString& text);
// "3, 5": groups of a pack of so many, each once, as they were typed; nothing where one is no group of it, or none is
// there.
std::optional<std::vector<int>> typed_groups(const QString& text, int series);
// What one step of its last digit is worth.
double last_digit(const QString& text);

} // namespace ingot::figures
