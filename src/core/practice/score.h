// What an answer at the practice bench is worth, out of 100: rightness by a proper scoring rule, minutes against the
// engine's own path, safety.
#pragma once

#include "core/practice/deal.h"

#include <functional>
#include <vector>

namespace ingot {

// One cause, and how sure the learner is of it, 0..1. Fault::healthy with group 0: nothing is wrong.
struct PracticeAnswer {
    Fault fault = Fault::healthy;
    int group = 0;
    double sure = 0;
};

struct PracticeScore {
    double right = 0;   // of 60, not negative
    double minutes = 0; // of 20
    double safety = 0;  // of 20
    [[nodiscard]] double total() const { return right + minutes + safety; }
};
inline constexpr double most_for_right = 60;
inline constexpr double most_for_minutes = 20;
inline constexpr double most_for_safety = 20;

// `whole` for certain and right, minus `whole` for certain and wrong; nothing is gained by saying another chance than
// one believes (Brier's rule, scaled).
[[nodiscard]] double sure_points(bool right, double sure, double whole);
// Shared between the causes; a cause that is not named gives what "certainly not" gives.
[[nodiscard]] double right_points(const std::vector<PracticeAnswer>& answers, const std::vector<HiddenFault>& truth);
// All of them where the learner needed no more than the engine.
[[nodiscard]] double minutes_points(double own_min, double engine_min);

struct TakenMeasure {
    PracticeMeasure measure{};
    int group = 0;
};
// One step of the engine's own way, and how sure it was of each true cause once it had taken it.
struct EngineStep {
    TakenMeasure taken;
    std::vector<double> sure_of; // as the truth; one figure, of "nothing wrong", where the truth is empty
};
// What the engine would take next until it is sure or nothing more would tell, and its minutes of hands.
struct EnginePath {
    std::vector<EngineStep> steps;
    double hands_min = 0;
    Explained at_the_end;
};
[[nodiscard]] EnginePath engine_path(const PackDeal& deal, const Chemistry& chemistry, const TriageKnowledge& knowledge,
                                     const std::function<bool()>& going);
[[nodiscard]] std::vector<double> sure_of_truth(const Explained& explained, const std::vector<HiddenFault>& truth);

// How sure the engine is of each true cause with one measure more than were taken.
[[nodiscard]] std::vector<double> sure_with(const PackDeal& deal, const std::vector<TakenMeasure>& taken,
                                            const TakenMeasure& more, const Chemistry& chemistry,
                                            const TriageKnowledge& knowledge);

// -5 for each measure with a risk that could tell nothing new, all for load or charge on a group under its floor.
struct SafetyFinding {
    TakenMeasure taken;
    bool forbidden = false; // else needless
};
[[nodiscard]] std::vector<SafetyFinding> safety_findings(const PackDeal& deal, const std::vector<TakenMeasure>& taken,
                                                         const Chemistry& chemistry, const TriageKnowledge& knowledge);
[[nodiscard]] double safety_points(const std::vector<SafetyFinding>& findings);

} // namespace ingot
