#include "workshop/library_wording.h"

#include "workshop/translated.h"
#include "workshop/triage_wording.h"

#include <QCoreApplication>

#include <array>

namespace ingot::wording {

namespace {

struct EntryWord {
    const char* key;
    const char* words;
};
constexpr std::array<EntryWord, 65> entry_words{{
    {"id", QT_TRANSLATE_NOOP("ingot::wording", "Short name, as printed")},
    {"symptoms.id", QT_TRANSLATE_NOOP("ingot::wording", "Short name")},
    {"symptoms.name", QT_TRANSLATE_NOOP("ingot::wording", "In the words of who brings the pack")},
    {"instrument.id", QT_TRANSLATE_NOOP("ingot::wording", "Name, as its readings have it")},
    {"name", QT_TRANSLATE_NOOP("ingot::wording", "Name")},
    {"source", QT_TRANSLATE_NOOP("ingot::wording", "Where the figures are from")},
    {"chemistry", QT_TRANSLATE_NOOP("ingot::wording", "Chemistry (short name)")},
    {"format", QT_TRANSLATE_NOOP("ingot::wording", "Format (short name)")},
    {"cells_in_series", QT_TRANSLATE_NOOP("ingot::wording", "Cells in series in it")},
    {"rated_ah", QT_TRANSLATE_NOOP("ingot::wording", "Rated capacity, Ah")},
    {"new_dc_resistance_ohm", QT_TRANSLATE_NOOP("ingot::wording", "Resistance when new, DC, mΩ")},
    {"new_ac_resistance_ohm", QT_TRANSLATE_NOOP("ingot::wording", "Resistance when new, AC 1 kHz, mΩ")},
    {"continuous_a", QT_TRANSLATE_NOOP("ingot::wording", "Continuous discharge current, A")},
    {"peak_a", QT_TRANSLATE_NOOP("ingot::wording", "Discharge current for seconds, A")},
    {"charge_a", QT_TRANSLATE_NOOP("ingot::wording", "Charge current at the most, A")},
    {"models.charge_limit_v", QT_TRANSLATE_NOOP("ingot::wording", "Charged to at the most, V a cell")},
    {"mass_kg", QT_TRANSLATE_NOOP("ingot::wording", "Mass, g")},
    {"low_self_discharge", QT_TRANSLATE_NOOP("ingot::wording", "Keeps most of its charge over a year (nickel)")},
    {"lithium", QT_TRANSLATE_NOOP("ingot::wording", "Lithium: never without a board")},
    {"voltage_tells_charge", QT_TRANSLATE_NOOP("ingot::wording", "A rested voltage tells its charge")},
    {"voltage.nominal_low_v", QT_TRANSLATE_NOOP("ingot::wording", "Nominal, from, V")},
    {"voltage.nominal_high_v", QT_TRANSLATE_NOOP("ingot::wording", "Nominal, to, V")},
    {"voltage.full_v", QT_TRANSLATE_NOOP("ingot::wording", "Full, V")},
    {"voltage.charge_limit_v", QT_TRANSLATE_NOOP("ingot::wording", "Charge limit, V")},
    {"voltage.charge_reaches_v", QT_TRANSLATE_NOOP("ingot::wording", "Reaches while it charges, V")},
    {"voltage.charge_tolerance_v", QT_TRANSLATE_NOOP("ingot::wording", "A charger may end above the limit by, V")},
    {"voltage.test_cutoff_v", QT_TRANSLATE_NOOP("ingot::wording", "A capacity test ends at, V")},
    {"voltage.highest_cutoff_v", QT_TRANSLATE_NOOP("ingot::wording", "No test ends above, V")},
    {"voltage.floor_v", QT_TRANSLATE_NOOP("ingot::wording", "Never discharged below, V")},
    {"voltage.scrap_below_v", QT_TRANSLATE_NOOP("ingot::wording", "Found at rest under this: scrap, V")},
    {"voltage.quarantine_below_v", QT_TRANSLATE_NOOP("ingot::wording", "Found at rest under this: quarantine, V")},
    {"bands.dead_below_v", QT_TRANSLATE_NOOP("ingot::wording", "Dead below, V")},
    {"bands.deep_below_v", QT_TRANSLATE_NOOP("ingot::wording", "Deep below, V")},
    {"bands.low_below_v", QT_TRANSLATE_NOOP("ingot::wording", "Low below, V")},
    {"bands.working_up_to_v", QT_TRANSLATE_NOOP("ingot::wording", "Working up to, V")},
    {"bands.over_above_v", QT_TRANSLATE_NOOP("ingot::wording", "Over above, V")},
    {"ocv", QT_TRANSLATE_NOOP("ingot::wording", "Curve of rested voltage (short name)")},
    {"iec_size", QT_TRANSLATE_NOOP("ingot::wording", "Size code of the standard")},
    {"diameter_mm", QT_TRANSLATE_NOOP("ingot::wording", "Diameter of a round cell, mm")},
    {"broad_mm", QT_TRANSLATE_NOOP("ingot::wording", "Breadth of a flat cell, mm")},
    {"thick_mm", QT_TRANSLATE_NOOP("ingot::wording", "Thickness of a flat cell, mm")},
    {"height_mm", QT_TRANSLATE_NOOP("ingot::wording", "Length or height, mm")},
    {"consequence", QT_TRANSLATE_NOOP("ingot::wording", "What follows")},
    {"what_to_do", QT_TRANSLATE_NOOP("ingot::wording", "What to do, in a sentence")},
    {"refuses_charge", QT_TRANSLATE_NOOP("ingot::wording", "It is the charge that does not go in")},
    {"kind", QT_TRANSLATE_NOOP("ingot::wording", "Kind")},
    {"channels", QT_TRANSLATE_NOOP("ingot::wording", "Channels")},
    {"volts_resolution", QT_TRANSLATE_NOOP("ingot::wording", "Last digit of its volts, mV")},
    {"amperes_resolution", QT_TRANSLATE_NOOP("ingot::wording", "Last digit of its amperes, mA")},
    {"current_gain", QT_TRANSLATE_NOOP("ingot::wording", "Reads amperes too high by, %")},
    {"current_offset_a", QT_TRANSLATE_NOOP("ingot::wording", "Shows with no current, mA")},
    {"prices.hour", QT_TRANSLATE_NOOP("ingot::wording", "An hour of hands")},
    {"prices.stock_unit", QT_TRANSLATE_NOOP("ingot::wording", "A good unit of the stock brings")},
    {"prices.board", QT_TRANSLATE_NOOP("ingot::wording", "A board")},
    {"prices.charger", QT_TRANSLATE_NOOP("ingot::wording", "A charger")},
    {"prices.strip_and_sundries", QT_TRANSLATE_NOOP("ingot::wording", "Strip, insulation, leads of a pack")},
    {"prices.recycling", QT_TRANSLATE_NOOP("ingot::wording", "Recycling a pack; under 0: they pay")},
    {"hours.open_and_close", QT_TRANSLATE_NOOP("ingot::wording", "Open a pack and close it, h")},
    {"hours.per_unit_tested", QT_TRANSLATE_NOOP("ingot::wording", "Test a unit, hands alone, h")},
    {"hours.per_unit_replaced", QT_TRANSLATE_NOOP("ingot::wording", "Replace a unit: cut, weld, insulate, h")},
    {"hours.per_unit_built", QT_TRANSLATE_NOOP("ingot::wording", "A unit of a pack built from nothing, h")},
    {"hours.prove", QT_TRANSLATE_NOOP("ingot::wording", "Prove a pack, h")},
    {"hours.day_waited", QT_TRANSLATE_NOOP("ingot::wording", "A day without the device counts as, h")},
    {"version", QT_TRANSLATE_NOOP("ingot::wording", "Version")},
    {"charge_limit_v", QT_TRANSLATE_NOOP("ingot::wording", "Charge limit, V")},
}};
constexpr std::array<EntryWord, 10> choice_words{{
    {"go-on", QT_TRANSLATE_NOOP("ingot::wording", "go on")},
    {"with-care", QT_TRANSLATE_NOOP("ingot::wording", "go on with care")},
    {"quarantine", QT_TRANSLATE_NOOP("ingot::wording", "quarantine")},
    {"refuse", QT_TRANSLATE_NOOP("ingot::wording", "refused")},
    {"", QT_TRANSLATE_NOOP("ingot::wording", "not said")},
    {"meter", QT_TRANSLATE_NOOP("ingot::wording", "meter")},
    {"tester", QT_TRANSLATE_NOOP("ingot::wording", "tester")},
    {"charger", QT_TRANSLATE_NOOP("ingot::wording", "charger")},
    {"board", QT_TRANSLATE_NOOP("ingot::wording", "protection board")},
    {"supply", QT_TRANSLATE_NOOP("ingot::wording", "bench supply")},
}};

template <std::size_t count> QString word_in(const std::array<EntryWord, count>& words, const std::string& key) {
    for (const EntryWord& word : words)
        if (key == word.key)
            return QCoreApplication::translate("ingot::wording", word.words);
    return {};
}

} // namespace

QString entry_field(exchange::EntryKind kind, const std::string& key) {
    constexpr std::string_view met = "met.";
    if (key.starts_with(met)) {
        const auto of = fault_from(key.substr(met.size()));
        return of ? tr("Of 100 packs: %1").arg(wording::fault(*of)) : QString();
    }
    const std::string own = kind == exchange::EntryKind::instrument ? "instrument" : exchange::library_kind(kind);
    const QString words = word_in(entry_words, own + "." + key);
    return words.isEmpty() ? word_in(entry_words, key) : words;
}

QString entry_choice(const std::string& choice) {
    return word_in(choice_words, choice);
}

double entry_factor(const std::string& key) {
    constexpr double milli = 0.001;
    constexpr double percent = 0.01;
    if (key.starts_with("met.") || key == "current_gain")
        return percent;
    return key.ends_with("_ohm") || key.ends_with("_kg") || key.ends_with("_resolution") || key == "current_offset_a"
               ? milli
               : 1;
}

} // namespace ingot::wording
