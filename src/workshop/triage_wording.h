// Explanations, next readings, ways forward and routes as words, for window, print and command line.
#pragma once

#include "core/triage/explain.h"
#include "core/triage/outcomes.h"
#include "core/triage/ways.h"
#include "core/worth/worth.h"

#include <QString>

namespace ingot::wording {

QString fault(Fault fault);
// A chance in a word: likely, possible, unlikely.
QString chance(double probability);
// "group 3", "groups 3 and 4", "the pack".
QString groups(const std::vector<int>& groups);
// "Dead group, group 3; weak group, groups 1 and 5".
QString faults(const std::vector<NamedFault>& faults);
// One sentence: what in the readings speaks for it.
QString reason(const Explanation& explanation, const TriageCase& pack);
QString reading_kind(ReadingKind kind);
// What to do next, in a sentence, with the place.
QString next_reading(const NextReading& next);
QString way_forward(WayForward way);
// One or two sentences with the way's numbers.
QString way_reason(const Way& way);

QString route(WorthRoute route);
// Why a route is not possible, from its code.
QString obstacle(const char* code);
QString turning_point(const TurningPoint& point);

} // namespace ingot::wording
