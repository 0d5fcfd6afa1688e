// What must hold for everything in the shipped library together.
#include "core/cells/claim.h"
#include "core/sort/duty.h"
#include "exchange/library_toml.h"

#include <catch2/catch.hpp>

using namespace ingot;
using namespace ingot::exchange;

namespace {
const Library& library() {
    static const Library read = read_library(std::string(INGOT_SOURCE_DIR) + "/data").value();
    return read;
}
} // namespace

TEST_CASE("A plausible pack of any format, chemistry and layout draws no objection; the same added in series does") {
    for (const auto& [format_id, format] : library().formats)
        for (const FormatCapacity& holds : format.capacities)
            for (const std::string& chemistry_id : holds.chemistries) {
                const Chemistry& chemistry = *library().chemistry(chemistry_id);
                CHECK(holds.smallest_ah < holds.largest_ah);
                CHECK(holds.largest_ah <= holds.check_above_ah);
                CHECK(holds.check_above_ah < holds.impossible_above_ah);
                for (const PackLayout& layout :
                     {PackLayout{1, 1, 1}, PackLayout{7, 4, 1}, PackLayout{13, 8, 1}, PackLayout{4, 1, 1}}) {
                    CAPTURE(format_id, chemistry_id, layout.series, layout.parallel);
                    const double cell = (holds.smallest_ah + holds.largest_ah) / 2;
                    const double volts = layout.series * chemistry.nominal_v();
                    CHECK(check_claim({cell * layout.parallel, volts}, layout, chemistry, &format).empty());
                    CHECK(check_claim({holds.impossible_above_ah * layout.parallel * 1.01, volts}, layout, chemistry,
                                      &format)
                              .size() == 1);
                    if (layout.series >= 7) {
                        const auto added = check_claim({cell * layout.units(), volts}, layout, chemistry, &format);
                        REQUIRE(added.size() == 1);
                        CHECK(added[0].objection == ClaimObjection::added_in_series);
                        CHECK(added[0].believable == Approx(cell * layout.parallel));
                    }
                }
            }
}

TEST_CASE("A wrong count of cells in series shows in the voltage, and the fitting count is named") {
    for (const auto& [id, chemistry] : library().chemistries)
        for (int series = 2; series <= 12; ++series) // beyond, label rounding may hide one cell
            for (const int wrong : {series - 1, series + 1}) {
                CAPTURE(id, series, wrong);
                if (label_voltage(wrong * chemistry.nominal_v(), series, chemistry) == LabelVoltage::full)
                    continue; // seven of 3.6 V print what six hold when full
                const auto findings =
                    check_claim({{}, wrong * chemistry.nominal_v()}, {series, 1, 1}, chemistry, nullptr);
                REQUIRE(findings.size() == 1);
                CHECK(findings[0].fitting_series == wrong);
            }
}

TEST_CASE("States rise with voltage, and every chemistry's own voltages fall where they belong") {
    for (const auto& [id, chemistry] : library().chemistries) {
        CAPTURE(id);
        int last = -1;
        for (double v = -0.5; v < 5; v += 0.005) {
            const int state = static_cast<int>(state_of(chemistry, v));
            CHECK(state >= last);
            last = state;
        }
        CHECK(state_of(chemistry, chemistry.nominal_v()) == GroupState::working);
        CHECK(state_of(chemistry, chemistry.ocv.ocv_at(1.0)) == GroupState::working); // rested full is not over
        CHECK(chemistry.scrap_below_v <= chemistry.quarantine_below_v);
    }
}

TEST_CASE("OCV curves turn around: charge to voltage and back") {
    for (const auto& [id, chemistry] : library().chemistries)
        for (double soc = 0; soc <= 1.0; soc += 0.01) {
            CAPTURE(id, soc);
            CHECK(chemistry.ocv.soc_at(chemistry.ocv.ocv_at(soc)) == Approx(soc).margin(1e-9));
            CHECK(chemistry.ocv.slope_at(chemistry.ocv.ocv_at(soc)) > 0);
        }
}

TEST_CASE("Chemistries that cannot be judged by voltage are marked so") {
    // Under 1 mV per % of charge in the middle, a meter's error hides the charge (LFP plateau, nickel).
    for (const auto& [id, chemistry] : library().chemistries) {
        CAPTURE(id);
        const double mv_per_percent = chemistry.ocv.slope_at(chemistry.ocv.ocv_at(0.47)) * 10;
        CHECK(chemistry.voltage_tells_charge == (mv_per_percent > 1.0));
    }
}

TEST_CASE("Every shipped model: a new unit drives, a dead one does not, and duty never improves as it wears") {
    for (const auto& [rules_id, rules] : library().rule_sets)
        for (const auto& [id, model] : library().models) {
            const Chemistry& chemistry = *library().chemistry(model.chemistry);
            const UnitReference reference = reference_of(model);
            UnitFacts unit;
            unit.model = id;
            unit.rest_voltage_v = chemistry.nominal_v() * model.cells_in_series;
            unit.self_discharge_ah_per_day = model.rated_ah * 0.0002;
            int worst = 0;
            for (double health = 1.0; health >= 0; health -= 0.01) {
                CAPTURE(rules_id, id, health);
                unit.capacity_ah = model.rated_ah * health;
                unit.dc_resistance_ohm = *model.new_dc_resistance_ohm * (1 + 2 * (1 - health));
                const Verdict verdict = sort_unit(unit, reference, &chemistry, rules);
                if (health == 1.0)
                    CHECK(verdict.duty == Duty::drive);
                const int now = verdict.duty == Duty::scrap ? 3 : static_cast<int>(verdict.duty);
                CHECK(now >= worst);
                worst = now;
            }
            CHECK(worst == 3);
        }
}

TEST_CASE("Consequences that hold something back are exactly quarantine and refuse") {
    for (const auto& finding : library().findings) {
        CHECK(consequence_from(code(finding.consequence)) == finding.consequence);
        CHECK_FALSE(finding.consequence_text.empty());
    }
    CHECK(library().finding("swollen")->consequence == Consequence::quarantine);
    CHECK(library().finding("vented")->consequence == Consequence::refuse);
    CHECK(library().finding("dented")->consequence == Consequence::with_care);
    CHECK(library().finding("no such thing") == nullptr);
    CHECK(library().chemistry("no such thing") == nullptr);
    CHECK(library().format("no such thing") == nullptr);
    CHECK(library().model("no such thing") == nullptr);
}
