// What is said about units at rest.
#pragma once

#include "workshop/rest.h"
#include "workshop/workshop.h"

#include <QString>
#include <QStringList>

namespace ingot::wording {

[[nodiscard]] QString leak_verdict(LeakVerdict verdict);
[[nodiscard]] QString drift(double v_per_day);
[[nodiscard]] QString drift_between(double low_v_per_day, double high_v_per_day);
// A unit's code, or where it hangs in its pack.
[[nodiscard]] QString resting_name(const Workshop& workshop, const RestingLine& line);
// What those that leak have in common; empty: nothing beyond chance.
[[nodiscard]] QString shared_by_leakers(const RestShelf& shelf);
[[nodiscard]] QString trait(const Trait& trait);
// Why the verdict is what it is, and what to do.
[[nodiscard]] QString leak_reason(const RestingLine& line);
// What a visit to the shelf is for, in a calendar: units by tray, those that storage asks for, packs in service.
[[nodiscard]] QString visit(int units);
[[nodiscard]] QString visit_of_tray(const QString& tray, int units);
[[nodiscard]] QString visit_of_storage(int units);
[[nodiscard]] QString visit_of_packs(const QStringList& packs);

} // namespace ingot::wording
