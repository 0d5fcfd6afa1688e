#include "core/build/build_safety.h"

#include "core/build/wires.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>

namespace ingot {

namespace {

constexpr std::array<const char*, board_kind_count> board_kinds{"board", "left-in-pack", "thermal-switch", "none"};
constexpr std::array<const char*, joining_kind_count> joining_kinds{"weld", "solder-tabs", "solder-cells", "holder",
                                                                    "bolts"};
constexpr std::array<const char*, 25> unsafe_codes{
    "board-not-known",     "no-board",           "thermal-switch-alone", "board-other-series",
    "board-too-small",     "charger-over-limit", "charge-method",        "over-device",
    "unit-over-current",   "unit-over-peak",     "fuse-under-load",      "fuse-over-lead",
    "lead-too-thin",       "solder-on-lithium",  "link-opens-at-work",   "strip-over-welder",
    "spring-over-current", "mixed-chemistries",  "balance-charger",      "holder-of-other-cells",
    "over-60-v",           "link-never-opens",   "links-shake",          "no-trial-weld",
    "bars-no-better"};

template <class Kind, std::size_t count>
std::optional<Kind> kind_from(const std::array<const char*, count>& codes, const std::string& code) {
    for (std::size_t i = 0; i < codes.size(); ++i)
        if (code == codes[i])
            return static_cast<Kind>(i);
    return std::nullopt;
}

// The usual sizes of 1.5 V cells in holders, m. IEC 60086-2, from memory.
struct Size {
    double diameter, height;
};
constexpr std::array<Size, 4> holder_sizes{{{0.0105, 0.0445}, {0.0145, 0.0505}, {0.0262, 0.0500}, {0.0342, 0.0615}}};
constexpr double size_room_m = 0.0012; // a spring takes so much more or less

class Safety {
public:
    Safety(const SafetyQuestion& q, bool board_asked) : q_(q), board_asked_(board_asked) {}

    std::vector<UnsafeFinding> hold() {
        if (q_.chemistries > 1)
            refuse(Unsafe::mixed_chemistries);
        if (q_.chemistry.lithium)
            hold_board();
        hold_charger();
        hold_currents();
        hold_joining();
        hold_links();
        const double highest = q_.chemistry.charging_v() * q_.series * q_.cells_per_unit;
        constexpr double touch_v = 60;
        if (highest > touch_v)
            say(Unsafe::over_60_v, highest, touch_v);
        std::stable_partition(out_.begin(), out_.end(), [](const UnsafeFinding& f) { return f.refuses; });
        return std::move(out_);
    }

private:
    using F = DesignFigure;
    void refuse(Unsafe what, std::optional<double> value = {}, std::optional<double> limit = {}) {
        out_.push_back({what, value, limit, true});
    }
    void say(Unsafe what, std::optional<double> value = {}, std::optional<double> limit = {}) {
        out_.push_back({what, value, limit, false});
    }

    void hold_board() {
        const auto kind = board_kind_from(q_.design.word(F::board_kind));
        const BoardWords words = board_words(q_.design.word(F::board));
        if (!kind) {
            if (board_asked_)
                refuse(Unsafe::board_not_known);
        } else if (*kind == BoardKind::none)
            refuse(Unsafe::no_board);
        else if (*kind == BoardKind::thermal_switch)
            refuse(Unsafe::thermal_switch_alone);
        else if (*kind == BoardKind::left_in_pack)
            say(Unsafe::balance_charger);
        if (kind == BoardKind::none || kind == BoardKind::thermal_switch)
            return;
        const int cells = q_.series * q_.cells_per_unit;
        if (words.series && *words.series != cells)
            refuse(Unsafe::board_other_series, *words.series, cells);
        if (const auto load = q_.design.number(F::continuous_a);
            load && words.continuous_a && *words.continuous_a < *load)
            refuse(Unsafe::board_too_small, *words.continuous_a, *load);
    }

