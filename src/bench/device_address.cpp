#include "bench/device_address.h"

#include <cctype>
#include <charconv>
#include <sstream>
#include <vector>

namespace ingot::bench {

namespace {

Problem objection(const std::string& what) {
    return {"", 0,
            what + " Write socket:PATH, or serial:PORT, with the speed and what else differs from 115200,8N1 behind "
                   "it: serial:PORT,9600,7E1,rts."};
}

Problem not_taken(const std::string& part, const std::string& text, const char* kind) {
    return objection("\"" + part + "\" in \"" + text + "\" is no " + kind + ".");
}

bool take_speed(const std::string& text, DeviceAddress& out) {
    constexpr int slowest = 50;
    constexpr int fastest = 4'000'000;
    const char* end = text.data() + text.size();
    const auto read = std::from_chars(text.data(), end, out.speed);
    return read.ec == std::errc() && read.ptr == end && out.speed >= slowest && out.speed <= fastest;
}

// "8N1": data bits, parity, stop bits.
bool take_frame(const std::string& text, DeviceAddress& out) {
    constexpr std::size_t letters = 3;
    if (text.size() != letters)
        return false;
    const char parity = static_cast<char>(std::toupper(static_cast<unsigned char>(text[1])));
    if ((text[0] != '7' && text[0] != '8') || (parity != 'N' && parity != 'E' && parity != 'O') ||
        (text[2] != '1' && text[2] != '2'))
        return false;
    out.data_bits = text[0] - '0';
    out.parity = parity == 'N'   ? DeviceAddress::Parity::none
                 : parity == 'E' ? DeviceAddress::Parity::even
                                 : DeviceAddress::Parity::odd;
    out.stop_bits = text[2] - '0';
    return true;
}

bool take_flow(const std::string& text, DeviceAddress& out) {
    if (text != "rts" && text != "xon")
        return false;
    out.flow = text == "rts" ? DeviceAddress::Flow::rts : DeviceAddress::Flow::xon;
    return true;
}

} // namespace

Result<DeviceAddress> parse_address(const std::string& text) {
    DeviceAddress out;
    const std::string socket = "socket:";
    const std::string serial = "serial:";
    if (text.rfind(socket, 0) == 0) {
        out.kind = DeviceAddress::Kind::socket;
        out.place = text.substr(socket.size());
        if (out.place.empty())
            return objection("\"" + text + "\" names no path.");
        return out;
    }
    if (text.rfind(serial, 0) != 0)
        return objection("\"" + text + "\" is no address.");
    std::istringstream parts(text.substr(serial.size()));
    std::getline(parts, out.place, ',');
    if (out.place.empty())
        return objection("\"" + text + "\" names no port.");
    std::string part;
    using Take = bool (*)(const std::string&, DeviceAddress&);
    struct Field {
        Take take;
        const char* kind;
    };
    for (const Field& field : {Field{&take_speed, "speed"}, Field{&take_frame, "frame such as 8N1"},
                               Field{&take_flow, "flow control (rts, xon)"}})
        if (std::getline(parts, part, ',') && !field.take(part, out))
            return not_taken(part, text, field.kind);
    if (std::getline(parts, part))
        return not_taken(part, text, "setting that is known");
    return out;
}

} // namespace ingot::bench
