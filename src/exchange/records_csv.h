// A shop's records as open files: lots, packs, units, readings, builds. The demo workshop is brought in through these.
// Columns are described in docs/formats/records.md.
#pragma once

#include "core/build/design.h"
#include "core/cells/claim.h"
#include "core/measure/measurement.h"
#include "exchange/csv.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ingot::exchange {

struct LotRow {
    std::string label, source, received, note;
    std::optional<double> cost;
    int line = 0;
};
struct PackRow {
    std::string lot, label, chemistry, format, model, shelf, stage, gate_passed;
    PackLayout layout;
    PackClaim claim;
    std::vector<std::string> findings; // codes
    int line = 0;
};
struct UnitRow {
    std::string code, pack, model, tray;
    int group = 0, place = 0, well = 0; // 0 = not known
    std::vector<std::string> findings;
    int line = 0;
};
// Of a unit, or of a pack's group (group 0: the terminals).
struct ReadingRow {
    std::string unit, pack, taken;
    int group = 0;
    Measurement reading;
    int line = 0;
};
struct BuildRow {
    std::string build, unit;
    int group = 0;
    bool taken = false;
    int line = 0;
};

// Meters, testers, chargers: `Name,Kind,Channels`.
// A figure that a build is designed with; see docs/formats/records.md for the figures' names.
struct DesignRow {
    std::string build;
    DesignFigure figure{};
    std::string value; // SI or words
    int line = 0;
};
// `Build,Figure,Value`. Objects to a figure that nobody knows and to a value that it cannot have.
[[nodiscard]] Result<std::vector<DesignRow>> read_designs(std::string_view text, const std::string& file);

struct InstrumentRow {
    std::string name, kind;
    int channels = 1;
    int line = 0;
};
[[nodiscard]] Result<std::vector<InstrumentRow>> read_instruments(std::string_view text, const std::string& file);
[[nodiscard]] Result<std::vector<LotRow>> read_lots(std::string_view text, const std::string& file);
[[nodiscard]] Result<std::vector<PackRow>> read_packs(std::string_view text, const std::string& file);
[[nodiscard]] Result<std::vector<UnitRow>> read_units(std::string_view text, const std::string& file);
[[nodiscard]] Result<std::vector<ReadingRow>> read_readings(std::string_view text, const std::string& file);
// When each log was written: `File,Taken`; by file name, ISO 8601.
[[nodiscard]] Result<std::map<std::string, std::string>> read_log_dates(std::string_view text, const std::string& file);
[[nodiscard]] Result<std::vector<BuildRow>> read_builds(std::string_view text, const std::string& file);

} // namespace ingot::exchange
