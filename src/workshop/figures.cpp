#include "workshop/figures.h"

#include "exchange/csv.h"

#include <QLocale>
#include <QRegularExpression>

#include <algorithm>
#include <cmath>

namespace ingot::figures {

namespace {
constexpr char16_t thin_space = 0x202F; // narrow, and never at the end of a line
constexpr char16_t minus = 0x2212;

QString with_unit(double value, int digits, const char* unit) {
    return plain(value, digits) + QChar(thin_space) + QString::fromUtf8(unit);
}
} // namespace

QString plain(double value, int digits) {
    QLocale locale;
    locale.setNumberOptions(QLocale::OmitGroupSeparator);
    const QString text = locale.toString(std::fabs(value), 'f', digits);
    bool some_digit = false;
    const double shown = locale.toDouble(text, &some_digit);
    return value < 0 && (!some_digit || shown > 0) ? QChar(minus) + text : text; // no minus before a rounded zero
}

QString volts(double v, int digits) {
    return with_unit(v, digits, "V");
}
QString millivolts_signed(double v) {
    return (v > 0.0005 ? QStringLiteral("+") : QString()) + with_unit(v * 1000, 0, "mV");
}
QString unit_capacity(double ah) {
    return with_unit(ah, 3, "Ah");
}
QString pack_capacity(double ah) {
    return with_unit(ah, 2, "Ah");
}
QString milliohms(double ohm) {
    return with_unit(ohm * 1000, 1, "m\xCE\xA9");
}
QString kilohms(double ohm) {
    return with_unit(ohm / 1e3, 2, "k\xCE\xA9");
}
QString megohms(double ohm) {
    return with_unit(ohm / 1e6, 1, "M\xCE\xA9");
}
QString amperes(double a) {
    return with_unit(a, 2, "A");
}
QString leak(double ah_per_day) {
    return with_unit(ah_per_day * 1000, 2, "mAh/day");
}
QString percent(double fraction, int digits) {
    return with_unit(fraction * 100, digits, "%");
}

QString seconds(double s) {
    constexpr int per_minute = 60;
    constexpr int per_hour = 3600;
    const auto whole = static_cast<qint64>(std::llround(s));
    return QStringLiteral("%1:%2:%3")
        .arg(whole / per_hour)
        .arg(whole / per_minute % per_minute, 2, 10, QLatin1Char('0'))
        .arg(whole % per_minute, 2, 10, QLatin1Char('0'));
}

QString or_dash(const std::optional<double>& value, QString (*show)(double)) {
    return value ? show(*value) : QStringLiteral("\u2013");
}

double last_digit(const QString& text) {
    return exchange::last_digit(text.trimmed().toStdString());
}

std::optional<double> typed(const QString& text) {
    return exchange::parse_number(text.trimmed().replace(QChar(minus), QLatin1Char('-')).toStdString());
}

std::optional<std::vector<int>> typed_groups(const QString& text, int series) {
    static const QRegularExpression between(QStringLiteral("[\\s,;]+"));
    std::vector<int> out;
    for (const QString& part : text.split(between, Qt::SkipEmptyParts)) {
        bool number = false;
        const int group = part.toInt(&number);
        if (!number || group < 1 || group > series || std::find(out.begin(), out.end(), group) != out.end())
            return std::nullopt;
        out.push_back(group);
    }
    return out.empty() ? std::nullopt : std::optional(out);
}

} // namespace ingot::figures
