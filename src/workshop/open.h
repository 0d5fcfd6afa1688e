// Open: a pack is taken apart, wholly or in part; its units get codes and homes; what is dead goes to recycling.
#pragma once

#include "core/cells/strip_drawing.h"
#include "workshop/service.h"

namespace ingot {

class ReceiveService;

// How much of what was opened is fit for use.
enum class YieldBy { lot, source, model };
struct Yield {
    std::string of;
    int units = 0, usable = 0, scrap = 0, undecided = 0; // usable: Drive, Store or Light
};

// What goes to recycling: by chemistry, the damaged apart.
struct ManifestLine {
    std::string chemistry; // as shown
    bool damaged = false;  // a finding that asks for quarantine stands on it
    int units = 0;
    double mass_kg = 0;
    int without_mass = 0; // units whose model has no mass in the library
};

class OpenService : public Service {
public:
    OpenService(Session& session, Inventory& inventory, const ReceiveService& receive)
        : Service(session, inventory), receive_(receive) {}

    // Makes the units of a pack's groups: codes on `roll` from the next free number, homes from the first free wells of
    // `tray`. `groups` empty: all that still stand in it. The rest stays a pack under repair (N27). `together`: each
    // group stays joined and is one unit, such as a welded pair (N28); its place is 0, the whole group.
    Result<std::vector<Id>> open_pack(Id pack, const std::string& roll, const std::string& model,
                                      const std::string& tray, const std::vector<int>& groups = {},
                                      bool together = false);
    // A unit whose code, model and home are known already, as from another shop's file. `pack` 0: loose.
    Result<Id> add_unit(const Unit& unit);
    [[nodiscard]] int next_number(const std::string& roll) const { return session_.units.largest_number(roll) + 1; }

    Result<bool> set_home(Id unit, const std::string& tray, int well);
    // Into the first free well of a tray; the well.
    Result<int> put_in_tray(Id unit, const std::string& tray);
    [[nodiscard]] Tray tray(const std::string& name) const; // 10 by 10 where nobody said otherwise
    [[nodiscard]] std::vector<std::string> tray_names() const;
    Result<bool> set_tray_size(const std::string& name, int columns, int rows);
    Result<bool> set_unit_model(Id unit, const std::string& model);
    // Straight to recycling, with the findings that stand on it; and back.
    Result<bool> recycle_unit(Id unit);
    Result<bool> take_out_of_recycling(Id unit, const std::string& reason);

    [[nodiscard]] const exchange::TeardownPlan* teardown_plan(const Assembly& pack) const;
    [[nodiscard]] bool step_done(Id pack, const std::string& step) const;
    Result<bool> tick_step(Id pack, const std::string& step, bool done);
    // As it was found; the usual one where nothing is drawn yet.
    [[nodiscard]] StripDrawing strip_drawing(Id pack) const;
    [[nodiscard]] bool strips_drawn(Id pack) const { return inventory_.drawings().contains(pack); }
    Result<bool> keep_strip_drawing(Id pack, const StripDrawing& drawing);
    [[nodiscard]] int photo_count(Id pack) const;
    [[nodiscard]] std::vector<Photo> photos(Id pack) const { return session_.remarks.photos_of(pack); }
    [[nodiscard]] std::string photo_data(Id photo) const { return session_.remarks.photo_data(photo); }
    Result<Id> attach_photo(Id pack, const std::string& file, const std::string& bytes);

    [[nodiscard]] std::vector<Yield> yields(YieldBy by) const;
    // What packs like this one gave here so far: of its chemistry, from its lot's source. Nothing where no unit of them
    // is judged yet (N30).
    [[nodiscard]] std::optional<Yield> yield_of_kind(const Assembly& pack) const;
    [[nodiscard]] std::vector<ManifestLine> recycling_manifest() const;
    [[nodiscard]] static std::string manifest_csv(const std::vector<ManifestLine>& manifest);

private:
    const ReceiveService& receive_;
};

} // namespace ingot
