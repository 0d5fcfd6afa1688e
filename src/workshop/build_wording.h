// What is said about joining and about a change of chemistry, in sentences.
#pragma once

#include "core/build/build_safety.h"
#include "core/build/build_steps.h"
#include "core/build/conversion.h"
#include "core/build/design.h"
#include "core/cells/claim.h"
#include "workshop/build_run.h"
#include "workshop/wanted_builds.h"

#include <QString>
#include <QStringList>

#include <optional>
#include <string>

namespace ingot::wording {

[[nodiscard]] QString reversed_unit(const std::string& unit);
[[nodiscard]] QString deep_unit(const std::string& unit);
[[nodiscard]] QString clash(const Clash& clash, const ConversionDesign& design, const DeviceWindow& device);
// A few words, for a row of a table.
[[nodiscard]] QString clash_in_short(const Clash& clash, const ConversionDesign& design);
// Why a design is unsafe, with its figures and the remedy; of what is only to be minded, how.
[[nodiscard]] QString unsafe(const UnsafeFinding& finding);
[[nodiscard]] QString board_kind(BoardKind kind);
[[nodiscard]] QString joining_kind(JoiningKind kind);
[[nodiscard]] QString needs_board(int series, std::optional<double> current_a);

// Of a step, and of one item of it ("group 3", "groups 2 and 3", "lead 0"); empty where a step has but one.
// `modules`: in a row with bars, not round cells with strip.
[[nodiscard]] QString build_task(BuildTask task, bool modules = false);
[[nodiscard]] QString build_item(BuildTask task, int item, const PackLayout& layout);
// Which caution of the library belongs to a step.
std::string build_task_caution(BuildTask task);
[[nodiscard]] QString build_task_how(BuildTask task, bool modules = false); // what the hand does
[[nodiscard]] QString comes_first(BuildTask task, int item, const PackLayout& layout);
[[nodiscard]] QString stands_on_it(BuildTask task, int item, const PackLayout& layout);
[[nodiscard]] QString prospective(double amperes); // a short's: no finer than it is known
[[nodiscard]] QString hazard(const BareHazard& hazard, bool amperes_known);
[[nodiscard]] QString design_figure(DesignFigure figure);
// As it is typed and shown: mm, min, else SI. Nothing: words.
[[nodiscard]] QString design_unit(DesignFigure figure);
[[nodiscard]] double design_factor(DesignFigure figure); // what one of these is in SI
[[nodiscard]] QString arrangement(const Layout& layout);
[[nodiscard]] QString remedy(const Remedy& remedy);
[[nodiscard]] QString run_variant(RunVariant variant);
[[nodiscard]] QString run_time(double seconds); // "54 min", "1 h 54 min"
// How warm it becomes by its places; why nothing is said.
[[nodiscard]] QString warmth(const VariantRun& run);
// Its first charge, and its months on the shelf; why nothing is said of them.
[[nodiscard]] QStringList first_charge(const VariantRun& run, const BuildQuestion& question);
[[nodiscard]] QStringList on_the_shelf(const VariantRun& run, const BuildQuestion& question, double from_soc);
[[nodiscard]] QString conversion_verdict(ConversionVerdict verdict);
[[nodiscard]] QString charger_kind(ChargerKind kind);
[[nodiscard]] QString places(const std::vector<int>& places); // "place 3", "places 3 and 7"
// What the groups of a refill are for, how good they need be, what to bring them to before they go in.
[[nodiscard]] QStringList refill(const Refill& refill, const BuildDesign& design);
[[nodiscard]] QString clock_time(const std::string& moment); // of the wall, hours and minutes

} // namespace ingot::wording
