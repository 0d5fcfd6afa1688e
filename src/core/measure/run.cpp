#include "core/measure/run.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ingot {

namespace {

constexpr std::array<const char*, 4> step_kind_codes{"charge", "discharge", "rest", "pulse"};

} // namespace

OnChannel OnChannel::of_assembly(Id assembly) {
    OnChannel out;
    out.assembly = assembly;
    return out;
}

OnChannel OnChannel::in_series(const std::vector<Id>& units) {
    OnChannel out;
    if (!units.empty()) {
        out.unit = units.front();
        out.behind.assign(units.begin() + 1, units.end());
    }
    return out;
}

std::vector<Id> OnChannel::units() const {
    std::vector<Id> out;
    if (unit != 0)
        out.push_back(unit);
    out.insert(out.end(), behind.begin(), behind.end());
    return out;
}

bool OnChannel::holds(Id some_unit) const {
    return some_unit != 0 && (some_unit == unit || std::find(behind.begin(), behind.end(), some_unit) != behind.end());
}

const char* code(RunStepKind kind) {
    return step_kind_codes[static_cast<std::size_t>(kind)];
}

std::optional<RunStepKind> run_step_kind_from(const std::string& code) {
    for (std::size_t i = 0; i < step_kind_codes.size(); ++i)
        if (code == step_kind_codes[i])
            return static_cast<RunStepKind>(i);
    return std::nullopt;
}

std::optional<RunCapacity> capacity_of_run(const std::vector<RunStep>& steps,
                                           const std::optional<InstrumentErrors>& errors, int emptying) {
    for (std::size_t i = steps.size(); i-- > 0;) {
        const RunStep& discharge = steps[i];
        if (discharge.kind != RunStepKind::discharge || !discharge.as_meant || !discharge.charge_ah ||
            discharge.number == emptying)
            continue;
        RunCapacity out;
        out.capacity_ah = *discharge.charge_ah;
        out.energy_wh = discharge.energy_wh;
        out.cutoff_v = discharge.end_v;
        out.mean_a = discharge.mean_a;
        out.temperature_c = discharge.hottest_c;
        out.step = discharge.number;
        // Rested, where a rest came between; else where the discharge began.
        out.charged_to_v = i > 0 && steps[i - 1].kind == RunStepKind::rest && steps[i - 1].end_v ? steps[i - 1].end_v
                                                                                                 : discharge.start_v;
        if (errors) {
            const double hours = (discharge.end_s - discharge.start_s) / seconds_per_hour;
            out.uncertainty_ah = std::hypot(errors->current_gain * out.capacity_ah, errors->current_offset_a * hours);
        }
        double charged = 0;
        std::size_t s = i;
        for (; s > 0 && steps[s - 1].kind != RunStepKind::discharge; --s)
            if (steps[s - 1].kind == RunStepKind::charge)
                charged += steps[s - 1].charge_ah.value_or(0);
        if (charged > 0) {
            out.charge_ah = charged;
            if (s > 0 && steps[s - 1].as_meant)
                out.coulombic_efficiency = out.capacity_ah / charged;
        }
        return out;
    }
    return std::nullopt;
}

} // namespace ingot
