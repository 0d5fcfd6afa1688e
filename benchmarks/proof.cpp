// How many hidden faults of built packs are found by the end of their proof, how many sound packs are accused, and
// whether what a group points at is what is wrong with it. Beside the plain rule: spread at the end of charge over the
// most, sag over the middle group's by the limit.
//   benchmark_proof [packs of each shop] [first seed] [shop]
#include "core/prove/proof_causes.h"
#include "exchange/library_toml.h"
#include "proof_packs.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <map>
#include <string>

using namespace ingot;

namespace {

bool names(BuiltFault fault, ProofCause cause) {
    switch (fault) {
    case BuiltFault::cold_joint:
    case BuiltFault::blown_link:
        return cause == ProofCause::loose_unit;
    case BuiltFault::reversed_cell:
        return cause == ProofCause::dead_cell;
    case BuiltFault::weak_unit:
    case BuiltFault::wrong_model: // by its readings it is the same
        return cause == ProofCause::weak_unit || cause == ProofCause::other_unit;
    case BuiltFault::resistive_strip:
        return cause == ProofCause::strip_joint;
    case BuiltFault::leaking_unit:
        return cause == ProofCause::leaking_unit;
    default:
        return false;
    }
}

bool plain_rule(const ProvenPack& pack, const ProofLimits& limits) {
    const auto& top = pack.rounds[static_cast<std::size_t>(ProofRound::end_of_charge)].group_v;
    const auto& later = pack.rounds[static_cast<std::size_t>(ProofRound::after_rest)].group_v;
    const auto& load = pack.rounds[static_cast<std::size_t>(ProofRound::under_load)].group_v;
    std::vector<double> sags;
    double low = 1e300;
    double high = -1e300;
    for (std::size_t g = 0; g < top.size(); ++g) {
        low = std::min(low, *top[g]);
        high = std::max(high, *top[g]);
        sags.push_back(*later[g] - *load[g]);
    }
    std::vector<double> sorted = sags;
    std::nth_element(sorted.begin(), sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2), sorted.end());
    const double middle = sorted[sorted.size() / 2];
    const double cells = pack.cells_per_unit;
    return (high - low) / cells > limits.most_v ||
           std::any_of(sags.begin(), sags.end(), [&](double sag) { return sag - middle > limits.sag_v * cells; });
}

struct Tally {
    int faulty = 0, found = 0, sound = 0, alarms = 0, plain_found = 0, plain_alarms = 0;
    int grouped = 0, right_group = 0, named = 0, among_two = 0;
    double calibration = 0;
    std::map<std::string, std::pair<int, int>> by_fault;
};

