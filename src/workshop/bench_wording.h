// Sentences of the test bench: resistance, conditioning and the plan.
#pragma once

#include "bench/tester_lines.h"
#include "core/measure/conditioning.h"
#include "core/measure/correction.h"
#include "core/measure/protocol.h"
#include "core/measure/resistance.h"

#include <QString>

namespace ingot::wording {

QString resistance_note(ResistanceWarning warning);
QString resistance_method(ResistanceMethod method);
QString conditioning_verdict(ConditioningVerdict verdict);
// Why, in one sentence, with its figures.
QString conditioning_reason(const ConditioningResult& result, double bar_ah);
// "run 3 more", "replace it", "use it".
QString conditioning_advice(const ConditioningResult& result);
// How often a unit took all the charge that was offered, of the charges that are known; empty where it never did.
QString took_all(int times, int of);
// Where the old hands' rule says otherwise; empty where both agree.
QString rule_of_thumb(const ConditioningResult& result);

// Why it is refused, and what would be right.
QString protocol_objection(const ProtocolObjection& objection, const Protocol& protocol);
// What a unit's newest capacity says beside its figure: charged to less, not comparable with the one before.
QString corrected(const CorrectedCapacity& capacity, double full_v, double charged_to_v);
QString incomparable(Incomparable why);
QString protocol_step(ProtocolStepKind kind);
// One or two words for a bay's head: "Hot", "Lift out".
QString step_end_word(bench::StepEnd end);
// Why a bay stopped and what it means for the unit.
QString step_end(bench::StepEnd end);

} // namespace ingot::wording
