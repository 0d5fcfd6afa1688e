#include "workshop/receive.h"

#include "workshop/triage.h"

#include <algorithm>

namespace ingot {

Result<Id> ReceiveService::add_lot(const Lot& lot) {
    if (lot.label.empty())
        return Problem{"", 0, said("A lot needs a label, such as MOW-08.")};
    const auto& lots = inventory_.lots();
    if (std::any_of(lots.begin(), lots.end(), [&](const Lot& l) { return l.label == lot.label; }))
        return Problem{"", 0, said("Lot {} exists already. Choose another label.", lot.label)};
    ChangeSet changes;
    changes.lots = true;
    return session_.commit([&] { return session_.catalogue.add(lot); }, changes);
}

Result<Id> ReceiveService::add_pack(Assembly pack) {
    if (pack.label.empty())
        return Problem{"", 0, said("A pack needs a label.")};
    const auto& packs = inventory_.packs();
    if (std::any_of(packs.begin(), packs.end(), [&](const Assembly& p) { return p.label == pack.label; }))
        return Problem{"", 0, said("Pack {} exists already. Choose another label.", pack.label)};
    const auto& lots = inventory_.lots();
    if (std::none_of(lots.begin(), lots.end(), [&](const Lot& l) { return l.id == pack.lot; }))
        return Problem{"", 0, said("A pack belongs to a lot. Make the lot first.")};
    if (inventory_.library().chemistry(pack.chemistry) == nullptr)
        return Problem{"", 0, said("chemistry \"{}\" is not in the library.", pack.chemistry)};
    if (!pack.format.empty() && inventory_.library().format(pack.format) == nullptr)
        return Problem{"", 0, said("Format \"{}\" is not in the library.", pack.format)};
    pack.created_at = session_.now();
    ChangeSet changes;
    return session_.commit(
        [&] {
            const Id id = session_.assemblies.add(pack);
            for (int g = 1; g <= pack.layout.series; ++g) {
                Placement content;
                content.assembly = content.content_assembly = id;
                content.group = content.content_group = g;
                content.since = pack.created_at;
                content.why = "received";
                if (pack.state == AssemblyState::opened) { // as another shop's file tells it
                    content.until = pack.created_at;
                    content.ended_why = "opened";
                }
                session_.assemblies.add(content);
            }
            session_.record_event("pack received", pack.label);
            changes.assemblies.insert(id);
            return id;
        },
        changes);
}

std::vector<ClaimFinding> ReceiveService::objections(const Assembly& pack) const {
    const Chemistry* chemistry = inventory_.chemistry_of(pack);
    if (chemistry == nullptr)
        return {};
    return check_claim(pack.claim, pack.layout, *chemistry,
                       pack.format.empty() ? nullptr : inventory_.library().format(pack.format));
}

bool ReceiveService::needs_gate(const Assembly& pack) const {
    const Chemistry* chemistry = inventory_.chemistry_of(pack);
    if (chemistry == nullptr)
        return false;
    return full_voltage(pack.layout, *chemistry) > touch_limit_v || pack.claim.voltage_v.value_or(0) > touch_limit_v;
}

Result<bool> ReceiveService::pass_gate(Id id) {
    const Assembly* p = inventory_.pack(id);
    if (p == nullptr)
        return no_such_pack();
    const std::string label = p->label;
    return session_.step(
        [&] {
            session_.assemblies.pass_gate(id, session_.now());
            session_.record_event("gate passed", label);
        },
        ChangeSet::assembly(id));
}

std::optional<Problem> ReceiveService::held(const Assembly& pack) const {
    if (gate_closed(pack))
        return Problem{"", 0, said("{} can hold more than 60 V. Pass its gate at Receive first.", pack.label)};
    if (inventory_.pack_quarantined(pack.id))
        return Problem{"", 0,
                       said("{} is in quarantine. Close the quarantine first, with what was found.", pack.label)};
    return std::nullopt;
}

Result<bool> ReceiveService::note_finding(Id pack, Id unit, const std::string& code) {
    const exchange::LookFinding* finding = inventory_.library().finding(code);
    if (finding == nullptr)
        return Problem{"", 0, said("inspection finding \"{}\" is not in the library.", code)};
    const auto& findings = inventory_.findings();
    if (std::any_of(findings.begin(), findings.end(),
                    [&](const Finding& f) { return f.assembly == pack && f.unit == unit && f.code == code; }))
        return true;
    return session_.step(
        [&] {
            session_.remarks.add(Finding{0, pack, unit, code, session_.now()});
            if (finding->consequence >= Consequence::quarantine)
                session_.remarks.add(Quarantine{0, pack, unit, code, session_.now(), "", ""});
        },
        ChangeSet::remark(pack, unit));
}

Result<bool> ReceiveService::strike_finding(Id pack, Id unit, const std::string& code, const std::string& reason) {
    for (const Finding& f : inventory_.findings())
        if (f.assembly == pack && f.unit == unit && f.code == code) {
            const Id id = f.id;
            return session_.step([&] { session_.remarks.strike_finding(id, reason, session_.now()); },
                                 ChangeSet::remark(pack, unit));
        }
    return true;
}

std::vector<std::string> ReceiveService::findings_of_pack(Id pack) const {
    std::vector<std::string> codes;
    for (const Finding& finding : inventory_.findings())
        if (finding.assembly == pack)
            codes.push_back(finding.code);
    return codes;
}

Result<bool> ReceiveService::open_quarantine(Id unit_id, const std::string& reason) {
    const UnitState* u = inventory_.unit(unit_id);
    if (u == nullptr)
        return no_such_unit();
    if (u->quarantined)
        return true;
    const std::string code = u->code();
    return session_.step(
        [&] {
            session_.remarks.add(Quarantine{0, 0, unit_id, reason, session_.now(), "", ""});
            session_.record_event("quarantine opened", code, reason);
        },
        ChangeSet::remark(0, unit_id));
}

Result<bool> ReceiveService::open_pack_quarantine(Id id, const std::string& reason) {
    const Assembly* pack = inventory_.assembly(id);
    if (pack == nullptr)
        return no_such_pack();
    if (inventory_.pack_quarantined(id))
        return true;
    const std::string label = pack->label;
    return session_.step(
        [&] {
            session_.remarks.add(Quarantine{0, id, 0, reason, session_.now(), "", ""});
            session_.record_event("quarantine opened", label, reason);
        },
        ChangeSet::remark(id, 0));
}

Result<bool> ReceiveService::close_quarantine(Id quarantine, const std::string& reason) {
    if (reason.empty())
        return Problem{"", 0, said("Say why the quarantine can be closed: what was found, what was done.")};
    for (const Quarantine& held : inventory_.quarantines())
        if (held.id == quarantine) {
            const ChangeSet changes = ChangeSet::remark(held.assembly, held.unit);
            return session_.step([&] { session_.remarks.close_quarantine(quarantine, reason, session_.now()); },
                                 changes);
        }
    return Problem{"", 0, said("There is no such quarantine.")};
}

std::vector<Quarantine> ReceiveService::open_quarantines() const {
    std::vector<Quarantine> open;
    for (const Quarantine& quarantine : inventory_.quarantines())
        if (quarantine.closed_at.empty())
            open.push_back(quarantine);
    return open;
}

std::string ReceiveService::subject_of(const Quarantine& quarantine) const {
    if (const Assembly* p = inventory_.assembly(quarantine.assembly))
        return p->label;
    if (const UnitState* u = inventory_.unit(quarantine.unit))
        return u->code();
    return {};
}

Result<bool> ReceiveService::set_state(Id id, AssemblyState state, const std::string& reason) {
    const Assembly* p = inventory_.pack(id);
    if (p == nullptr)
        return no_such_pack();
    if (!may_follow(p->state, state))
        return Problem{"", 0, said("{} cannot go from {} to {}.", p->label, code(p->state), code(state))};
    if (state == AssemblyState::refused && reason.empty())
        return Problem{"", 0, said("Say why {} is refused; it stays on record.", p->label)};
    if (state != AssemblyState::refused)
        if (auto problem = held(*p))
            return *problem;
    const std::string label = p->label;
    return session_.step(
        [&] {
            session_.assemblies.set_state(id, state);
            session_.record_event(std::string("pack to ") + code(state), label, reason);
        },
        ChangeSet::assembly(id));
}

std::vector<Id> ReceiveService::waiting_like(Id id) const {
    std::vector<Id> out;
    const Assembly* like = inventory_.pack(id);
    if (like == nullptr)
        return out;
    for (const Assembly& pack : inventory_.packs())
        if (pack.lot == like->lot && pack.chemistry == like->chemistry && pack.layout == like->layout &&
            (pack.state == AssemblyState::received || pack.state == AssemblyState::in_triage) && !held(pack))
            out.push_back(pack.id);
    return out;
}

Result<bool> ReceiveService::set_states(const std::vector<std::pair<Id, AssemblyState>>& states) {
    ChangeSet changes;
    for (const auto& [id, state] : states) {
        const Assembly* p = inventory_.pack(id);
        if (p == nullptr)
            return no_such_pack();
        if (!may_follow(p->state, state))
            return Problem{"", 0, said("{} cannot go from {} to {}.", p->label, code(p->state), code(state))};
        if (auto problem = held(*p))
            return *problem;
        changes.add(ChangeSet::assembly(id));
    }
    return session_.step(
        [&] {
            for (const auto& [id, state] : states) {
                session_.assemblies.set_state(id, state);
                session_.record_event(std::string("pack to ") + code(state), inventory_.pack(id)->label, "");
            }
        },
        changes);
}

} // namespace ingot
