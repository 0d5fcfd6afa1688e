// The explanation engine on packs of six unlike shops (triage_shops.h), with rest readings alone and with the
// terminals and one further kind of reading, also once the shop recorded what 40 other packs turned out to be.
//
//   benchmark_triage_unlike [CASES] [FIRST_SEED] [SHOP]
//   benchmark_triage_unlike table SHOP PACKS FIRST_SEED    for triage_ceiling.py
#include "triage_unlike.h"

#include <cstdio>
#include <cstdlib>

namespace {

int number_of(const std::string& fault) {
    const auto known = ingot::fault_from(fault);
    return known ? static_cast<int>(*known) : 0;
}

// One line a pack: what stands about it, its rest readings, its further ones, and what is wrong with each group.
void print_table(shops::Shop shop, int packs, std::uint64_t first_seed) {
    for (int i = 0; i < packs; ++i) {
        const shops::Case known = shops::make(shop, first_seed + static_cast<std::uint64_t>(i));
        const int kind = known.further.empty()                         ? 0
                         : known.further.front().condition == "load"   ? 1
                         : known.further.front().condition == "stored" ? 3
                                                                       : 2;
        std::vector<int> truth(static_cast<std::size_t>(known.series), 0);
        int of_the_pack = 0;
        for (const auto& [fault, groups] : known.faults) {
            if (groups.empty())
                of_the_pack = number_of(fault);
            for (const int g : groups)
                truth[static_cast<std::size_t>(g) - 1] = number_of(fault);
        }
        std::printf("%d %d %d %g %g %d %g %d", known.series, known.parallel, known.cells_per_unit, known.resolution_v,
                    known.terminals_v, kind, known.further.empty() ? 0.0 : known.further.front().days, of_the_pack);
        for (const shops::Reading& reading : known.rest)
            std::printf(" %.4f", reading.volts);
        for (std::size_t g = 0; g < truth.size(); ++g)
            std::printf(" %.4f", known.further.empty() ? 0.0 : known.further[g].volts);
        for (const int fault : truth)
            std::printf(" %d", fault);
        std::printf("\n");
    }
}

} // namespace

int main(int argc, char** argv) {
    using namespace ingot;
    constexpr int with_table = 5;
    if (argc == with_table && std::string(argv[1]) == "table") {
        print_table(static_cast<shops::Shop>(std::atoi(argv[2])), std::atoi(argv[3]),
                    std::strtoull(argv[4], nullptr, 10));
        return 0;
    }
    const int cases = argc > 1 ? std::atoi(argv[1]) : 500;
    const std::uint64_t seed = argc > 2 ? std::strtoull(argv[2], nullptr, 10) : 1;
    const int only = argc > 3 ? std::atoi(argv[3]) : -1;
    const auto library = exchange::read_library(INGOT_SOURCE_DIR "/data");
    if (!library)
        return 1;
    using benchmarks::Further;
    constexpr std::uint64_t of_other_packs = 50000000; // seeds
    constexpr int recorded = 40;
    struct Pass {
        Further further;
        bool taught;
        const char* words;
    };
    for (const auto& [further, taught, words] :
         {Pass{Further::followed, false, "rest, terminals and up to three readings as it asks for them"},
          {Further::as_asked, false, "rest, terminals and the further kind of reading that it asks for"},
          {Further::by_chance, false, "rest, terminals and one further kind of reading, by chance"},
          {Further::by_chance, true, "the same, the causes of 40 other packs of the shop being known"},
          {Further::as_asked, true, "the further kind that it asks for, those causes being known"},
          {Further::followed, true, "up to three readings as it asks for them, those causes being known"},
          {Further::none, false, "rest readings alone"}}) {
        std::printf("%s\n", words);
        benchmarks::ShopScore all;
        for (int s = 0; s < shops::shop_count; ++s) {
            if (only >= 0 && s != only)
                continue;
            const auto shop = static_cast<shops::Shop>(s);
            const TriageKnowledge knowledge =
                benchmarks::taught(shop, of_other_packs, taught ? recorded : 0, library.value().triage);
            const auto score = benchmarks::score(shop, seed, cases, further, library.value(), knowledge);
            all.add(score);
            std::printf("  %-12s first %.1f %%, among two %.1f %%, calibration error %.3f, something else over half "
                        "%.1f %%, slowest %.0f ms\n",
                        shops::name(shop), 100 * score.share_first(), 100 * score.share_two(),
                        score.calibration_error(), 100.0 * score.else_over_half / score.cases, score.slowest_ms);
            for (const auto& [truth, said] : score.confusion) {
                std::printf("      %-22s", truth.c_str());
                for (const auto& [name, count] : said)
                    std::printf(" %s %d", name.c_str(), count);
                std::printf("\n");
            }
        }
        std::printf("  %-12s first %.1f %%, among two %.1f %%, calibration error %.3f\n", "all",
                    100 * all.share_first(), 100 * all.share_two(), all.calibration_error());
        if (auto& wide = all.wide_ms; !wide.empty()) {
            std::sort(wide.begin(), wide.end());
            std::printf(
                "  %zu packs of 36 to 40 groups: half under %.0f ms, 95 of 100 under %.0f ms, slowest %.0f ms\n",
                wide.size(), wide[wide.size() / 2], wide[wide.size() * 95 / 100], wide.back());
        }
        std::printf("  stated > found:");
        for (std::size_t b = 0; b < 10; ++b)
            if (all.count[b] > 0)
                std::printf(" %.2f>%.2f(%d)", all.stated[b] / all.count[b],
                            static_cast<double>(all.found[b]) / all.count[b], all.count[b]);
        std::printf("\n");
    }
    return 0;
}
