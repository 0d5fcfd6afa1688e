// A capacity brought to common conditions, where that is defensible: charged to less than full, another temperature,
// another rate. Never silently: the measured value stays, the corrected one carries a larger uncertainty and its
// reason.
//
// Sources: charge fraction between two rested voltages through the OCV curve (common practice, no source); lead-acid
// C25 = C / (1 + lambda (theta - 25)) and Peukert's law (handbooks, from memory).
#pragma once

#include "core/cells/chemistry.h"
#include "core/measure/measurement.h"

#include <optional>
#include <vector>

namespace ingot {

struct CorrectedCapacity {
    double measured_ah = 0;
    double full_ah = 0;         // as if it had been charged to the chemistry's full voltage and emptied
    double uncertainty_ah = 0;  // k = 2
    double charge_fraction = 1; // of the curve that the discharge covered
};

// From a discharge between two rested voltages, each over `cells` in series. Nothing where it covers less than 40 % of
// the curve, or where the curve does not tell the charge (LFP, nickel).
[[nodiscard]] std::optional<CorrectedCapacity> to_full_window(double measured_ah, double uncertainty_ah, double start_v,
                                                              double end_v, const Chemistry& chemistry, int cells = 1,
                                                              double meter_v = 0.005);

// Lead-acid only, 15 to 35 degC; lambda 0.006 /K at C20 to C3, 0.01 at 1 It and more.
[[nodiscard]] std::optional<double> lead_acid_at_25(double measured_ah, double celsius, bool fast_rate);

// Capacity at another current by Peukert's law with exponent k (1 to 1.5), same temperature and cutoff.
[[nodiscard]] double at_another_rate(double capacity_ah, double rated_hours, double current_a, double k);

// Why two capacities are not to be compared; empty: they are.
enum class Incomparable { other_cutoff, other_rate, other_charge, other_temperature };
[[nodiscard]] std::vector<Incomparable> incomparable(const Conditions& one, const Conditions& other);

} // namespace ingot