    void hold_charger() {
        auto device = q_.design.device();
        // A charger is held against the cells also where nobody knows what the device is made for.
        if (const auto charger = q_.design.number(F::charger_v); !device && charger) {
            device.emplace();
            device->nominal_v = q_.chemistry.nominal_v() * q_.series * q_.cells_per_unit;
            device->charger_v = charger;
            device->charger_kind = charger_kind_from(q_.design.word(F::charger_kind));
        }
        if (!device)
            return;
        // The old one goes where another takes its place: one of the kind that the chemistry is charged with.
        if (const auto another = q_.design.number(F::new_charger_v)) {
            device->charger_v = another;
            device->charger_kind = q_.chemistry.charge_limit_v ? ChargerKind::cc_cv : ChargerKind::minus_dv;
        }
        for (const Clash& clash : hold_against(q_.chemistry, q_.series * q_.cells_per_unit, *device).clashes) {
            if (clash.clash == ConversionClash::charger_over_limit)
                refuse(Unsafe::charger_over_limit, clash.value, clash.limit);
            if (clash.clash == ConversionClash::charge_method)
                refuse(Unsafe::charge_method);
            if (clash.clash == ConversionClash::over_device)
                refuse(Unsafe::over_device, clash.value, clash.limit);
        }
    }

    void hold_currents() {
        const auto load = q_.design.number(F::continuous_a);
        const auto fuse = q_.design.number(F::fuse_a);
        const auto wire = q_.design.number(F::wire_mm2);
        if (load && q_.continuous_rating_a > 0 && *load / q_.parallel > q_.continuous_rating_a)
            refuse(Unsafe::unit_over_current, *load / q_.parallel, q_.continuous_rating_a);
        const auto peak = q_.design.number(F::peak_a);
        if (peak && q_.peak_rating_a > 0 && *peak / q_.parallel > q_.peak_rating_a)
            refuse(Unsafe::unit_over_peak, *peak / q_.parallel, q_.peak_rating_a);
        if (load && fuse && *fuse < *load)
            refuse(Unsafe::fuse_under_load, *fuse, *load);
        if (!wire)
            return;
        constexpr double m2_per_mm2 = 1e-6;
        const double bears = *wire * m2_per_mm2 * q_.lead_a_per_m2;
        if (load && *load > bears)
            refuse(Unsafe::lead_too_thin, bears, *load);
        // A fuse opens at 1.5 times its figure in minutes; the lead must bear that. IEC 60269 gives up to 1.6; from
        // memory.
        constexpr double opens_at = 1.5;
        if (fuse && *fuse > bears * opens_at)
            refuse(Unsafe::fuse_over_lead, *fuse, bears);
    }

    void hold_joining() {
        const auto joining = joining_kind_from(q_.design.word(F::joining));
        if (joining == JoiningKind::solder_cells && q_.chemistry.lithium)
            refuse(Unsafe::solder_on_lithium);
        const bool welded = !joining || *joining == JoiningKind::weld;
        const auto strip = q_.design.number(F::strip_thickness_m);
        const auto welder = q_.design.number(F::welder_thickest_m);
        constexpr double hair_m = 1e-9;
        if (welded && strip && welder && *strip > *welder + hair_m)
            refuse(Unsafe::strip_over_welder, *strip, *welder);
        const auto spring = q_.design.number(F::spring_a);
        const auto load = q_.design.number(F::continuous_a);
        if (joining == JoiningKind::holder && spring && load && *load > *spring * q_.parallel)
            refuse(Unsafe::spring_over_current, *load / q_.parallel, *spring);
        if (joining == JoiningKind::weld && strip && !q_.design.knows(F::trial_weld))
            say(Unsafe::no_trial_weld);
        const auto before = q_.design.number(F::bar_before_ohm);
        const auto now = q_.design.number(F::bar_ohm);
        if (before && now && *now >= *before)
            say(Unsafe::bars_no_better, *now, *before);
        const bool like_others = std::any_of(holder_sizes.begin(), holder_sizes.end(), [&](const Size& size) {
            return std::fabs(q_.diameter_m - size.diameter) <= size_room_m &&
                   std::fabs(q_.height_m - size.height) <= size_room_m;
        });
        constexpr double other_cells_v = 1.6;
        if (joining == JoiningKind::holder && like_others && q_.chemistry.nominal_v() > other_cells_v)
            say(Unsafe::holder_of_other_cells, q_.chemistry.charging_v(), other_cells_v);
    }

