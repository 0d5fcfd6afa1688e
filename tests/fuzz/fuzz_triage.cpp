// Readings, donors, worth cases, cycles, jobs and protocols: whatever bytes come in, an objection or a result, never a
// crash.
#include "exchange/cycles_csv.h"
#include "exchange/donors_csv.h"
#include "exchange/jobs_csv.h"
#include "exchange/protocol_toml.h"
#include "exchange/readings_csv.h"
#include "exchange/worth_json.h"

#include <cstdint>
#include <string_view>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    const ingot::PackLayout layout{7, 4, 1};
    (void)ingot::exchange::read_group_readings(text, "fuzz", layout);
    (void)ingot::exchange::read_unit_voltages(text, "fuzz", layout);
    (void)ingot::exchange::read_donor_groups(text, "fuzz");
    (void)ingot::exchange::read_cycles(text, "fuzz");
    (void)ingot::exchange::read_jobs(text, "fuzz");
    (void)ingot::exchange::read_protocol(std::string(text), "fuzz");
    if (const auto worth = ingot::exchange::read_worth_case(text, "fuzz", {}))
        (void)ingot::weigh_routes(worth.value());
    return 0;
}
