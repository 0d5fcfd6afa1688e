// What a person knows of a pack or a unit beside findings and readings, and what was wrongly thought of its inside.
#include "workshop/receive.h"

#include <QString>

#include <algorithm>
#include <fmt/format.h>

namespace ingot {

bool says_none(const std::string& noted) {
    const QString words = QString::fromStdString(noted).trimmed().toLower();
    return words.isEmpty() || words == QStringLiteral("-") || words == QStringLiteral("none") ||
           words == QStringLiteral("no") || words == QStringLiteral("missing") ||
           words.startsWith(QStringLiteral("no "));
}

ReceiveService::Particulars ReceiveService::particulars(Id pack, Id unit) const {
    Particulars out;
    for (const Particular& p : inventory_.particulars())
        if (p.assembly == pack && p.unit == unit)
            out[p.kind] = p.value;
    std::erase_if(out, [](const auto& known) { return known.second.empty(); });
    return out;
}

Result<bool> ReceiveService::note_particulars(Id pack, Id unit, const Particulars& now) {
    if (unit == 0 && inventory_.pack(pack) == nullptr)
        return no_such_pack();
    if (unit != 0 && inventory_.unit(unit) == nullptr)
        return no_such_unit();
    const Particulars before = particulars(pack, unit);
    Particulars differ;
    for (const auto& [kind, value] : now) {
        const auto known = before.find(kind);
        if (value != (known == before.end() ? std::string() : known->second))
            differ[kind] = value;
    }
    if (differ.empty())
        return true;
    return session_.step(
        [&] {
            for (const auto& [kind, value] : differ)
                session_.remarks.add(Particular{0, unit == 0 ? pack : 0, unit, kind, value, session_.now()});
        },
        ChangeSet::remark(pack, unit));
}

Result<bool> ReceiveService::correct_layout(Id id, const PackLayout& layout, const std::string& reason) {
    const Assembly* p = inventory_.pack(id);
    if (p == nullptr)
        return no_such_pack();
    constexpr int most = 200;
    constexpr int most_cells = 24;
    constexpr int most_between = 12;
    if (layout.series < 1 || layout.series > most || layout.parallel < 1 || layout.parallel > most ||
        layout.cells_per_unit < 1 || layout.cells_per_unit > most_cells || layout.units_per_tap < 1 ||
        layout.units_per_tap > most_between)
        return Problem{"", 0,
                       said("A pack has 1 to 200 groups of 1 to 200 units of 1 to 24 cells, 1 to 12 of them in series "
                            "between two taps.")};
    if (layout == p->layout)
        return true;
    if (reason.empty())
        return Problem{"", 0, said("Say how you know; the old layout stays on record.")};
    static constexpr const char* corrected = "layout corrected";
    const auto& placements = inventory_.placements(id);
    const auto moved = std::find_if(placements.begin(), placements.end(), [&](const Placement& placed) {
        return placed.unit != 0 || placed.content_assembly != id || (!placed.stands() && placed.ended_why != corrected);
    });
    if (p->state == AssemblyState::opened || p->state == AssemblyState::under_repair || moved != placements.end())
        return Problem{"", 0, said("{} was opened, or groups of it moved: what stood where is on record.", p->label)};
    for (const Measurement& m : inventory_.measurements(id)) {
        if (m.subject.group > layout.series)
            return Problem{"", 0,
                           said("Group {} of {} was read. Strike that reading out first, or keep {} groups.",
                                m.subject.group, p->label, m.subject.group)};
        if (m.subject.place > layout.units_per_group())
            return Problem{"", 0,
                           said("Unit {} in group {} of {} was read. Strike that reading out first.", m.subject.place,
                                m.subject.group, p->label)};
    }
    const std::string label = p->label;
    const PackLayout before = p->layout;
    return session_.step(
        [&] {
            session_.assemblies.set_layout(id, layout);
            for (const Placement& placed : placements)
                if (placed.stands() && placed.group > layout.series)
                    session_.assemblies.end(placed.id, session_.now(), corrected);
            for (int g = before.series + 1; g <= layout.series; ++g) {
                Placement content;
                content.assembly = content.content_assembly = id;
                content.group = content.content_group = g;
                content.since = session_.now();
                content.why = corrected;
                session_.assemblies.add(content);
            }
            session_.record_event(corrected, label,
                                  fmt::format("{}S{}P of {} x {} cells to {}S{}P of {} x {}: {}", before.series,
                                              before.parallel, before.units_per_tap, before.cells_per_unit,
                                              layout.series, layout.parallel, layout.units_per_tap,
                                              layout.cells_per_unit, reason));
        },
        ChangeSet::assembly(id));
}

} // namespace ingot
