// Any bytes as a pool, and as each kind of record.
#include "core/cells/unit_code.h"
#include "exchange/pool_csv.h"
#include "exchange/records_csv.h"

#include <cstdint>
#include <string>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace ingot::exchange;
    const std::string text(reinterpret_cast<const char*>(data), size);
    if (const auto pool = read_pool(text, "f"); pool.ok() && pool.value().rows.size() >= 2) {
        ingot::MatchProblem problem;
        for (const auto& row : pool.value().rows)
            problem.pool.push_back(row.unit);
        problem.series = 1;
        problem.parallel = 2;
        problem.effort = 0.001;
        (void)ingot::match(problem, ingot::MatchWay::deal);
    }
    (void)read_lots(text, "f");
    (void)read_packs(text, "f");
    (void)read_units(text, "f");
    (void)read_readings(text, "f");
    (void)read_builds(text, "f");
    (void)ingot::parse_unit_code(text);
    return 0;
}
