// Where a device is, as it is written: "socket:/path", or "serial:PORT[,SPEED[,8N1[,rts|xon]]]".
#pragma once

#include "core/cells/problem.h"

#include <string>

namespace ingot::bench {

struct DeviceAddress {
    enum class Kind { socket, serial };
    enum class Parity { none, even, odd };
    enum class Flow { none, rts, xon };
    Kind kind = Kind::serial;
    std::string place;  // path, or port
    int speed = 115200; // baud
    int data_bits = 8;  // 7, 8
    Parity parity = Parity::none;
    int stop_bits = 1; // 1, 2
    Flow flow = Flow::none;
};
// The objection says what is wrong and what can be written there.
[[nodiscard]] Result<DeviceAddress> parse_address(const std::string& text);

} // namespace ingot::bench
