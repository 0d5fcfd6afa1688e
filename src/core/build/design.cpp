#include "core/build/design.h"

#include "core/build/build_safety.h"
#include "core/build/layout_moves.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace ingot {

namespace {

// Lowest and highest that make sense; both 0: words.
struct FigureKind {
    const char* code;
    double lowest = 0, highest = 0;
    const char* range = "";
};

constexpr double most_v = 1000;
constexpr std::array<FigureKind, design_figure_count> figure_kinds{{
    {"off-v", 0.1, most_v, "0.1 to 1000 V"},
    {"nominal-v", 0.1, most_v, "0.1 to 1000 V"},
    {"bears-v", 0.1, most_v, "0.1 to 1000 V"},
    {"continuous-a", 0.001, 2000, "1 mA to 2000 A"},
    {"peak-a", 0.001, 5000, "1 mA to 5000 A"},
    {"load-w", 0.001, 200'000, "1 mW to 200 kW"},
    {"run-s", 1, 3.2e7, "1 s to a year"},
    {"charger-v", 0.1, most_v, "0.1 to 1000 V"},
    {"charger-kind"},
    {"old-chemistry"},
    {"old-series", 1, 500, "1 to 500 cells"},
    {"case-width-m", 0.001, 5, "1 to 5000 mm"},
    {"case-height-m", 0.001, 5, "1 to 5000 mm"},
    {"pitch-m", 0.001, 1, "1 to 1000 mm"},
    {"arrangement"},
    {"strip-width-m", 0.0005, 0.5, "0.5 to 500 mm"},
    {"strip-thickness-m", 0.00001, 0.02, "0.01 to 20 mm"},
    {"strip-material"},
    {"link-layers", 1, 10, "1 to 10 layers"},
    {"end-layers", 1, 10, "1 to 10 layers"},
    {"welder-thickest-m", 0.00001, 0.02, "0.01 to 20 mm"},
    {"board"},
    {"moves-over"},
    {"purpose"},
    {"refill-pack"},
    {"refill-groups"},
    {"charger-a", 0.001, 500, "1 mA to 500 A"},
    {"balance-a", 0.0005, 20, "0.5 mA to 20 A"},
    {"standby-a", 0.0000001, 10, "0.1 uA to 10 A"},
    {"load-profile"},
    {"new-charger-v", 0.1, most_v, "0.1 to 1000 V"},
    {"board-kind"},
    {"fuse-a", 0.01, 1000, "10 mA to 1000 A"},
    {"wire-mm2", 0.01, 500, "0.01 to 500 mm2"},
    {"joining"},
    {"cell-link-m", 0.00003, 0.002, "0.03 to 2 mm"},
    {"trial-weld"},
    {"bar-ohm", 0.000001, 0.1, "0.001 to 100 mohm"},
    {"bar-before-ohm", 0.000001, 1, "0.001 to 1000 mohm"},
    {"bar-torque-nm", 0.05, 100, "0.05 to 100 Nm"},
    {"by-hand"},
    {"room-deep-m", 0.001, 5, "1 to 5000 mm"},
    {"raised-top-m", 0.0001, 0.02, "0.1 to 20 mm"},
    {"sleeve-m", 0.00001, 0.005, "0.01 to 5 mm"},
    {"spring-ohm", 0.00001, 1, "0.01 to 1000 mohm"},
    {"spring-a", 0.01, 100, "10 mA to 100 A"},
    {"wanted-ah", 0.001, 100'000, "1 mAh to 100000 Ah"},
    {"least-duty"},
    {"wanted-model"},
    {"priority", 1, 9999, "1 to 9999"},
}};

const FigureKind& kind_of(DesignFigure figure) {
    return figure_kinds.at(static_cast<std::size_t>(figure));
}

std::optional<double> number_in(const std::string& text) {
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(value))
        return std::nullopt;
    return value;
}

// "3,7"; empty where anything else is in it.
std::vector<int> places_in(const std::string& text) {
    constexpr int most = 500;
    std::vector<int> out;
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t end = std::min(text.find(',', at), text.size());
        const auto number = number_in(text.substr(at, end - at));
        if (!number || *number < 1 || *number > most || *number != std::floor(*number))
            return {};
        out.push_back(static_cast<int>(*number));
        at = end + 1;
    }
    return out;
}

} // namespace

const char* code(DesignFigure figure) {
    return kind_of(figure).code;
}

std::optional<DesignFigure> design_figure_from(const std::string& code) {
    for (std::size_t i = 0; i < figure_kinds.size(); ++i)
        if (figure_kinds[i].code == code)
            return static_cast<DesignFigure>(i);
    return std::nullopt;
}

Result<bool> BuildDesign::set(DesignFigure figure, const std::string& value) {
    const FigureKind& kind = kind_of(figure);
    if (value.empty()) {
        values_.erase(figure);
        return true;
    }
    if (kind.highest > 0) {
        const auto number = number_in(value);
        if (!number || *number < kind.lowest || *number > kind.highest)
            return Problem{"", 0, said("This figure lies between {}.", kind.range)};
    }
    if (figure == DesignFigure::charger_kind && !charger_kind_from(value))
        return Problem{"", 0, said("A charger is cc-cv, minus-dv, trickle or lead, not \"{}\".", value)};
    if (figure == DesignFigure::board_kind && !board_kind_from(value))
        return Problem{"", 0, said("A board is board, left-in-pack, thermal-switch or none, not \"{}\".", value)};
    if (figure == DesignFigure::joining && !joining_kind_from(value))
        return Problem{
            "", 0, said("Units are joined by weld, solder-tabs, solder-cells, holder or bolts, not \"{}\".", value)};
    if (figure == DesignFigure::least_duty && value != "drive" && value != "store" && value != "light")
        return Problem{"", 0, said("The least duty of a build is drive, store or light, not \"{}\".", value)};
    if (figure == DesignFigure::refill_groups && places_in(value).empty())
        return Problem{"", 0, said("Places of a pack are numbers from 1 to 500, parted by commas, not \"{}\".", value)};
    if (figure == DesignFigure::by_hand)
        if (auto moves = layout_moves_from(value); !moves)
            return moves.problem();
    values_[figure] = value;
    return true;
}

std::optional<double> BuildDesign::number(DesignFigure figure) const {
    const auto found = values_.find(figure);
    return found == values_.end() ? std::nullopt : number_in(found->second);
}

std::string BuildDesign::word(DesignFigure figure) const {
    const auto found = values_.find(figure);
    return found == values_.end() ? std::string() : found->second;
}

std::vector<int> BuildDesign::refill_groups() const {
    return knows(DesignFigure::refill_pack) ? places_in(word(DesignFigure::refill_groups)) : std::vector<int>();
}

std::optional<DeviceWindow> BuildDesign::device() const {
    const auto nominal = number(DesignFigure::nominal_v);
    if (!nominal)
        return std::nullopt;
    DeviceWindow device;
    device.nominal_v = *nominal;
    device.off_v = number(DesignFigure::off_v);
    device.bears_v = number(DesignFigure::bears_v);
    device.charger_v = number(DesignFigure::charger_v);
    if (device.charger_v)
        device.charger_kind = charger_kind_from(word(DesignFigure::charger_kind));
    return device;
}

} // namespace ingot
