#include "workshop/open.h"

#include "exchange/csv.h"
#include "workshop/receive.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <set>

namespace ingot {

namespace {

constexpr int usual_tray = 10; // wells each way
constexpr int largest_tray = 40;

} // namespace

Result<std::vector<Id>> OpenService::open_pack(Id id, const std::string& roll, const std::string& model,
                                               const std::string& tray, const std::vector<int>& groups, bool together) {
    const Assembly* found = inventory_.pack(id);
    if (found == nullptr)
        return no_such_pack();
    const Assembly p = *found;
    const bool in_part = !groups.empty();
    const bool here = p.state == AssemblyState::to_open ||
                      (in_part && (p.state == AssemblyState::in_triage || p.state == AssemblyState::under_repair));
    if (!here)
        return Problem{"", 0, said("{} is not at Open. Send it there from Triage.", p.label)};
    if (receive_.held(p))
        return Problem{"", 0, said("{} is held: pass its gate or close its quarantine first.", p.label)};
    if (!parse_unit_code(UnitCode{roll, 1}.text()))
        return Problem{
            "", 0, said("\"{}\" is not a label roll. A roll is a letter and one more character, such as K4.", roll)};
    if (model.empty())
        return Problem{"", 0, said("Choose the model printed on the units, or type one.")};
    const UnitModel* known = inventory_.library().model(model);
    if (known != nullptr && known->chemistry != p.chemistry)
        return Problem{"", 0,
                       said("{} is {}, but {} is {}. Choose a model of the pack's chemistry.", known->name,
                            known->chemistry, p.label, p.chemistry)};
    std::vector<Placement> opened; // only what still stands in it (N25)
    bool rest = false;
    for (const Placement& placement : inventory_.placements(id))
        if (placement.stands() && placement.unit == 0) {
            if (!in_part || std::find(groups.begin(), groups.end(), placement.group) != groups.end())
                opened.push_back(placement);
            else
                rest = true;
        }
    if (opened.empty())
        return Problem{"", 0, said("Nothing that could be taken out stands in {}.", p.label)};
    constexpr int most_numbers = 9999;
    const int first = next_number(roll);
    // Groups that were built here hold units with codes: these go back to stock under them.
    std::vector<Placement> coded;
    const auto built_here = [&](const Placement& c) { return inventory_.build(c.content_assembly) != nullptr; };
    std::copy_if(opened.begin(), opened.end(), std::back_inserter(coded), built_here);
    std::erase_if(opened, built_here);
    const int count = static_cast<int>(opened.size()) * (together ? 1 : p.layout.units_per_group());
    if (first + count - 1 > most_numbers)
        return Problem{"", 0,
                       said("Roll {} has only {} numbers left. Start a new roll.", roll, most_numbers - first + 1)};
    std::set<int> wells_taken;
    for (const UnitState& unit : inventory_.units())
        if (unit.record.tray == tray && unit.record.whereabouts != Whereabouts::recycled)
            wells_taken.insert(unit.record.well);
    std::vector<Id> made;
    ChangeSet changes = ChangeSet::assembly(id);
    const auto done = session_.step(
        [&] {
            int number = first;
            int well = 0;
            const std::string at = session_.now();
            for (const Placement& content : opened) {
                session_.assemblies.end(content.id, at, "opened");
                for (int place = together ? 0 : 1; place <= (together ? 0 : p.layout.units_per_group()); ++place) {
                    if (!tray.empty())
                        do {
                            ++well;
                        } while (wells_taken.contains(well));
                    Unit unit;
                    unit.code = {roll, number++};
                    unit.model = model;
                    unit.tray = tray;
                    unit.well = well;
                    const Id unit_id = session_.units.add(unit, at);
                    Placement origin;
                    origin.assembly = id;
                    origin.group = content.group;
                    origin.place = place;
                    origin.unit = unit_id;
                    origin.origin = true;
                    origin.since = content.since;
                    origin.until = at;
                    origin.why = content.why;
                    origin.ended_why = "opened";
                    session_.assemblies.add(origin);
                    made.push_back(unit_id);
                    changes.units.insert(unit_id);
                }
            }
            for (const Placement& content : coded) {
                session_.assemblies.end(content.id, at, "opened");
                changes.assemblies.insert(content.content_assembly);
                for (const Placement& unit : inventory_.placements(content.content_assembly)) {
                    if (!unit.stands() || unit.unit == 0 || unit.group != content.content_group)
                        continue;
                    session_.assemblies.end(unit.id, at, "opened");
                    if (!tray.empty()) {
                        do {
                            ++well;
                        } while (wells_taken.contains(well));
                        session_.units.set_home(unit.unit, tray, well);
                    }
                    made.push_back(unit.unit);
                    changes.units.insert(unit.unit);
                }
            }
            session_.assemblies.set_state(id, rest ? AssemblyState::under_repair : AssemblyState::opened);
            session_.record_event(rest ? "pack opened in part" : "pack opened", p.label,
                                  fmt::format("{} units", made.size()));
        },
        changes);
    if (!done)
        return done.problem();
    return made;
}

Result<Id> OpenService::add_unit(const Unit& unit) {
    if (inventory_.unit_by_code(unit.code) != nullptr)
        return Problem{"", 0, said("unit {} exists already.", unit.code.text())};
    const Assembly* p = inventory_.pack(unit.pack);
    if (unit.pack != 0 && p == nullptr)
        return no_such_pack();
    if (unit.model.empty())
        return Problem{"", 0, said("unit {} has no model. Give what is printed on it.", unit.code.text())};
    const UnitModel* known = inventory_.library().model(unit.model);
    if (known != nullptr && p != nullptr && known->chemistry != p->chemistry)
        return Problem{"", 0, said("{} is {}, but {} is {}.", known->name, known->chemistry, p->label, p->chemistry)};
    ChangeSet changes;
    return session_.commit(
        [&] {
            const Id id = session_.units.add(unit, session_.now());
            if (p != nullptr) {
                Placement origin;
                origin.assembly = unit.pack;
                origin.group = std::max(1, unit.group);
                origin.place = unit.place;
                origin.unit = id;
                origin.origin = true;
                origin.since = p->created_at;
                origin.until = session_.now();
                origin.why = "received";
                origin.ended_why = "opened";
                session_.assemblies.add(origin);
            }
            changes.units.insert(id);
            return id;
        },
        changes);
}

Tray OpenService::tray(const std::string& name) const {
    for (const Tray& known : inventory_.trays())
        if (known.name == name)
            return known;
    return {name, usual_tray, usual_tray};
}

std::vector<std::string> OpenService::tray_names() const {
    std::set<std::string> names;
    for (const Tray& t : inventory_.trays())
        names.insert(t.name);
    for (const UnitState& unit : inventory_.units())
        if (!unit.record.tray.empty() && unit.record.whereabouts != Whereabouts::recycled)
            names.insert(unit.record.tray);
    return {names.begin(), names.end()};
}

Result<bool> OpenService::set_tray_size(const std::string& name, int columns, int rows) {
    if (name.empty() || columns < 1 || rows < 1 || columns > largest_tray || rows > largest_tray)
        return Problem{"", 0, said("A tray has a name and 1 to {} wells each way.", largest_tray)};
    int highest = 0;
    for (const UnitState& unit : inventory_.units())
        if (unit.record.tray == name && unit.record.whereabouts != Whereabouts::recycled)
            highest = std::max(highest, unit.record.well);
    if (highest > columns * rows)
        return Problem{"", 0, said("Well {} of tray {} is taken. Move that unit first.", highest, name)};
    ChangeSet changes;
    changes.trays = true;
    return session_.step([&] { session_.catalogue.set(Tray{name, columns, rows}); }, changes);
}

Result<bool> OpenService::set_home(Id id, const std::string& tray, int well) {
    const UnitState* u = inventory_.unit(id);
    if (u == nullptr)
        return no_such_unit();
    for (const UnitState& other : inventory_.units())
        if (other.record.id != id && !tray.empty() && well > 0 && other.record.tray == tray &&
            other.record.well == well && other.record.whereabouts != Whereabouts::recycled)
            return Problem{"", 0, said("Tray {} well {} holds {} already.", tray, well, other.code())};
    const std::string code = u->code();
    const std::string before = fmt::format("from {} {}", u->record.tray, u->record.well);
    return session_.step(
        [&] {
            session_.units.set_home(id, tray, well);
            session_.record_event(tray.empty() ? std::string("unit has no home")
                                               : "unit to tray " + tray + " well " + std::to_string(well),
                                  code, before);
        },
        ChangeSet::unit(id));
}

Result<int> OpenService::put_in_tray(Id id, const std::string& name) {
    if (inventory_.unit(id) == nullptr)
        return no_such_unit();
    const Tray size = tray(name);
    std::set<int> taken;
    for (const UnitState& other : inventory_.units())
        if (other.record.tray == name && other.record.whereabouts != Whereabouts::recycled && other.record.id != id)
            taken.insert(other.record.well);
    for (int well = 1; well <= size.columns * size.rows; ++well) {
        if (taken.contains(well))
            continue;
        const auto done = set_home(id, name, well);
        if (!done)
            return done.problem();
        return well;
    }
    return Problem{"", 0, said("Tray {} is full. Start another one.", name)};
}

Result<bool> OpenService::set_unit_model(Id id, const std::string& model) {
    const UnitState* u = inventory_.unit(id);
    if (u == nullptr || model.empty())
        return Problem{"", 0, said("Choose a unit and a model.")};
    const UnitModel* known = inventory_.library().model(model);
    if (known != nullptr && known->chemistry != u->facts.chemistry)
        return Problem{"", 0,
                       said("{} is {}, but {} came out of a {} pack. Check what is printed on it.", known->name,
                            known->chemistry, u->code(), u->facts.chemistry)};
    const std::string code = u->code();
    const std::string before = u->record.model;
    return session_.step(
        [&] {
            session_.units.set_model(id, model);
            session_.record_event("unit's model is " + model, code, "was " + before);
        },
        ChangeSet::unit(id));
}

Result<bool> OpenService::recycle_unit(Id id) {
    const UnitState* u = inventory_.unit(id);
    if (u == nullptr)
        return no_such_unit();
    if (u->record.whereabouts == Whereabouts::reserved || u->record.whereabouts == Whereabouts::built)
        return Problem{"", 0, said("{} is reserved for a build. Give the build up first.", u->code())};
    const std::string code = u->code();
    const std::string from = fmt::format("from {} {}", u->record.tray, u->record.well);
    return session_.step(
        [&] {
            session_.units.set_recycled(id, session_.now());
            session_.units.set_home(id, "", 0);
            session_.record_event("unit to recycling", code, from);
        },
        ChangeSet::unit(id));
}

Result<bool> OpenService::take_out_of_recycling(Id id, const std::string& reason) {
    const UnitState* u = inventory_.unit(id);
    if (u == nullptr)
        return no_such_unit();
    if (u->record.whereabouts != Whereabouts::recycled)
        return Problem{"", 0, said("{} did not go to recycling.", u->code())};
    if (reason.empty())
        return Problem{"", 0, said("Say why it comes back; the reason is kept.")};
    const std::string code = u->code();
    return session_.step(
        [&] {
            session_.units.set_recycled(id, "");
            session_.record_event("unit back from recycling", code, reason);
        },
        ChangeSet::unit(id));
}

const exchange::TeardownPlan* OpenService::teardown_plan(const Assembly& pack) const {
    const std::string kind = receive_.needs_gate(pack)        ? "high-voltage"
                             : pack.layout.cells_per_unit > 1 ? "modules"
                                                              : "any";
    const auto& lots = inventory_.lots();
    const auto lot = std::find_if(lots.begin(), lots.end(), [&](const Lot& l) { return l.id == pack.lot; });
    const std::string source = lot == lots.end() ? std::string() : lot->source;
    // What it can do to somebody comes first, then the shop's own plan for that kind.
    for (const std::string& wanted : {kind, std::string("any")})
        for (const bool own : {true, false})
            for (const auto& plan : inventory_.library().teardown)
                if (plan.fits == wanted && plan.kind.empty() != own && (!own || plan.kind == source))
                    return &plan;
    return nullptr;
}

bool OpenService::step_done(Id pack_id, const std::string& step) const {
    const auto& notes = inventory_.notes();
    return std::any_of(notes.begin(), notes.end(), [&](const PackNote& n) {
        return n.assembly == pack_id && n.kind == NoteKind::teardown && n.code == step;
    });
}

Result<bool> OpenService::tick_step(Id pack_id, const std::string& step, bool done) {
    if (inventory_.pack(pack_id) == nullptr)
        return no_such_pack();
    const auto& notes = inventory_.notes();
    const auto known = std::find_if(notes.begin(), notes.end(), [&](const PackNote& n) {
        return n.assembly == pack_id && n.kind == NoteKind::teardown && n.code == step;
    });
    if (done == (known != notes.end()))
        return true;
    const Id ticked = done ? 0 : known->id;
    return session_.step(
        [&] {
            if (done)
                session_.remarks.add(PackNote{0, pack_id, NoteKind::teardown, 0, step, session_.now()});
            else
                session_.remarks.strike_note(ticked, session_.now());
        },
        ChangeSet::remark(pack_id, 0));
}

} // namespace ingot
