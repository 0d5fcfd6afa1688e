#include "workshop/wanted_builds.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <regex>
#include <sstream>

namespace ingot {

namespace {

constexpr int series_at_most = 200;
constexpr int parallel_at_most = 500;
constexpr double least_difference_ah = 0.0005; // half of the last digit that is shown

std::optional<Duty> duty_word(std::string word) {
    std::transform(word.begin(), word.end(), word.begin(), [](unsigned char c) { return std::tolower(c); });
    const auto duty = duty_from(word);
    return duty && *duty <= Duty::light ? duty : std::nullopt;
}

std::optional<double> number_word(std::string word) {
    std::replace(word.begin(), word.end(), ',', '.');
    double value = 0;
    const char* const last = word.data() + word.size();
    const auto [end, error] = std::from_chars(word.data(), last, value);
    const std::string unit(end, last);
    if (error != std::errc() || !std::isfinite(value) || (!unit.empty() && unit != "Ah" && unit != "ah"))
        return std::nullopt;
    return value;
}

} // namespace

Result<WantedBuild> wanted_build_from(const std::string& line) {
    static const std::regex groups("(\\d{1,4})[sS](\\d{1,4})[pP],?");
    WantedBuild out;
    std::istringstream stream(line);
    std::vector<std::string> words;
    for (std::string word; stream >> word;)
        words.push_back(word);
    for (std::size_t i = 0; i < words.size(); ++i) {
        const std::string& word = words[i];
        const bool at_an_end = i == 0 || i + 1 == words.size(); // elsewhere it is a name: exit light, drive unit
        std::smatch found;
        if (std::regex_match(word, found, groups)) {
            out.series = std::stoi(found[1]);
            out.parallel = std::stoi(found[2]);
        } else if (const auto duty = at_an_end ? duty_word(word) : std::nullopt) {
            out.least_duty = duty;
        } else if (const auto number = number_word(word)) {
            out.usable_ah = *number;
        } else if (word != "Ah" && word != "ah") {
            out.purpose += (out.purpose.empty() ? "" : " ") + word;
        }
    }
    while (!out.purpose.empty() && out.purpose.back() == ',')
        out.purpose.pop_back();
    if (out.series < 1 || out.series > series_at_most || out.parallel < 1 || out.parallel > parallel_at_most)
        return Problem{"", 0,
                       said("Say how many groups in series of how many units in parallel, as in \"mower pack 7S4P 9.2 "
                            "Ah\": 1 to 200 in series, 1 to 500 in parallel.")};
    if (out.usable_ah && *out.usable_ah <= 0)
        return Problem{"", 0, said("A build wants more than 0 Ah, or say nothing.")};
    return out;
}

bool AllotAnswer::met(std::size_t build) const {
    return result.builds.at(build).filled && short_ah(build) <= 0;
}

double AllotAnswer::short_ah(std::size_t build) const {
    const auto& wanted = question.problem.builds.at(build).wanted_ah;
    const double lacks = wanted ? *wanted - result.builds.at(build).match.usable_ah : 0;
    return lacks > least_difference_ah ? lacks : 0;
}

Result<AllotAnswer> answer_allotment(AllotQuestion question, const std::function<bool()>& going) {
    AllotAnswer out;
    const auto found = allot(question.problem, [&](std::size_t, std::size_t) { return !going || going(); });
    if (!found)
        return found.problem();
    out.result = found.value();
    // What waits could serve one that is short or without units.
    AllotProblem wider = question.problem;
    for (AllotBuild& build : wider.builds)
        for (std::size_t u = 0; u < question.waits.size(); ++u)
            if (question.waits[u] != 0)
                build.may_use[u] = 1;
    out.question = std::move(question);
    const std::size_t builds = out.question.problem.builds.size();
    out.waiting.resize(builds);
    for (std::size_t b = 0; b < builds; ++b) {
        if (going && !going())
            break;
        out.standings.push_back(standing_of(out.question.problem, b));
        if (out.met(b))
            continue;
        const AllotBuild& build = out.question.problem.builds[b];
        const std::string& chemistry = out.result.builds[b].chemistry;
        for (std::size_t u = 0; u < out.question.waits.size(); ++u) {
            const MatchUnit& unit = out.question.problem.pool[u];
            out.waiting[b].units += out.question.waits[u] != 0 && unit.capacity_ah &&
                                            (chemistry.empty() || unit.chemistry == chemistry) &&
                                            (build.model.empty() || unit.model == build.model)
                                        ? 1
                                        : 0;
        }
        if (out.waiting[b].units > 0)
            out.waiting[b].at_most_ah = standing_of(wider, b).at_most_ah;
    }
    out.standings.resize(builds);
    return out;
}

} // namespace ingot
