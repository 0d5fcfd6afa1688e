#include "core/triage/outcomes.h"

#include <algorithm>
#include <map>
#include <numeric>
#include <set>
#include <sstream>

namespace ingot {

namespace {

constexpr double floor_share = 0.2;    // of the shipped chance
constexpr double share_of_alike = 0.5; // of what a pack of the kind teaches
constexpr const char* beside_cause = "with";
constexpr const char* beside_first = "first-with";

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

std::vector<NamedFault> in_order(std::vector<NamedFault> faults) {
    std::map<Fault, std::set<int>> groups_of;
    for (const NamedFault& named : faults)
        if (named.fault != Fault::healthy)
            groups_of[named.fault].insert(named.groups.begin(), named.groups.end());
    faults.clear();
    for (const auto& [fault, groups] : groups_of)
        faults.push_back({fault, {groups.begin(), groups.end()}});
    if (faults.empty())
        faults.emplace_back();
    return faults;
}

std::vector<NamedFault> named_by(const Explanation& e) {
    std::vector<NamedFault> out{{e.fault, e.groups}};
    out.reserve(1 + e.with.size());
    for (const auto& [fault, groups] : e.with)
        out.push_back({fault, groups});
    return in_order(std::move(out));
}

// "leaking-cell 3 0.41 dead-group 5 0.5 with weak-group 2 first-with imbalance 1"
std::string write_outcome(const Outcome& o) {
    std::ostringstream out;
    const NamedFault& cause = o.causes.front();
    const NamedFault& first = o.first.front();
    out << code(cause.fault) << ' ' << places(cause.groups) << ' ' << o.cause_stated << ' ' << code(first.fault) << ' '
        << places(first.groups) << ' ' << o.first_stated;
    for (std::size_t i = 1; i < o.causes.size(); ++i)
        out << ' ' << beside_cause << ' ' << code(o.causes[i].fault) << ' ' << places(o.causes[i].groups);
    for (std::size_t i = 1; i < o.first.size(); ++i)
        out << ' ' << beside_first << ' ' << code(o.first[i].fault) << ' ' << places(o.first[i].groups);
    return out.str();
}

std::optional<Outcome> read_outcome(const std::string& text) {
    std::istringstream in(text);
    const auto named = [&in]() -> std::optional<NamedFault> {
        std::string fault;
        std::string groups;
        in >> fault >> groups;
        const auto known = fault_from(fault);
        auto where = places_in(groups);
        if (!in || !known || !where)
            return std::nullopt;
        return NamedFault{*known, std::move(*where)};
    };
    Outcome out;
    const auto cause = named();
    in >> out.cause_stated;
    const auto first = named();
    in >> out.first_stated;
    if (!in || !cause || !first)
        return std::nullopt;
    out.causes = {*cause};
    out.first = {*first};
    for (std::string beside; in >> beside;) {
        const auto one = named();
        if (!one || (beside != beside_cause && beside != beside_first))
            return std::nullopt;
        (beside == beside_cause ? out.causes : out.first).push_back(*one);
    }
    out.causes = in_order(std::move(out.causes));
    out.first = in_order(std::move(out.first));
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
            double sum = 0;
            for (const Outcome& o : outcomes)
                for (const NamedFault& cause : o.causes)
                    if (static_cast<std::size_t>(cause.fault) == f)
                        sum += 1.0 / static_cast<double>(o.causes.size());
            return sum;
        };
        const double seen = count(of_the_kind) + share_of_alike * count(like_it);
        const double now = (before[f] * shipped_weight + seen) / (shipped_weight + packs);
        shipped.prior[f] = std::max(0.0, now - floor_share * before[f]); // over the floor
    }
    // What is left for faults without a name stays what it was.
    const double over = std::accumulate(shipped.prior.begin(), shipped.prior.end(), 0.0);
    for (std::size_t f = 0; f < before.size(); ++f)
        shipped.prior[f] = floor_share * before[f] + shipped.prior[f] * (1 - floor_share) * named / over;
    // The packs that were seen are of the same chemistry: they say it themselves.
    shipped.levels_itself = (shipped.levels_itself * shipped_weight + packs) / (shipped_weight + packs);
    return shipped;
}

} // namespace ingot
