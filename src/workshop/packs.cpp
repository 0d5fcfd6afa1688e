// Receive and Open.
#include "workshop/workshop.h"

#include "workshop/wording.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>

namespace ingot {

Result<Id> Workshop::add_lot(const store::LotRecord& lot) {
    if (lot.label.empty())
        return Problem{"", 0, "A lot needs a label, such as MOW-08."};
    if (std::any_of(lots_.begin(), lots_.end(), [&](const auto& l) { return l.label == lot.label; }))
        return Problem{"", 0, "Lot " + lot.label + " exists already. Choose another label."};
    return guarded([&] { return records_.add(lot); }, touched_packs);
}

Result<Id> Workshop::add_pack(store::PackRecord pack) {
    if (pack.label.empty())
        return Problem{"", 0, "A pack needs a label."};
    if (std::any_of(packs_.begin(), packs_.end(), [&](const auto& p) { return p.label == pack.label; }))
        return Problem{"", 0, "Pack " + pack.label + " exists already. Choose another label."};
    if (library_.chemistry(pack.chemistry) == nullptr)
        return Problem{"", 0, "Chemistry \"" + pack.chemistry + "\" is not in the library."};
    if (!pack.format.empty() && library_.format(pack.format) == nullptr)
        return Problem{"", 0, "Format \"" + pack.format + "\" is not in the library."};
    if (pack.stage.empty())
        pack.stage = "receive";
    pack.created_at = now();
    return guarded(
        [&] {
            const Id id = records_.add(pack);
            records_.add(store::EventRecord{pack.created_at, "pack received", pack.label, ""});
            return id;
        },
        touched_packs);
}

std::vector<ClaimFinding> Workshop::objections(const store::PackRecord& pack) const {
    const Chemistry* chemistry = library_.chemistry(pack.chemistry);
    if (chemistry == nullptr)
        return {};
    return check_claim(pack.claim, pack.layout, *chemistry,
                       pack.format.empty() ? nullptr : library_.format(pack.format));
}

bool Workshop::needs_gate(const store::PackRecord& pack) const {
    const Chemistry* chemistry = library_.chemistry(pack.chemistry);
    if (chemistry == nullptr)
        return false;
    return full_voltage(pack.layout, *chemistry) > touch_limit_v || pack.claim.voltage_v.value_or(0) > touch_limit_v;
}

Result<bool> Workshop::pass_gate(Id id) {
    if (pack(id) == nullptr)
        return Problem{"", 0, "There is no such pack."};
    return guarded_step(
        [&] {
            records_.pass_gate(id, now());
            records_.add(store::EventRecord{now(), "gate passed", pack(id)->label, ""});
        },
        touched_packs);
}

Result<bool> Workshop::note_finding(Id pack_id, Id unit_id, const std::string& code) {
    const exchange::LookFinding* finding = library_.finding(code);
    if (finding == nullptr)
        return Problem{"", 0, "Look finding \"" + code + "\" is not in the library."};
    const bool noted = std::any_of(findings_.begin(), findings_.end(), [&](const auto& f) {
        return f.pack_id == pack_id && f.unit_id == unit_id && f.code == code;
    });
    if (noted)
        return true;
    return guarded_step(
        [&] {
            records_.add_finding(pack_id, unit_id, code, now());
            if (finding->consequence >= Consequence::quarantine)
                records_.open_quarantine(pack_id, unit_id, code, now());
        },
        touched_unit(unit_id));
}

Result<bool> Workshop::strike_finding(Id pack_id, Id unit_id, const std::string& code, const std::string& reason) {
    const auto found = std::find_if(findings_.begin(), findings_.end(), [&](const auto& f) {
        return f.pack_id == pack_id && f.unit_id == unit_id && f.code == code;
    });
    if (found == findings_.end())
        return true;
    const Id id = found->id;
    return guarded_step([&] { records_.strike_finding(id, reason, now()); }, touched_unit(unit_id));
}

std::vector<std::string> Workshop::findings_of_pack(Id pack) const {
    std::vector<std::string> codes;
    for (const auto& finding : findings_)
        if (finding.pack_id == pack)
            codes.push_back(finding.code);
    return codes;
}

Result<bool> Workshop::close_quarantine(Id quarantine, const std::string& reason) {
    if (reason.empty())
        return Problem{"", 0, "Say why the quarantine can be closed: what was found, what was done."};
    const auto held =
        std::find_if(quarantines_.begin(), quarantines_.end(), [&](const auto& q) { return q.id == quarantine; });
    return guarded_step([&] { records_.close_quarantine(quarantine, reason, now()); },
                        touched_unit(held == quarantines_.end() ? 0 : held->unit_id));
}

bool Workshop::pack_quarantined(Id pack) const {
    return std::any_of(quarantines_.begin(), quarantines_.end(),
                       [&](const auto& q) { return q.pack_id == pack && q.closed_at.empty(); });
}

Result<bool> Workshop::set_stage(Id id, const std::string& stage) {
    const store::PackRecord* p = pack(id);
    if (p == nullptr)
        return Problem{"", 0, "There is no such pack."};
    if (stage != "refused") {
        if (gate_closed(*p))
            return Problem{"", 0, p->label + " can hold more than 60 V. Pass its gate at Receive first."};
        if (pack_quarantined(id))
            return Problem{"", 0, p->label + " is in quarantine. Close the quarantine first, with what was found."};
    }
    const std::string label = p->label;
    return guarded_step(
        [&] {
            records_.set_stage(id, stage);
            records_.add(store::EventRecord{now(), "pack to " + stage, label, ""});
        },
        touched_packs);
}

Result<std::vector<Id>> Workshop::open_pack(Id id, const std::string& roll, const std::string& model,
                                            const std::string& tray) {
    const store::PackRecord* found = pack(id);
    if (found == nullptr)
        return Problem{"", 0, "There is no such pack."};
    const store::PackRecord p = *found;
    if (p.stage != "open")
        return Problem{"", 0, p.label + " is not at Open. Send it there from Triage."};
    if (gate_closed(p) || pack_quarantined(id))
        return Problem{"", 0, p.label + " is held: pass its gate or close its quarantine first."};
    if (!parse_unit_code(UnitCode{roll, 1}.text()))
        return Problem{"", 0,
                       "\"" + roll + "\" is not a label roll. A roll is a letter and one more character, such as K4."};
    if (model.empty())
        return Problem{"", 0, "Choose the model printed on the units, or type one."};
    const UnitModel* known = library_.model(model);
    if (known != nullptr && known->chemistry != p.chemistry)
        return Problem{"", 0,
                       fmt::format("{} is {}, but {} is {}. Choose a model of the pack's chemistry.", known->name,
                                   known->chemistry, p.label, p.chemistry)};
    constexpr int most_numbers = 9999;
    const int first = next_number(roll);
    if (first + p.layout.units() - 1 > most_numbers)
        return Problem{
            "", 0, fmt::format("Roll {} has only {} numbers left. Start a new roll.", roll, most_numbers - first + 1)};
    std::set<int> wells_taken;
    for (const UnitState& unit : units_)
        if (unit.record.tray == tray && unit.record.state != "recycled")
            wells_taken.insert(unit.record.well);
    std::vector<Id> made;
    const auto done = guarded([&] {
        int number = first;
        int well = 0;
        const auto pack_findings = findings_of_pack(id);
        for (int g = 1; g <= p.layout.series; ++g) {
            for (int place = 1; place <= p.layout.parallel; ++place) {
                if (!tray.empty())
                    do {
                        ++well;
                    } while (wells_taken.contains(well));
                store::UnitRecord unit;
                unit.code = {roll, number++};
                unit.pack_id = id;
                unit.group = g;
                unit.place = place;
                unit.model = model;
                unit.tray = tray;
                unit.well = well;
                made.push_back(records_.add(unit, now()));
            }
        }
        records_.set_stage(id, "opened");
        records_.add(store::EventRecord{now(), "pack opened", p.label, fmt::format("{} units", made.size())});
        return id;
    });
    if (!done)
        return done.problem();
    return made;
}

Result<bool> Workshop::set_home(Id id, const std::string& tray, int well) {
    for (const UnitState& other : units_)
        if (other.record.id != id && !tray.empty() && well > 0 && other.record.tray == tray &&
            other.record.well == well)
            return Problem{"", 0, fmt::format("Tray {} well {} holds {} already.", tray, well, other.code())};
    return guarded_step([&] { records_.set_unit_home(id, tray, well); }, touched_unit(id));
}

} // namespace ingot
