#include "exchange/strip_drawing_json.h"

#include <nlohmann/json.hpp>

namespace ingot::exchange {

std::string write_strip_drawing(const StripDrawing& drawing) {
    nlohmann::ordered_json json;
    json["front"] = drawing.front;
    json["back"] = drawing.back;
    json["free_to_slide"] = drawing.free_to_slide == StripDrawing::Face::front ? "front" : "back";
    return json.dump();
}

Result<StripDrawing> read_strip_drawing(const std::string& text, int series) {
    const auto json = nlohmann::json::parse(text, nullptr, false);
    const Problem broken{"", 0, said("the strip drawing cannot be read. Draw it again.")};
    if (!json.is_object())
        return broken;
    StripDrawing out;
    for (const auto face : {StripDrawing::Face::front, StripDrawing::Face::back}) {
        const auto list = json.find(face == StripDrawing::Face::front ? "front" : "back");
        if (list == json.end() || !list->is_array())
            return broken;
        for (const auto& strip : *list) {
            if (!strip.is_array() || strip.size() != 2 || !strip[0].is_number_integer() ||
                !strip[1].is_number_integer())
                return broken;
            const int a = strip[0].get<int>();
            const int b = strip[1].get<int>();
            if (a < 1 || b < 1 || a > series || b > series || a == b)
                return broken;
            out.toggle(face, a, b);
        }
    }
    const auto free = json.find("free_to_slide");
    out.free_to_slide = free != json.end() && *free == "back" ? StripDrawing::Face::back : StripDrawing::Face::front;
    return out;
}

} // namespace ingot::exchange
