// The practice bench behind its page: what was dealt, what was measured of it, what an answer is worth. Knows the
// library's chemistry and the engine's knowledge, and nothing else of a shop.
#pragma once

#include "core/measure/self_discharge.h"
#include "core/practice/match_deal.h"
#include "core/practice/score.h"
#include "core/triage/groups.h"
#include "workshop/rest.h"

#include <array>
#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

enum class PracticeCase { what_is_wrong, leaking, cycling, which_match };
inline constexpr int practice_case_count = 4;
[[nodiscard]] const char* code(PracticeCase kind);
inline constexpr const char* practice_chemistry = "nmc"; // of the dealt packs and cells

// What is asked of a pack's answer: by value, for beside the window.
struct PracticeQuestion {
    PackDeal deal;
    std::vector<TakenMeasure> taken;
    std::vector<PracticeAnswer> answers;
    double spent_min = 0;
    Chemistry chemistry;
    TriageKnowledge knowledge;
};
struct PracticeJudged {
    PracticeScore score;
    EnginePath path;
    std::vector<SafetyFinding> safety;
    // What each card would have told: how sure the engine is of each true cause with it, beside what was taken. About
    // one group: of the first true cause's.
    struct CardWorth {
        TakenMeasure taken;
        std::vector<double> sure_of; // in the order of the truth; nothing wrong: of that
    };
    std::vector<CardWorth> cards; // in the order of the cards; without those that voltages say nothing of
};
[[nodiscard]] PracticeJudged judge_practice(const PracticeQuestion& question, const std::function<bool()>& going);

class PracticeBench {
public:
    // Level 1..5, seed 0..9999, else std::invalid_argument.
    void deal(PracticeCase kind, int level, int seed);
    // A pack of an instructor's own; throws as PackDeal does.
    void deal(const OwnDeal& own);
    [[nodiscard]] PracticeCase kind() const { return kind_; }
    [[nodiscard]] int level() const { return pack_.level(); }
    [[nodiscard]] int seed() const { return pack_.seed(); }
    [[nodiscard]] std::string number() const { return pack_.number(); }
    [[nodiscard]] const PackDeal& pack() const { return pack_; }
    [[nodiscard]] const LeakDeal& leak() const { return leak_; }
    [[nodiscard]] const CyclingDeal& cycling() const { return cycling_; }

    // --- What is wrong? ---
    [[nodiscard]] bool was_taken(PracticeMeasure measure, int group) const; // or was given
    // False: it was taken already.
    bool take(PracticeMeasure measure, int group);
    [[nodiscard]] const std::vector<TakenMeasure>& taken() const { return taken_; }
    [[nodiscard]] const TriageCase& known() const { return known_; }
    [[nodiscard]] std::optional<double> volts(int group, Condition condition) const;
    [[nodiscard]] TriageResult standing(const Chemistry& chemistry) const; // of the groups against the bands

    // --- Leaking or not? ---
    [[nodiscard]] const std::vector<int>& days() const { return days_; } // on which all were read
    void wait(int days);
    // The siblings' courses without what all share; with the verdicts once `told`.
    [[nodiscard]] std::vector<RestingLine> courses(const Chemistry& chemistry, bool told) const;

    // --- Go on cycling? ---
    [[nodiscard]] int cycles() const { return cycles_; }
    void cycle(int more);

    // --- Which match? ---
    [[nodiscard]] const MatchDeal& match() const { return match_; }
    [[nodiscard]] bool measured(MatchMeasure measure) const { return measured_[static_cast<std::size_t>(measure)]; }
    // False: it was measured already.
    bool measure(MatchMeasure measure);

    [[nodiscard]] double spent_min() const;
    [[nodiscard]] int risk() const;
    // Of "it leaks" and "it will reach the limit" (0), of their opposite (1); of a way to match.
    [[nodiscard]] PracticeScore judge(int choice, double sure) const;

private:
    void begin();
    PracticeCase kind_ = PracticeCase::what_is_wrong;
    PackDeal pack_{1, 0};
    LeakDeal leak_{1, 0};
    CyclingDeal cycling_{1, 0};
    std::vector<TakenMeasure> taken_;
    TriageCase known_;
    std::vector<int> days_{0};
    int cycles_ = 0;
    MatchDeal match_{1, 0};
    std::array<bool, match_measure_count> measured_{};
};

} // namespace ingot
