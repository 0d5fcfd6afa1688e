// What a shop writes down beside measurements, runs and assemblies. Nothing is deleted: what was wrong is struck out.
#pragma once

#include "core/cells/id.h"

#include <optional>
#include <string>

namespace ingot {

// How a workshop file is open.
enum class Access { writing, reading_other_window, reading_only_file };

struct Lot {
    Id id = 0;
    std::string label, source, received, note;
    std::optional<double> cost;
};

// What is seen on a pack or a unit: a code of the library.
struct Finding {
    Id id = 0;
    Id assembly = 0, unit = 0; // one of them
    std::string code, noted_at;
};

struct Quarantine {
    Id id = 0;
    Id assembly = 0, unit = 0; // one of them
    std::string reason, opened_at, closed_at, closing_reason;
};

// What is said or done about a pack: a symptom, a replaced unit, a swapped lead, a ticked step of the teardown plan.
enum class NoteKind { symptom, replaced, lead_swap, teardown };
[[nodiscard]] const char* code(NoteKind kind);
[[nodiscard]] std::optional<NoteKind> note_kind_from(const std::string& code);
struct PackNote {
    Id id = 0;
    Id assembly = 0;
    NoteKind kind{};
    int group = 0;
    std::string code; // symptom's or step's id; "moved" or "stayed"
    std::string noted_at;
};

// What a person knows of a pack or a unit that no instrument says, in the person's words. The newest of a kind counts.
enum class ParticularKind {
    device,      // it came out of, or runs
    charger,     // there or not, and which
    board,       // protection board: kind, balance leads, latches when unpowered, wakes only on a charger
    age,         // or date code
    cycles,      // or days of use
    repairs,     // earlier ones
    price,       // paid
    words,       // the customer's
    note,        // free
    true_cause,  // what it turned out to be: a fault's code and its groups ("leaking-cell 3")
    mass,        // of a unit, g
    hours,       // what a job on a pack took: route, hours, those reckoned before ("rebuild 3.2 2.7")
    matched_set, // its units are a matched set: by whom; no longer known once somebody broke it
    parts_found, // inside it, beside its units (found_parts.h)
};
inline constexpr int particular_count = 14;
[[nodiscard]] const char* code(ParticularKind kind);
[[nodiscard]] std::optional<ParticularKind> particular_kind_from(const std::string& code);
struct Particular {
    Id id = 0;
    Id assembly = 0, unit = 0; // one of them
    ParticularKind kind{};
    std::string value; // empty: no longer known
    std::string noted_at;
};

struct Photo {
    Id id = 0;
    Id assembly = 0;
    std::string name, media_type, added_at;
    std::string data; // empty in lists
};

struct Tray {
    std::string name;
    int columns = 0, rows = 0;
};

// A verdict that a person decided otherwise.
struct Overrule {
    Id id = 0;
    Id unit = 0;
    std::string from_duty, duty, reason, rule_set, made_at;
};

struct Event {
    std::string at, what, subject, detail;
    Id id = 0;
};

// One of the library's texts.
struct LibraryRow {
    std::string kind, name, text;
    int version = 1;
};

} // namespace ingot
