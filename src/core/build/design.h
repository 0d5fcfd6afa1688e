// What a build is designed with: what its device asks of it, the room it has, what it is joined with. Every figure may
// be unknown; nothing is filled in.
#pragma once

#include "core/build/conversion.h"
#include "core/cells/problem.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

enum class DesignFigure {
    // The device and its old charger. V over the whole pack, A, W, s.
    off_v,
    nominal_v,
    bears_v,
    continuous_a,
    peak_a,
    load_w,
    run_s,
    charger_v,
    charger_kind,  // a ChargerKind's code
    old_chemistry, // of the pack that was in it; id in the library
    old_series,    // cells
    // The room for the cells, m.
    case_width_m,
    case_height_m,
    // How the cells stand and what joins them, m.
    pitch_m,
    arrangement, // an Arrangement's code; unknown: the best proposal
    strip_width_m,
    strip_thickness_m,
    strip_material, // id in the library
    link_layers,
    end_layers, // of bars at both ends of the pack and of its leads
    welder_thickest_m,
    // In words.
    board,
    moves_over, // sensors, coils, plugs that go from the old pack to the new one
    purpose,    // what it is for: mower pack
    // Where it is to stand: new groups for a pack that came in.
    refill_pack,   // its label
    refill_groups, // its empty places, in the order of the build's groups: "3,7"
    // Its charger and board, A.
    charger_a,
    balance_a,    // the board bleeds a group with so much
    standby_a,    // board and device draw so much while it stands on the shelf
    load_profile, // CSV, as docs/formats/simulate.md has a load: takes the place of a steady one
    // What keeps it safe (build_safety.h).
    new_charger_v, // end of the one that takes the old one's place, V over the whole pack
    board_kind,    // a BoardKind's code
    fuse_a,
    wire_mm2, // section of its leads
    joining,  // a JoiningKind's code
    // What the joints were made with, and how they came out.
    cell_link_m,    // diameter of a copper wire that joins each unit of a group and melts where one is shorted
    trial_weld,     // settings and what the pull showed, in words
    bar_ohm,        // a bar with both its joints, the worst of all, as they are now
    bar_before_ohm, // before they were cleaned or replaced
    bar_torque_nm,
    by_hand,      // what a person moved in the layout (layout_moves.h)
    room_deep_m,  // along a cell, for it with its strips
    raised_top_m, // of a cell with a button, or what else stands up from its plus end
    sleeve_m,     // thickness of what is shrunk over each cell
    spring_ohm,   // of one spring of a holder
    spring_a,     // the most that spring carries
    // What it asks of the stock while it has no units.
    wanted_ah,    // usable capacity; more counts nothing
    least_duty,   // units fit for it, or better: drive, store, light
    wanted_model, // id; unknown: any
    priority,     // 1 first
};
inline constexpr int design_figure_count = 50;
[[nodiscard]] const char* code(DesignFigure figure);
[[nodiscard]] std::optional<DesignFigure> design_figure_from(const std::string& code);
// What it asks of the stock while it has no units; of no interest once it is built.
[[nodiscard]] inline bool asks_stock(DesignFigure figure) {
    return figure >= DesignFigure::wanted_ah;
}

class BuildDesign {
public:
    // Objects to what is no number or out of any sense, naming the range. Empty: no longer known.
    Result<bool> set(DesignFigure figure, const std::string& value);
    [[nodiscard]] std::optional<double> number(DesignFigure figure) const;
    [[nodiscard]] std::string word(DesignFigure figure) const; // empty: unknown
    [[nodiscard]] bool knows(DesignFigure figure) const { return values_.contains(figure); }
    [[nodiscard]] bool refills() const { return !refill_groups().empty(); }
    // Of a refill: the places of the pack, in the order of the build's groups; empty: it is no refill.
    [[nodiscard]] std::vector<int> refill_groups() const;
    // Nothing as long as the nominal voltage is unknown.
    [[nodiscard]] std::optional<DeviceWindow> device() const;

private:
    std::map<DesignFigure, std::string> values_;
};

} // namespace ingot
