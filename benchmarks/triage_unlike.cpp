// The explanation engine on packs of four unlike shops (triage_shops.h), with rest readings alone and with the
// terminals and one further kind of reading, also once the shop recorded what 40 other packs turned out to be.
//
//   benchmark_triage_unlike [CASES] [FIRST_SEED] [SHOP]
#include "triage_unlike.h"

#include <cstdio>
#include <cstdlib>

int main(int argc, char** argv) {
    using namespace ingot;
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
