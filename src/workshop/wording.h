// The one table that turns codes and values into sentences, for window, print and command line.
#pragma once

#include "core/assembly/assembly.h"
#include "core/build/joining.h"
#include "core/cells/chemistry.h"
#include "core/cells/claim.h"
#include "core/cells/evidence.h"
#include "core/cells/problem.h"
#include "core/cells/unit.h"
#include "core/match/problem.h"
#include "core/measure/capacity.h"
#include "core/measure/measurement.h"
#include "core/shop/found_parts.h"
#include "core/shop/shop_records.h"
#include "core/sort/duty.h"
#include "core/triage/groups.h"

#include <QString>

namespace ingot::wording {

// A sentence in the language of the interface, and an objection with its place before it.
QString sentence(const Sentence& sentence);
QString problem(const Problem& problem);
QString duty(Duty duty);
QString duty_meaning(Duty duty);
QString state(GroupState state);
QString quantity(Quantity quantity);
QString condition(Condition condition);
// What a reading was taken under, as far as it is known: "at rest", or of a capacity "0.50 A, from 4.20 V to 2.80 V".
QString conditions(const Measurement& measurement);
QString consequence(Consequence consequence);
QString assembly_state(AssemblyState state);
QString whereabouts(Whereabouts whereabouts);
QString layout(const PackLayout& layout);
// A measured value with its unit.
QString value(const Measurement& measurement);
// Where in a pack it was measured: "group 3, unit 2", "terminals".
QString place_in_pack(const Measurement& measurement);
QString step(StepKind kind);
QString way(MatchWay way);
// One reason as a sentence with its figures and limits.
QString evidence(const Evidence& evidence);
// Name of what the evidence measures.
QString evidence_name(const Evidence& evidence);
QString objection(const ClaimFinding& finding, const PackLayout& layout);
QString particular(ParticularKind kind);
QString found_part(FoundPart part);
QString triage_summary(const TriageResult& result);
QString log_note(const LogNote& note);
QString match_note(MatchNote note, int count);
QString demand(Demand demand);
QString breach(const Breach& breach);
QString join_advice(const JoinCheck& check);
// Why a typed value is not believed; empty when it is.
QString implausible(Implausible implausible, Quantity quantity, double value, double volts_limit_v);

} // namespace ingot::wording
