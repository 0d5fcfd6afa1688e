#include "bench/device_address.h"

#include <cctype>
#include <charconv>
#include <sstream>
#include <vector>

namespace ingot::bench {

namespace {

Problem objection(const Sentence& what) {
    return {"", 0,
            said("{} Write socket:PATH, or serial:PORT, with the speed and what else differs from 115200,8N1 behind "
                 "it: serial:PORT,9600,7E1,rts.",
                 what)};
}

Problem not_taken(const std::string& part, const std::string& text, const Sentence& kind) {
    return objection(said("\"{}\" in \"{}\" is no {}.", part, text, kind));
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
            return objection(said("\"{}\" names no path.", text));
        return out;
    }
    if (text.rfind(serial, 0) != 0)
        return objection(said("\"{}\" is no address.", text));
    std::istringstream parts(text.substr(serial.size()));
    std::getline(parts, out.place, ',');
    if (out.place.empty())
        return objection(said("\"{}\" names no port.", text));
    std::string part;
    using Take = bool (*)(const std::string&, DeviceAddress&);
    struct Field {
        Take take;
        Sentence kind;
    };
    for (const Field& field : {Field{&take_speed, said("speed")}, Field{&take_frame, said("frame such as 8N1")},
                               Field{&take_flow, said("flow control (rts, xon)")}})
        if (std::getline(parts, part, ',') && !field.take(part, out))
            return not_taken(part, text, field.kind);
    if (std::getline(parts, part))
        return not_taken(part, text, said("setting that is known"));
    return out;
}

} // namespace ingot::bench
