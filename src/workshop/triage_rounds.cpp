// Rounds that were read: what of them stands, and one that belongs to another pack.
#include "workshop/triage.h"

#include <QDateTime>

#include <algorithm>
#include <fmt/format.h>

namespace ingot {

namespace {

// Readings of one round follow each other; a longer pause ends it.
constexpr qint64 longest_pause_s = 1800;

QDateTime moment_of(const Measurement& m) {
    return QDateTime::fromString(QString::fromStdString(m.taken_at), Qt::ISODateWithMs);
}

} // namespace

std::vector<Measurement> TriageService::standing_readings(Id pack, int group) const {
    std::vector<Measurement> out;
    for (Measurement& m : session_.measurements.of_assembly(pack))
        if (m.quantity == Quantity::voltage && m.subject.place == 0 && (group < 0 || m.subject.group == group))
            out.push_back(std::move(m));
    std::reverse(out.begin(), out.end());
    return out;
}

std::vector<Measurement> TriageService::last_round(Id pack, Condition condition) const {
    std::vector<Measurement> out;
    for (Measurement& m : standing_readings(pack)) {
        if (m.conditions.condition != condition)
            continue;
        if (!out.empty() && moment_of(m).secsTo(moment_of(out.back())) > longest_pause_s)
            break;
        out.push_back(std::move(m));
    }
    std::reverse(out.begin(), out.end());
    return out;
}

Result<int> TriageService::move_round(Id from, Condition condition, Id into) {
    const Assembly* wrong = inventory_.pack(from);
    const Assembly* right = inventory_.pack(into);
    if (wrong == nullptr || right == nullptr)
        return no_such_pack();
    if (from == into)
        return Problem{"", 0, said("The round is on {} already.", right->label)};
    const std::vector<Measurement> round = last_round(from, condition);
    if (round.empty())
        return Problem{"", 0, said("No round of that kind stands on {}.", wrong->label)};
    const std::string why = "read on " + right->label;
    const auto done = session_.batch([&]() -> Result<bool> {
        for (const Measurement& m : round) {
            Measurement copy = m;
            copy.id = 0;
            copy.subject.assembly = into;
            if (const auto recorded = record(copy, m.taken_at); !recorded)
                return Problem{"", 0, said("The round does not fit {}: {}", right->label, recorded.problem().sentence)};
            ChangeSet changes = ChangeSet::assembly(from);
            if (auto struck = session_.step([&] { session_.measurements.strike(m.id, why, session_.now()); }, changes);
                !struck)
                return struck;
        }
        session_.record_event("round moved", wrong->label,
                              fmt::format("{} readings to {}", round.size(), right->label));
        return true;
    });
    if (!done)
        return done.problem();
    return static_cast<int>(round.size());
}

} // namespace ingot
