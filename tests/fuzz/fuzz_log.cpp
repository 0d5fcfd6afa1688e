// Any bytes as a tester's log: an objection or a result, never a crash; what was read integrates without nonsense.
#include "core/measure/capacity.h"
#include "exchange/log_csv.h"

#include <cstdint>
#include <cstdlib>
#include <string>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string text(reinterpret_cast<const char*>(data), size);
    auto log = ingot::exchange::read_log(text, "fuzz.csv");
    const auto parts = ingot::exchange::read_log_parts(text, "fuzz.csv");
    if (log && (!parts || parts.value().size() != 1)) // what is one log is one part
        std::abort();
    if (parts)
        for (const auto& part : parts.value())
            if (part.log.samples.size() == 0)
                std::abort();
    (void)ingot::exchange::read_log_shape(text);
    if (!log) {
        if (log.problem().sentence.english().empty())
            std::abort();
        return 0;
    }
    const auto result = ingot::measure_capacity(log.value().samples);
    if (log.value().samples.size() >= 2 && result.steps.empty())
        std::abort();
    return 0;
}
