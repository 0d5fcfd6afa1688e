// The shipped library in data/: chemistries, formats, unit models, rule sets, look findings and cautions as TOML, OCV
// curves as CSV. A broken or missing file is reported with its line.
#pragma once

#include "core/build/joining.h"
#include "core/cells/chemistry.h"
#include "core/cells/model.h"
#include "core/cells/problem.h"
#include "core/measure/capacity.h"
#include "core/measure/protocol.h"
#include "core/prove/proof.h"
#include "core/sort/duty.h"
#include "core/triage/explain.h"
#include "core/worth/worth.h"

#include <map>
#include <string>
#include <vector>

namespace ingot::exchange {

struct LookFinding {
    std::string id; // swollen, leaking, ...
    std::string name;
    std::string consequence_text; // what to do, in a sentence
    Consequence consequence = Consequence::go_on;
    std::string source;
    int version = 1;
};

struct Caution {
    std::string id; // the step it belongs to: receive, gate, open, test, match, build, ...
    std::string title;
    std::vector<std::string> sentences;
    std::string source;
    int version = 1;
};

// How a kind of pack is taken apart.
struct TeardownStep {
    std::string id, text, caution;
};
struct TeardownPlan {
    std::string id, name;
    std::string fits; // high-voltage, modules, any
    std::string source;
    int version = 1;
    std::vector<TeardownStep> steps;
    std::string kind = {}; // of pack, as its lot says where it comes from; empty: whatever it is
};

// What strips and bus bars are made of. Resistivity at 20 degC, ohm m.
struct StripMaterial {
    std::string id;
    double resistivity_ohm_m = 0;
    double per_kelvin = 0;
    std::string source;
};

// Of pure nickel, A/m2: up to which a strip stays cool, is fair, gets warm; above is too much.
struct StripDensity {
    double cool_a_per_m2 = 0, fair_a_per_m2 = 0, warm_a_per_m2 = 0;
};

// What benches usually do where no standard says it.
struct Practice {
    JoinLimits joining;
    InstrumentErrors usual_tester;              // stands in for one that nobody held against another
    std::vector<StripMaterial> strip_materials; // the first is the usual one
    ProofLimits proof;                          // usual ones where a workshop names none
    std::optional<StripDensity> strip_density;  // a workshop of an earlier version has none
    [[nodiscard]] const StripMaterial* strip_material(const std::string& id) const;
    // For that material; the limits are the first material's.
    [[nodiscard]] std::optional<StripDensity> density_limits(const StripMaterial& material) const;
    double conditioning_bar_share = 0; // of the rated capacity: a conditioned unit is kept from here on
};

struct Library {
    std::map<std::string, Chemistry> chemistries;
    std::map<std::string, CellFormat> formats;
    std::map<std::string, UnitModel> models;
    std::map<std::string, RuleSet> rule_sets;
    std::vector<LookFinding> findings;
    std::map<std::string, Caution> cautions;
    TriageKnowledge triage;
    std::vector<TeardownPlan> teardown;
    std::map<std::string, Protocol> protocols;
    Practice practice;
    WorthCase usual_worth; // prices, hours and outlooks to begin with

    [[nodiscard]] const Chemistry* chemistry(const std::string& id) const;
    [[nodiscard]] const CellFormat* format(const std::string& id) const;
    [[nodiscard]] const UnitModel* model(const std::string& id) const;
    [[nodiscard]] const Protocol* protocol(const std::string& id) const;
    [[nodiscard]] const LookFinding* finding(const std::string& id) const;
};

// One file of the library as text, so that a workshop file can keep the copy it was made with.
struct LibraryText {
    std::string kind; // chemistries, formats, models, rule-sets, look-findings, cautions, triage, symptoms, teardown,
                      // protocols, ocv, practice, worth
    std::string name; // file name
    std::string text;
};

// Every file below `folder`. Problems: the folder is missing or a kind has no file.
[[nodiscard]] Result<std::vector<LibraryText>> read_library_texts(const std::string& folder);
[[nodiscard]] Result<Library> parse_library(const std::vector<LibraryText>& texts);
[[nodiscard]] Result<Library> read_library(const std::string& folder);
// One rule set, for a file a shop wrote itself.
[[nodiscard]] Result<RuleSet> parse_rule_set(const std::string& text, const std::string& file);
// One unit model as a file of its own; reads back equal.
[[nodiscard]] std::string write_model(const UnitModel& model);
// One teardown plan as a file of its own; reads back equal.
[[nodiscard]] std::string write_teardown_plan(const TeardownPlan& plan);
[[nodiscard]] std::string write_rule_set(const RuleSet& rules);

} // namespace ingot::exchange
