#include "core/prove/proof_records.h"

namespace ingot {

Condition condition_of(ProofRound round) {
    if (round == ProofRound::end_of_charge)
        return Condition::end_of_charge;
    if (round == ProofRound::after_rest)
        return Condition::stored;
    return round == ProofRound::under_load || round == ProofRound::units ? Condition::load : Condition::rest;
}

std::optional<ProofRound> proof_round_of(const Measurement& m) {
    if (m.quantity != Quantity::voltage)
        return std::nullopt;
    if (m.subject.place != 0)
        return m.subject.group > 0 && m.conditions.condition == Condition::load ? std::optional(ProofRound::units)
                                                                                : std::nullopt;
    for (const ProofRound round :
         {ProofRound::at_rest, ProofRound::end_of_charge, ProofRound::after_rest, ProofRound::under_load})
        if (condition_of(round) == m.conditions.condition)
            return round;
    return std::nullopt;
}

Measurement item_measurement(ProofItem item) {
    Measurement m;
    switch (item) {
    case ProofItem::insulation_plus:
    case ProofItem::insulation_minus:
        m.quantity = Quantity::insulation;
        m.subject.place = item == ProofItem::insulation_plus ? 1 : 2;
        break;
    case ProofItem::output:
        m.subject.place = 1;
        break;
    case ProofItem::sensor:
        m.quantity = Quantity::sensor;
        break;
    case ProofItem::capacity:
        m.quantity = Quantity::capacity;
        break;
    case ProofItem::run_time:
        m.quantity = Quantity::duration;
        m.conditions.condition = Condition::load;
        break;
    case ProofItem::hours_to_wake:
        m.quantity = Quantity::duration;
        break;
    case ProofItem::wakes:
    case ProofItem::works:
    case ProofItem::codes_clear:
        break;
    }
    return m;
}

std::optional<ProofItem> proof_item_of(const Measurement& m) {
    if (m.subject.group != 0)
        return std::nullopt;
    for (int i = 0; i < proof_item_count; ++i) {
        const auto item = static_cast<ProofItem>(i);
        const Measurement like = item_measurement(item);
        const bool by_tester = item == ProofItem::capacity; // a bay's run on its terminals is one, however it ended
        if (!is_yes_or_no(item) && like.quantity == m.quantity && like.subject.place == m.subject.place &&
            (by_tester ? m.conditions.condition != Condition::stored
                       : like.conditions.condition == m.conditions.condition))
            return item;
    }
    return std::nullopt;
}

} // namespace ingot