    // A link melts at two to three times what a unit gives at the most, and under what the others of its group push
    // into it when it is shorted (common practice, no source).
    void hold_links() {
        const auto link = q_.design.number(F::cell_link_m);
        if (!link || q_.parallel < 2)
            return;
        const double melts = copper_melts_at_a(*link);
        const auto peak = q_.design.number(F::peak_a);
        const auto load = q_.design.number(F::continuous_a);
        constexpr double over_largest = 2;
        if (const auto most = peak ? peak : load; most && melts < over_largest * *most / q_.parallel)
            refuse(Unsafe::link_opens_at_work, melts, *most / q_.parallel);
        if (q_.unit_resistance_ohm > 0) {
            const double pushed =
                (q_.parallel - 1) * q_.chemistry.nominal_v() * q_.cells_per_unit / q_.unit_resistance_ohm;
            if (melts > pushed)
                say(Unsafe::link_never_opens, melts, pushed);
        }
        say(Unsafe::links_shake);
    }

    const SafetyQuestion& q_;
    bool board_asked_;
    std::vector<UnsafeFinding> out_;
};

} // namespace

const char* code(BoardKind kind) {
    return board_kinds.at(static_cast<std::size_t>(kind));
}
std::optional<BoardKind> board_kind_from(const std::string& code) {
    return kind_from<BoardKind>(board_kinds, code);
}
const char* code(JoiningKind kind) {
    return joining_kinds.at(static_cast<std::size_t>(kind));
}
std::optional<JoiningKind> joining_kind_from(const std::string& code) {
    return kind_from<JoiningKind>(joining_kinds, code);
}
const char* code(Unsafe unsafe) {
    return unsafe_codes.at(static_cast<std::size_t>(unsafe));
}

BoardWords board_words(const std::string& text) {
    BoardWords out;
    const auto is_digit = [](char c) { return c >= '0' && c <= '9'; };
    for (std::size_t at = 0; at < text.size(); ++at) {
        if (!is_digit(text[at]) || (at > 0 && (is_digit(text[at - 1]) || text[at - 1] == '.' || text[at - 1] == ',')))
            continue;
        std::size_t end = at;
        std::string figure;
        while (end < text.size() && (is_digit(text[end]) || text[end] == '.' || text[end] == ','))
            figure += text[end] == ',' ? '.' : text[end], ++end;
        std::size_t unit = end;
        while (unit < text.size() && text[unit] == ' ')
            ++unit;
        if (unit >= text.size())
            continue;
        const char letter = static_cast<char>(std::toupper(static_cast<unsigned char>(text[unit])));
        const bool ends = unit + 1 >= text.size() || std::isalpha(static_cast<unsigned char>(text[unit + 1])) == 0;
        double value = 0;
        const auto [rest, error] = std::from_chars(figure.data(), figure.data() + figure.size(), value);
        if (error != std::errc() || !ends)
            continue;
        if (letter == 'S' && !out.series && value == std::floor(value))
            out.series = static_cast<int>(value);
        if (letter == 'A' && !out.continuous_a)
            out.continuous_a = value;
    }
    return out;
}

std::vector<UnsafeFinding> hold_safe(const SafetyQuestion& question, bool board_asked) {
    return Safety(question, board_asked).hold();
}

} // namespace ingot
