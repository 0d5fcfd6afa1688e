// The explanation engine on packs of four unlike shops (triage_shops.h), with rest readings alone and with the
// terminals and one further kind of reading.
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
    for (const auto& [further, words] :
         {std::pair(Further::followed, "rest, terminals and up to three readings as it asks for them"),
          {Further::as_asked, "rest, terminals and the further kind of reading that it asks for"},
          {Further::by_chance, "rest, terminals and one further kind of reading, by chance"},
          {Further::none, "rest readings alone"}}) {
        std::printf("%s\n", words);
        benchmarks::ShopScore all;
        for (int s = 0; s < shops::shop_count; ++s) {
            if (only >= 0 && s != only)
                continue;
            const auto shop = static_cast<shops::Shop>(s);
            const auto score = benchmarks::score(shop, seed, cases, further, library.value());
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
        std::printf("  stated > found:");
        for (std::size_t b = 0; b < 10; ++b)
            if (all.count[b] > 0)
                std::printf(" %.2f>%.2f(%d)", all.stated[b] / all.count[b],
                            static_cast<double>(all.found[b]) / all.count[b], all.count[b]);
        std::printf("\n");
    }
    return 0;
}