void run(ProofShop shop, const exchange::Library& library, int packs, std::uint64_t first, Tally& tally,
         std::array<std::pair<double, int>, 10>& stated, std::array<int, 10>& right) {
    const ProofLimits limits = library.practice.proof;
    for (int i = 0; i < packs; ++i) {
        Random random(first + static_cast<std::uint64_t>(i));
        const Chemistry& chemistry = *library.chemistry(chemistry_of(shop, random));
        const BuiltPack built = make_built_pack(shop, chemistry, random);
        const Proof proof = judge_proof(built.pack, limits);
        // What is stated of every group that is more likely out of line than not, sound packs' too.
        if (built.fault != BuiltFault::bad_lead)
            for (const GroupCauses& causes : explain_proof(built.pack, proof)) {
                if (causes.sound > 0.5 || causes.explanations.empty())
                    continue;
                const ProofExplanation& top = causes.explanations.front();
                const auto bin = static_cast<std::size_t>(std::min(9.0, top.probability * 10));
                stated[bin].first += top.probability;
                ++stated[bin].second;
                right[bin] += causes.group == built.group && names(built.fault, top.cause) ? 1 : 0;
            }
        if (built.fault == BuiltFault::none) {
            ++tally.sound;
            tally.alarms += proof.passed ? 0 : 1;
            tally.plain_alarms += plain_rule(built.pack, limits) ? 1 : 0;
            if (!proof.passed && std::getenv("SHOW") != nullptr)
                for (const RoundVerdict& round : proof.rounds)
                    for (const ProofFinding& f : round.findings)
                        std::printf("alarm %s %d %s group %d %g over %g\n", code(shop), i, code(f.sign), f.group,
                                    f.value, f.limit);
            continue;
        }
        ++tally.faulty;
        tally.found += proof.passed ? 0 : 1;
        tally.plain_found += plain_rule(built.pack, limits) ? 1 : 0;
        auto& of_kind = tally.by_fault[code(built.fault)];
        ++of_kind.first;
        of_kind.second += proof.passed ? 0 : 1;
        if (built.group == 0)
            continue;
        ++tally.grouped;
        for (const GroupCauses& causes : explain_proof(built.pack, proof)) {
            if (causes.group != built.group || causes.explanations.empty())
                continue;
            const ProofExplanation& top = causes.explanations.front();
            const bool first_right = causes.sound < top.probability && names(built.fault, top.cause);
            tally.named += first_right ? 1 : 0;
            const bool second = causes.explanations.size() > 1 && names(built.fault, causes.explanations[1].cause);
            tally.among_two += first_right || names(built.fault, top.cause) || second ? 1 : 0;
            if (!first_right && std::getenv("SHOW") != nullptr)
                std::printf("%s %d %s: sound %.2f, %s %.2f\n", code(shop), i, code(built.fault), causes.sound,
                            code(top.cause), top.probability);
        }
        for (const RoundVerdict& round : proof.rounds)
            if (std::any_of(round.findings.begin(), round.findings.end(),
                            [&](const ProofFinding& f) { return f.group == built.group; })) {
                ++tally.right_group;
                break;
            }
    }
}

} // namespace

int main(int count, char** words) {
    const int packs = count > 1 ? std::atoi(words[1]) : 250;
    const auto first = count > 2 ? std::strtoull(words[2], nullptr, 10) : 1ULL;
    const auto library = exchange::read_library(INGOT_SOURCE_DIR "/data");
    if (!library) {
        std::fprintf(stderr, "no library\n");
        return 1;
    }
    std::array<std::pair<double, int>, 10> stated{};
    std::array<int, 10> right{};
    for (int s = 0; s < proof_shop_count; ++s) {
        const auto shop = static_cast<ProofShop>(s);
        if (count > 3 ? std::string(words[3]) != code(shop) : false)
            continue;
        Tally tally;
        run(shop, library.value(), packs, first, tally, stated, right);
        const auto share = [](int part, int all) { return all > 0 ? 100.0 * part / all : 0.0; };
        std::printf("%-9s found %.1f %% of %d (plain %.1f), alarms %.1f %% of %d (plain %.1f); group %.1f %%, cause "
                    "%.1f %%, among two %.1f %%\n",
                    code(shop), share(tally.found, tally.faulty), tally.faulty, share(tally.plain_found, tally.faulty),
                    share(tally.alarms, tally.sound), tally.sound, share(tally.plain_alarms, tally.sound),
                    share(tally.right_group, tally.grouped), share(tally.named, tally.grouped),
                    share(tally.among_two, tally.grouped));
        for (const auto& [fault, of_kind] : tally.by_fault)
            std::printf("    %-16s %d of %d\n", fault.c_str(), of_kind.second, of_kind.first);
    }
    double error = 0;
    int all = 0;
    for (std::size_t b = 0; b < stated.size(); ++b) {
        error += std::fabs(stated[b].first - right[b]);
        all += stated[b].second;
    }
    for (std::size_t b = 0; b < stated.size() && std::getenv("SHOW") != nullptr; ++b)
        if (stated[b].second > 0)
            std::printf("stated %.2f right %.2f of %d\n", stated[b].first / stated[b].second,
                        1.0 * right[b] / stated[b].second, stated[b].second);
    std::printf("calibration error %.3f over %d groups out of line\n", all > 0 ? error / all : 0, all);
    return 0;
}
