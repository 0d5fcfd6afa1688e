#include "core/cells/strip_drawing.h"

#include <algorithm>

namespace ingot {

void StripDrawing::toggle(Face face, int a, int b) {
    if (a == b)
        return;
    const auto strip = std::minmax(a, b);
    auto& list = strips(face);
    const std::pair<int, int> wanted(strip.first, strip.second);
    if (const auto found = std::find(list.begin(), list.end(), wanted); found != list.end())
        list.erase(found);
    else
        list.insert(std::upper_bound(list.begin(), list.end(), wanted), wanted);
}

std::vector<int> StripDrawing::gaps(int series) const {
    std::vector<int> out;
    for (int g = 1; g < series; ++g) {
        const std::pair<int, int> wanted(g, g + 1);
        if (std::find(front.begin(), front.end(), wanted) == front.end() &&
            std::find(back.begin(), back.end(), wanted) == back.end())
            out.push_back(g);
    }
    return out;
}

StripDrawing StripDrawing::usual(int series) {
    StripDrawing out;
    for (int g = 1; g < series; ++g)
        (g % 2 == 1 ? out.front : out.back).emplace_back(g, g + 1);
    return out;
}

} // namespace ingot
