// Whether the tests run under AddressSanitizer: what is timed then takes longer, and of a population fewer do.
#pragma once

#if defined(__SANITIZE_ADDRESS__)
#define INGOT_SANITIZED 1
#elif defined(__has_feature)
#if __has_feature(address_sanitizer)
#define INGOT_SANITIZED 1
#endif
#endif

namespace ingot::tests {
#if defined(INGOT_SANITIZED)
inline constexpr bool sanitized = true;
#else
inline constexpr bool sanitized = false;
#endif

/// How many of a population, pool or shop: the sanitizers watch memory, which a few show as well as all of them. A
/// rate over the population is then not for checking: it is measured where all are made.
constexpr int out_of(int all, int few) {
    return sanitized ? few : all;
}
} // namespace ingot::tests
