#include "core/measure/facts.h"

#include "core/measure/moment.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

// Measurements that lie further apart are no repetition: cells age (common practice, no source).
constexpr double repetition_days = 30;

bool earlier(const Measurement& a, const Measurement& b) {
    return a.taken_at != b.taken_at ? a.taken_at < b.taken_at : a.id < b.id;
}

std::optional<double> uncertainty_of(const Measurement& m) {
    if (!m.resolution)
        return m.uncertainty;
    return std::max(m.uncertainty.value_or(0), *m.resolution / 2);
}

// The same method, and within both uncertainties the same figure.
bool repeats(const Measurement& newest, const Measurement& older) {
    const auto u = uncertainty_of(newest);
    const auto v = uncertainty_of(older);
    if (!u || !v || !(*u > 0) || !(*v > 0) || !incomparable(newest.conditions, older.conditions).empty() ||
        newest.conditions.condition != older.conditions.condition ||
        (newest.quantity == Quantity::resistance && newest.instrument != older.instrument))
        return false;
    const auto days = days_between(older.taken_at, newest.taken_at);
    return days && *days <= repetition_days && std::fabs(newest.value - older.value) <= std::hypot(*u, *v);
}

// `of_quantity` oldest first.
std::optional<Fact> fact_from(const std::vector<const Measurement*>& of_quantity) {
    if (of_quantity.empty())
        return std::nullopt;
    const Measurement& newest = *of_quantity.back();
    Fact fact(newest.value);
    fact.uncertainty = uncertainty_of(newest);
    fact.conditions = newest.conditions;
    fact.taken_at = newest.taken_at;
    fact.measurement = newest.id;
    if (newest.quantity == Quantity::resistance)
        fact.instrument = newest.instrument;
    if (!fact.uncertainty || !(*fact.uncertainty > 0))
        return fact;
    double weight = 1 / (*fact.uncertainty * *fact.uncertainty);
    double sum = weight * newest.value;
    // What one instrument has in common with itself does not average away: no better than half of the best.
    double best = *fact.uncertainty;
    for (std::size_t i = of_quantity.size() - 1; i-- > 0;) {
        const Measurement& older = *of_quantity[i];
        if (!repeats(newest, older))
            break; // a change in between ends the repetition
        const double u = *uncertainty_of(older);
        weight += 1 / (u * u);
        sum += older.value / (u * u);
        best = std::min(best, u);
        ++fact.combined;
    }
    if (fact.combined > 1) {
        fact.value = sum / weight;
        fact.uncertainty = std::max(1 / std::sqrt(weight), best / 2);
    }
    return fact;
}

// Of the newest discharge of which both temperatures were read.
std::optional<Fact> rise_from(const std::vector<const Measurement*>& ordered) {
    for (auto m = ordered.rbegin(); m != ordered.rend(); ++m) {
        const Conditions& when = (*m)->conditions;
        if ((*m)->quantity != Quantity::temperature || when.condition != Condition::load || !when.temperature_c)
            continue;
        Fact fact((*m)->value - *when.temperature_c);
        fact.conditions = when;
        fact.taken_at = (*m)->taken_at;
        fact.measurement = (*m)->id;
        return fact;
    }
    return std::nullopt;
}

} // namespace

void take_history(UnitFacts& facts, std::span<const Measurement> history, const std::string& last_run_at) {
    std::vector<const Measurement*> ordered;
    ordered.reserve(history.size());
    for (const Measurement& m : history)
        ordered.push_back(&m);
    std::stable_sort(ordered.begin(), ordered.end(),
                     [](const Measurement* a, const Measurement* b) { return earlier(*a, *b); });
    const auto of = [&](Quantity quantity) {
        std::vector<const Measurement*> found;
        for (const Measurement* m : ordered) {
            const bool rested =
                m->conditions.condition == Condition::rest || m->conditions.condition == Condition::stored;
            // What is left after weeks on the shelf is not what the unit holds.
            const bool left_over = quantity == Quantity::capacity && m->conditions.condition == Condition::stored;
            if (m->quantity == quantity && !left_over && (quantity != Quantity::voltage || rested))
                found.push_back(m);
        }
        return fact_from(found);
    };
    facts.capacity_ah = of(Quantity::capacity);
    facts.dc_resistance_ohm = of(Quantity::dc_resistance);
    facts.ac_resistance_ohm = of(Quantity::ac_resistance);
    facts.resistance_ohm = of(Quantity::resistance);
    facts.self_discharge_ah_per_day = of(Quantity::self_discharge);
    facts.rest_voltage_v = of(Quantity::voltage);
    facts.rise_k = rise_from(ordered);
    if (facts.rest_voltage_v && !last_run_at.empty() && last_run_at > facts.rest_voltage_v->taken_at)
        facts.rest_voltage_v->lapse = Lapse::run_since;
}

std::vector<Unlike> unlike_most(const std::vector<std::optional<Fact>>& facts) {
    // The conditions that most others are like.
    std::size_t middle = facts.size();
    std::size_t most = 0;
    constexpr std::size_t candidates = 200; // enough to meet the majority in a pool of any size
    const std::size_t every = std::max<std::size_t>(1, facts.size() / candidates);
    for (std::size_t i = 0; i < facts.size(); i += every) {
        if (!facts[i])
            continue;
        std::size_t like = 0;
        for (std::size_t j = 0; j < facts.size(); j += every)
            like += facts[j] && incomparable(facts[i]->conditions, facts[j]->conditions).empty() ? 1 : 0;
        // Of two alike the one that says more: unknown conditions are like everything.
        const auto known = [&](std::size_t k) {
            const Conditions& c = facts[k]->conditions;
            return int(c.discharge_current_a.has_value()) + int(c.cutoff_v.has_value()) +
                   int(c.charged_to_v.has_value()) + int(c.temperature_c.has_value());
        };
        if (like > 0 &&
            (middle == facts.size() || known(i) > known(middle) || (known(i) == known(middle) && like > most))) {
            most = like;
            middle = i;
        }
    }
    std::vector<Unlike> out;
    if (middle == facts.size())
        return out;
    for (std::size_t i = 0; i < facts.size(); ++i)
        if (facts[i])
            if (auto reasons = incomparable(facts[middle]->conditions, facts[i]->conditions); !reasons.empty())
                out.push_back({i, std::move(reasons)});
    return out;
}

} // namespace ingot
