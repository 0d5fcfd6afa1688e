// The names of a proof's rounds, items, signs and notes, as files and tables have them.
#include "core/prove/proof.h"
#include "core/prove/proof_note.h"

namespace ingot {

namespace {

constexpr std::array<const char*, proof_round_count> round_codes{
    "at-rest", "insulation", "board", "end-of-charge", "after-rest", "units", "under-load", "run", "device"};

struct ItemKind {
    const char* code;
    ProofRound round;
    bool yes_or_no;
};
constexpr std::array<ItemKind, proof_item_count> item_kinds{{{"insulation-plus", ProofRound::insulation, false},
                                                             {"insulation-minus", ProofRound::insulation, false},
                                                             {"output", ProofRound::board, false},
                                                             {"wakes", ProofRound::board, true},
                                                             {"sensor", ProofRound::board, false},
                                                             {"capacity", ProofRound::run, false},
                                                             {"run-time", ProofRound::run, false},
                                                             {"works", ProofRound::device, true},
                                                             {"hours-to-wake", ProofRound::device, false},
                                                             {"codes-clear", ProofRound::device, true}}};
} // namespace

const char* code(ProofRound round) {
    return round_codes.at(static_cast<std::size_t>(round));
}

std::optional<ProofRound> proof_round_from(const std::string& code) {
    for (std::size_t i = 0; i < round_codes.size(); ++i)
        if (round_codes[i] == code)
            return static_cast<ProofRound>(i);
    return std::nullopt;
}

const char* code(ProofSign sign) {
    switch (sign) {
    case ProofSign::none:
        return "none";
    case ProofSign::reversed:
        return "reversed";
    case ProofSign::uneven:
        return "uneven";
    case ProofSign::over_charged:
        return "over-charged";
    case ProofSign::falling:
        return "falling";
    case ProofSign::missing_unit:
        return "missing-unit";
    case ProofSign::resistive:
        return "resistive";
    case ProofSign::terminals:
        return "terminals";
    case ProofSign::not_joined:
        return "not-joined";
    case ProofSign::insulation:
        return "insulation";
    case ProofSign::no_output:
        return "no-output";
    case ProofSign::asleep:
        return "asleep";
    case ProofSign::sensor:
        return "sensor";
    case ProofSign::short_of_capacity:
        return "short-of-capacity";
    case ProofSign::short_run:
        return "short-run";
    case ProofSign::refused:
        return "refused";
    case ProofSign::codes:
        return "codes";
    case ProofSign::other_unit:
        return "other-unit";
    }
    return "";
}

const char* code(ProofItem item) {
    return item_kinds.at(static_cast<std::size_t>(item)).code;
}

std::optional<ProofItem> proof_item_from(const std::string& code) {
    for (std::size_t i = 0; i < item_kinds.size(); ++i)
        if (item_kinds[i].code == code)
            return static_cast<ProofItem>(i);
    return std::nullopt;
}

ProofRound round_of(ProofItem item) {
    return item_kinds.at(static_cast<std::size_t>(item)).round;
}

bool is_yes_or_no(ProofItem item) {
    return item_kinds.at(static_cast<std::size_t>(item)).yes_or_no;
}

bool may_be_missing(ProofItem item) {
    return item == ProofItem::wakes || item == ProofItem::sensor || item == ProofItem::codes_clear;
}

bool reads_groups(ProofRound round) {
    return round == ProofRound::at_rest || round == ProofRound::end_of_charge || round == ProofRound::after_rest ||
           round == ProofRound::under_load;
}

bool may_be_left_out(ProofRound round) {
    return !reads_groups(round);
}

const char* code(ProofNoteKind kind) {
    switch (kind) {
    case ProofNoteKind::answer:
        return "answer";
    case ProofNoteKind::left_out:
        return "left-out";
    case ProofNoteKind::signed_:
        return "signed";
    }
    return "";
}

std::optional<ProofNoteKind> proof_note_kind_from(const std::string& code_of) {
    for (const ProofNoteKind kind : {ProofNoteKind::answer, ProofNoteKind::left_out, ProofNoteKind::signed_})
        if (code_of == code(kind))
            return kind;
    return std::nullopt;
}

} // namespace ingot
