// Any bytes as a data file of each kind.
#include "exchange/library_toml.h"

#include <cstdint>
#include <string>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string text(reinterpret_cast<const char*>(data), size);
    for (const char* kind : {"ocv", "chemistries", "formats", "models", "rule-sets", "look-findings", "cautions"})
        (void)ingot::exchange::parse_library({{kind, "fuzz.toml", text}});
    return 0;
}
