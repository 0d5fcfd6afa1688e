#include "core/triage/outcomes.h"

#include <algorithm>
#include <numeric>
#include <sstream>

namespace ingot {

namespace {

constexpr double floor_share = 0.5;    // of the shipped chance
constexpr double share_of_alike = 0.5; // of what a pack of the kind teaches

std::string places(const std::vector<int>& groups) {
    std::string out;
    for (const int g : groups)
        out += (out.empty() ? "" : ",") + std::to_string(g);
    return out.empty() ? "-" : out;
}

std::optional<std::vector<int>> places_in(const std::string& text) {
    std::vector<int> out;
    if (text == "-")
        return out;
    std::istringstream in(text);
    for (std::string part; std::getline(in, part, ',');) {
        const int g = std::atoi(part.c_str());
        if (g <= 0)
            return std::nullopt;
        out.push_back(g);
    }
    return out;
}

} // namespace

std::string write_outcome(const Outcome& o) {
    std::ostringstream out;
    out << code(o.cause) << ' ' << places(o.groups) << ' ' << o.cause_stated << ' ' << code(o.first) << ' '
        << places(o.first_groups) << ' ' << o.first_stated;
    return out.str();
}

std::optional<Outcome> read_outcome(const std::string& text) {
    std::istringstream in(text);
    std::string cause;
    std::string groups;
    std::string first;
    std::string first_groups;
    Outcome out;
    if (!(in >> cause >> groups >> out.cause_stated >> first >> first_groups >> out.first_stated))
        return std::nullopt;
    const auto fault = fault_from(cause);
    const auto said = fault_from(first);
    const auto where = places_in(groups);
    const auto said_where = places_in(first_groups);
    if (!fault || !said || !where || !said_where)
        return std::nullopt;
    out.cause = *fault;
    out.first = *said;
    out.groups = *where;
    out.first_groups = *said_where;
    return out;
}

Reliability reliability(std::span<const Outcome> outcomes) {
    Reliability out;
    for (const Outcome& o : outcomes) {
        ++out.packs;
        out.right += o.first_right();
        out.stated += o.first_stated;
    }
    return out;
}

TriageKnowledge learned(TriageKnowledge shipped, std::span<const Outcome> of_the_kind,
                        std::span<const Outcome> like_it) {
    if (of_the_kind.empty() && like_it.empty())
        return shipped;
    const auto before = shipped.prior;
    const double named = std::accumulate(before.begin(), before.end(), 0.0);
    const double packs = static_cast<double>(of_the_kind.size()) + share_of_alike * static_cast<double>(like_it.size());
    for (std::size_t f = 0; f < before.size(); ++f) {
        const auto count = [f](std::span<const Outcome> outcomes) {
            return static_cast<double>(std::count_if(outcomes.begin(), outcomes.end(), [f](const Outcome& o) {
                return static_cast<std::size_t>(o.cause) == f;
            }));
        };
        const double seen = count(of_the_kind) + share_of_alike * count(like_it);
        shipped.prior[f] =
            std::max(floor_share * before[f], (before[f] * shipped_weight + seen) / (shipped_weight + packs));
    }
    // What is left for faults without a name stays what it was.
    const double now = std::accumulate(shipped.prior.begin(), shipped.prior.end(), 0.0);
    for (double& chance : shipped.prior)
        chance *= named / now;
    // The packs that were seen are of the same chemistry: they say it themselves.
    shipped.levels_itself = (shipped.levels_itself * shipped_weight + packs) / (shipped_weight + packs);
    return shipped;
}

} // namespace ingot
