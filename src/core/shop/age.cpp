#include "core/shop/age.h"

#include "core/measure/moment.h"

#include <regex>

namespace ingot {

namespace {

constexpr double days_per_year = 365.25;
constexpr double months_per_year = 12;

std::optional<double> since(const std::string& day, const std::string& now) {
    const auto days = days_between(day, now);
    return days && *days >= 0 ? std::optional(*days / days_per_year) : std::nullopt;
}

} // namespace

std::optional<double> age_years(const std::string& words, const std::string& now) {
    static const std::regex day(R"(^\s*((?:19|20)\d\d)(?:-(\d\d))?(?:-(\d\d))?\s*$)");
    static const std::regex span(R"(^\s*(\d{1,2}(?:[.,]\d{1,2})?)\s*(y|yr|years?|months?)\b.*$)", std::regex::icase);
    std::smatch found;
    if (std::regex_match(words, found, day)) {
        if (found[3].matched)
            return since(found[1].str() + "-" + found[2].str() + "-" + found[3].str(), now);
        return since(found[1].str() + "-" + (found[2].matched ? found[2].str() + "-15" : "07-01"), now);
    }
    if (!std::regex_match(words, found, span))
        return std::nullopt;
    std::string figure = found[1].str();
    if (const auto comma = figure.find(','); comma != std::string::npos)
        figure[comma] = '.';
    const double value = std::stod(figure);
    return found[2].str().front() == 'm' || found[2].str().front() == 'M' ? value / months_per_year : value;
}

} // namespace ingot
