// The line protocol of instruments: whatever a device or a client sends is parsed or refused.
#include "bench/scpi.h"
#include "bench/tester_lines.h"

#include <cstdint>
#include <string_view>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    (void)ingot::bench::parse_scpi(text);
    (void)ingot::bench::read_samples(text);
    (void)ingot::bench::read_statuses(text);
    (void)ingot::bench::read_identity(text);
    (void)ingot::bench::read_abilities(text);
    (void)ingot::bench::read_error(text);
    (void)ingot::bench::read_measurement(text);
    (void)ingot::bench::read_count(text);
    return 0;
}
