// How a device at the end of a line fares, and why.
#pragma once

#include <string>

namespace ingot::bench {

enum class DeviceState {
    none,      // none was chosen
    looking,   // it was asked who it is
    ready,     // it said who it is
    listening, // it does not say who it is; what it sends by itself is heard, and it is asked again
    silent,    // it said who it is, and answers no more
    gone,      // the port is not there, or may not be used
    strange,   // what answers is no such device, or speaks otherwise
};

} // namespace ingot::bench
