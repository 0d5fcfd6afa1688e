// What must not be built: designs that hurt somebody, with the figure that says so. What is not known is not held
// against a design, but for the protection board of a lithium pack, which has to be known before the last joints.
#pragma once

#include "core/build/design.h"
#include "core/cells/chemistry.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

// What stops over-charge and over-discharge.
enum class BoardKind {
    board,          // one of its own
    left_in_pack,   // the old pack's, left in it; a charger that reads the balance leads does the balancing
    thermal_switch, // opens when hot: stops neither
    none,
};
inline constexpr int board_kind_count = 4;
[[nodiscard]] const char* code(BoardKind kind);
[[nodiscard]] std::optional<BoardKind> board_kind_from(const std::string& code);

// How units are joined.
enum class JoiningKind {
    weld,         // strip welded to the units
    solder_tabs,  // soldered where no heat reaches the unit: tabs, leads, strip
    solder_cells, // soldered on the units themselves
    holder,       // springs
    bolts,        // bars on modules
};
inline constexpr int joining_kind_count = 5;
[[nodiscard]] const char* code(JoiningKind kind);
[[nodiscard]] std::optional<JoiningKind> joining_kind_from(const std::string& code);

// What is written of a board: "7S 20 A". Parts that are not in it stay unknown.
struct BoardWords {
    std::optional<int> series;
    std::optional<double> continuous_a;
};
[[nodiscard]] BoardWords board_words(const std::string& text);

enum class Unsafe {
    board_not_known,      // lithium, and nobody said which board
    no_board,             // lithium without one
    thermal_switch_alone, // is no board
    board_other_series,   // watches another number of cells
    board_too_small,      // A
    charger_over_limit,   // V a cell
    charge_method,        // a way of charging that the chemistry must not see; another charger has to be named
    over_device,          // V: a full pack is above what the device bears
    unit_over_current,    // A a unit
    unit_over_peak,       // A a unit, for seconds
    fuse_under_load,      // A: it opens at work, and somebody bridges it
    fuse_over_lead,       // A: the lead burns first
    lead_too_thin,        // A
    solder_on_lithium,
    link_opens_at_work,  // A: a cell link melts under what a unit gives at the most, or nearly
    strip_over_welder,   // m: it does not weld through; a joint that looks joined and is not
    spring_over_current, // A: more than a spring of its holder carries
    mixed_chemistries,
    // Said, not refused.
    balance_charger,       // its old board stays: with the cautions of that school (N43)
    holder_of_other_cells, // a lithium cell in a holder that takes 1.5 V cells, too (N44)
    over_60_v,
    link_never_opens, // A: what the others push into a shorted unit does not melt it
    links_shake,      // they break where the pack is carried and shaken
    no_trial_weld,    // strip is welded, and no trial is on record (N41)
    bars_no_better,   // ohm: cleaned or replaced, and no better than before
};
[[nodiscard]] const char* code(Unsafe unsafe);

struct UnsafeFinding {
    Unsafe what{};
    std::optional<double> value, limit; // as it names; of a size what is asked against what is borne
    bool refuses = true;
};

struct SafetyQuestion {
    Chemistry chemistry;
    int series = 1, parallel = 1, cells_per_unit = 1;
    BuildDesign design;
    double continuous_rating_a = 0;      // of one unit; 0: not known
    double peak_rating_a = 0;            // the same for seconds
    double unit_resistance_ohm = 0;      // the highest of them; 0: not known
    std::size_t chemistries = 1;         // among its units
    double diameter_m = 0, height_m = 0; // of a unit; 0: not known
    double lead_a_per_m2 = 8e6;          // of a short copper lead; common practice, no source
};

// What refuses first. `board_asked`: whether an unknown board is held against it by now.
[[nodiscard]] std::vector<UnsafeFinding> hold_safe(const SafetyQuestion& question, bool board_asked);

} // namespace ingot
