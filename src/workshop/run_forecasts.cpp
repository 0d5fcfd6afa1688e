#include "workshop/run_forecasts.h"

#include <algorithm>

namespace ingot {

namespace {

// The discharge under way, from the points that are kept for the eye.
DischargeCurve under_way(const BayView& bay) {
    LogSamples log;
    for (const Trace::Point& p : bay.trace.points()) {
        if (p.step != bay.position.step) { // a loop comes back to the same step: only its last time counts
            log = {};
            continue;
        }
        log.time_s.push_back(p.time_s);
        log.voltage_v.push_back(p.voltage_v);
        log.current_a.push_back(p.current_a);
    }
    return log.size() == 0 ? DischargeCurve{} : discharge_curve(log, 0, log.size() - 1);
}

bool discharges_after_charge(const BayView& bay) {
    const auto at = static_cast<std::size_t>(std::max(0, bay.position.step));
    const auto& steps = bay.protocol.steps;
    if (bay.look != BayLook::running || at >= steps.size() || steps[at].kind != ProtocolStepKind::discharge)
        return false;
    return std::any_of(steps.begin(), steps.begin() + static_cast<std::ptrdiff_t>(at),
                       [](const ProtocolStep& step) { return step.kind == ProtocolStepKind::charge; });
}

} // namespace

std::optional<RunForecast> RunForecasts::of(const BayView& bay) {
    const UnitState* unit = workshop_.unit(bay.unit);
    if (unit == nullptr || bay.several() || !discharges_after_charge(bay))
        return std::nullopt;
    constexpr std::size_t most_siblings = 8;
    const auto [found, first] = kept_.try_emplace(bay.run);
    Kept& kept = found->second;
    if (first)
        kept.to_unpack = workshop_.test().runs_discharged_like(bay.unit, bay.protocol.stamp(), most_siblings);
    if (!kept.to_unpack.empty()) {
        kept.siblings.push_back(workshop_.test().last_discharge(kept.to_unpack.back()));
        kept.to_unpack.pop_back();
    }
    if (!kept.to_unpack.empty())
        return std::nullopt;
    const DischargeCurve curve = under_way(bay);
    if (curve.amount_ah.empty())
        return std::nullopt;
    const double moved = curve.amount_ah.back();
    constexpr double again_share = 0.01; // of the rating
    if (kept.moved_ah >= 0 && moved >= kept.moved_ah && moved - kept.moved_ah < again_share * unit->reference.rated_ah)
        return kept.forecast;
    kept.moved_ah = moved;
    kept.forecast.reset();
    if (const auto capacity = forecast_capacity(curve, kept.siblings)) {
        Fact expected(capacity->capacity_ah);
        expected.uncertainty = (capacity->high_ah - capacity->low_ah) / 2;
        const Verdict verdict = workshop_.sort().verdict_with(bay.unit, expected);
        const auto of_capacity = std::find_if(verdict.evidence.begin(), verdict.evidence.end(),
                                              [](const Evidence& e) { return e.kind == EvidenceKind::capacity; });
        if (of_capacity != verdict.evidence.end()) {
            kept.forecast = RunForecast{*capacity, verdict.duty, *of_capacity};
            kept.forecast->evidence.forecast = true;
            kept.forecast->evidence.decides = false;
        }
    }
    return kept.forecast;
}

} // namespace ingot
