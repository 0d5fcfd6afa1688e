// Whether the tests run under AddressSanitizer: what is timed then takes longer.
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
} // namespace ingot::tests
