#include "core/measure/moment.h"

#include <array>
#include <cmath>

namespace ingot {

namespace {

constexpr double seconds_per_minute = 60;

// Days since 1970-01-01 of a civil date, by the usual shift of the year's begin to March.
long days_from_civil(long year, long month, long day) {
    year -= month <= 2 ? 1 : 0;
    const long era = (year >= 0 ? year : year - 399) / 400;
    const long of_era = year - era * 400;
    const long of_year = (153 * (month + (month > 2 ? -3 : 9)) + 2) / 5 + day - 1;
    return era * 146097 + of_era * 365 + of_era / 4 - of_era / 100 + of_year - 719468;
}

struct Civil {
    long year, month, day;
};
Civil civil_from_days(long days) {
    days += 719468;
    const long era = (days >= 0 ? days : days - 146096) / 146097;
    const long of_era = days - era * 146097;
    const long year_of_era = (of_era - of_era / 1460 + of_era / 36524 - of_era / 146096) / 365;
    const long of_year = of_era - (365 * year_of_era + year_of_era / 4 - year_of_era / 100);
    const long shifted = (5 * of_year + 2) / 153;
    const long month = shifted < 10 ? shifted + 3 : shifted - 9;
    return {year_of_era + era * 400 + (month <= 2 ? 1 : 0), month, of_year - (153 * shifted + 2) / 5 + 1};
}

// Reads from the front of a text.
class Scanner {
public:
    explicit Scanner(std::string_view text) : text_(text) {}
    [[nodiscard]] bool done() const { return text_.empty(); }
    bool take(char c) {
        if (text_.empty() || text_.front() != c)
            return false;
        text_.remove_prefix(1);
        return true;
    }
    // Exactly so many figures.
    std::optional<long> figures(std::size_t count) {
        if (text_.size() < count)
            return std::nullopt;
        long value = 0;
        for (std::size_t i = 0; i < count; ++i) {
            if (text_[i] < '0' || text_[i] > '9')
                return std::nullopt;
            value = value * 10 + (text_[i] - '0');
        }
        text_.remove_prefix(count);
        return value;
    }
    // ".512" or ",5"; 0 where there is none.
    std::optional<double> fraction() {
        if (!take('.') && !take(','))
            return 0.0;
        double value = 0;
        double weight = 0.1;
        bool any = false;
        while (!text_.empty() && text_.front() >= '0' && text_.front() <= '9') {
            value += weight * (text_.front() - '0');
            weight /= 10;
            any = true;
            text_.remove_prefix(1);
        }
        return any ? std::optional(value) : std::nullopt;
    }

private:
    std::string_view text_;
};

struct Moment {
    long days = 0;
    bool day_only = true;
    double seconds = 0; // of the day, UTC; may be outside it after an offset
};

std::optional<Moment> read(std::string_view text) {
    Scanner in(text);
    const auto year = in.figures(4);
    if (!year || !in.take('-'))
        return std::nullopt;
    const auto month = in.figures(2);
    if (!month || !in.take('-'))
        return std::nullopt;
    const auto day = in.figures(2);
    if (!day)
        return std::nullopt;
    Moment out;
    out.days = days_from_civil(*year, *month, *day);
    if (const Civil back = civil_from_days(out.days);
        back.year != *year || back.month != *month || back.day != *day) // 2026-02-30
        return std::nullopt;
    if (in.done())
        return out;
    out.day_only = false;
    if (!in.take('T') && !in.take(' '))
        return std::nullopt;
    const auto hours = in.figures(2);
    if (!hours || *hours > 23 || !in.take(':'))
        return std::nullopt;
    const auto minutes = in.figures(2);
    if (!minutes || *minutes > 59)
        return std::nullopt;
    out.seconds = static_cast<double>(*hours) * seconds_per_hour + static_cast<double>(*minutes) * seconds_per_minute;
    if (in.take(':')) {
        const auto seconds = in.figures(2);
        const auto fraction = seconds ? in.fraction() : std::nullopt;
        if (!fraction || *seconds > 60)
            return std::nullopt;
        out.seconds += static_cast<double>(*seconds) + *fraction;
    }
    if (in.done() || in.take('Z'))
        return in.done() ? std::optional(out) : std::nullopt;
    const double sign = in.take('+') ? 1 : in.take('-') ? -1 : 0;
    const long offset_h = in.figures(2).value_or(99);
    (void)in.take(':');
    const long offset_min = in.done() ? 0 : in.figures(2).value_or(99);
    if (sign == 0 || !in.done() || offset_h > 14 || offset_min > 59)
        return std::nullopt;
    out.seconds -= sign * (static_cast<double>(offset_h) * seconds_per_hour +
                           static_cast<double>(offset_min) * seconds_per_minute);
    return out;
}

void append(std::string& out, long value, int figures) {
    std::string text = std::to_string(value);
    out.append(static_cast<std::size_t>(std::max(0, figures - static_cast<int>(text.size()))), '0');
    out += text;
}

} // namespace

std::optional<double> seconds_of(std::string_view moment) {
    const auto read_moment = read(moment);
    if (!read_moment)
        return std::nullopt;
    return static_cast<double>(read_moment->days) * seconds_per_day + read_moment->seconds;
}

std::optional<std::string> normal_moment(std::string_view moment) {
    const auto m = read(moment);
    if (!m)
        return std::nullopt;
    constexpr long ms_per_day = 86'400'000;
    long ms = std::lround(m->seconds * 1000);
    long days = m->days;
    while (ms < 0) {
        ms += ms_per_day;
        --days;
    }
    while (ms >= ms_per_day) {
        ms -= ms_per_day;
        ++days;
    }
    const Civil c = civil_from_days(days);
    std::string out;
    append(out, c.year, 4);
    out += '-';
    append(out, c.month, 2);
    out += '-';
    append(out, c.day, 2);
    if (m->day_only)
        return out;
    out += 'T';
    append(out, ms / 3'600'000, 2);
    out += ':';
    append(out, ms / 60'000 % 60, 2);
    out += ':';
    append(out, ms / 1000 % 60, 2);
    out += '.';
    append(out, ms % 1000, 3);
    out += 'Z';
    return out;
}

std::optional<double> days_between(std::string_view from, std::string_view to) {
    const auto a = seconds_of(from);
    const auto b = seconds_of(to);
    if (!a || !b)
        return std::nullopt;
    return (*b - *a) / seconds_per_day;
}

} // namespace ingot
