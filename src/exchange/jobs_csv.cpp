#include "exchange/jobs_csv.h"

#include "exchange/columns.h"

#include <cmath>
#include <fmt/format.h>
#include <map>

namespace ingot::exchange {

namespace {

// RFC 5545, 3.3.11: backslash, semicolon, comma and line ends are escaped; 3.1: lines of at most 75 octets, folded.
std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text) {
        if (c == '\\' || c == ';' || c == ',')
            out += '\\';
        if (c == '\n')
            out += "\\n";
        else if (c != '\r')
            out += c;
    }
    return out;
}

void add_line(std::string& out, std::string line) {
    constexpr std::size_t most = 73;
    while (line.size() > most) {
        std::size_t cut = most;
        while (cut > 1 && (static_cast<unsigned char>(line[cut]) & 0xC0U) == 0x80U) // not inside a character
            --cut;
        out += line.substr(0, cut) + "\r\n";
        line = " " + line.substr(cut);
    }
    out += line + "\r\n";
}

} // namespace

Result<std::vector<PlanJob>> read_jobs(std::string_view text, const std::string& file) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column unit{"Unit ID", Dimension::text, {"unit id", "unit", "cell id", "module"}, true, {}, 1, {}};
    Column duration{"Duration / h", Dimension::hour, {"duration"}, true, {}, 1, {}};
    Column position{"Position", Dimension::number, {"position", "place"}, false, {}, 1, {}};
    Column charge{"Charge Current / A", Dimension::ampere, {"charge current"}, false, {}, 1, {}};
    if (const auto found = find_columns(reader, {&unit, &duration, &position, &charge}); !found)
        return found.problem();
    constexpr double most_hours = 24 * 365;
    constexpr double most_position = 100'000;
    std::vector<PlanJob> out;
    std::map<std::string, int> seen;
    std::map<int, int> places;
    Rows rows(reader);
    while (rows.next()) {
        PlanJob job;
        job.unit = rows.needed_text(unit, "Give every unit its code.");
        job.duration_h = rows.needed(duration, "Say how long it runs.");
        if (!rows.problem() && (job.duration_h <= 0 || job.duration_h > most_hours))
            rows.object(said("a duration of {} h is not believed. Give hours over 0, at most a year.",
                             fmt::format("{:g}", job.duration_h)));
        if (const auto place = rows.number(position)) {
            if (*place != std::floor(*place) || std::fabs(*place) > most_position)
                rows.object(said("position \"{}\" is not a whole number.", rows.text(position)));
            else
                job.position = static_cast<int>(*place);
        }
        job.charge_a = rows.number(charge).value_or(0);
        if (job.charge_a < 0)
            rows.object(said("\"Charge Current / A\" is negative. Give what it draws from the supply."));
        if (rows.problem())
            break;
        if (const auto [at, fresh] = seen.emplace(job.unit, rows.line()); !fresh)
            rows.object(said("unit {} stands on line {} already.", job.unit, at->second));
        if (job.position)
            if (const auto [at, fresh] = places.emplace(*job.position, rows.line()); !fresh)
                rows.object(said("position {} stands on line {} already.", *job.position, at->second));
        out.push_back(std::move(job));
    }
    if (rows.problem())
        return *rows.problem();
    if (out.empty())
        return Problem{file, 0, said("there is no job in it. Give one line for each unit.")};
    return out;
}

std::string write_calendar(const std::vector<BenchVisit>& visits, const std::string& stamp_utc) {
    std::string out;
    add_line(out, "BEGIN:VCALENDAR");
    add_line(out, "VERSION:2.0");
    add_line(out, "PRODID:-//Ingot//Bench plan//EN");
    int n = 0;
    for (const BenchVisit& visit : visits) {
        add_line(out, "BEGIN:VEVENT");
        add_line(out, fmt::format("UID:ingot-{}-{}@bench", visit.begin, ++n));
        add_line(out, "DTSTAMP:" + stamp_utc);
        add_line(out, "DTSTART:" + visit.begin);
        add_line(out, "DTEND:" + visit.end);
        add_line(out, "SUMMARY:" + escaped(visit.summary));
        add_line(out, "DESCRIPTION:" + escaped(visit.description));
        add_line(out, "END:VEVENT");
    }
    add_line(out, "END:VCALENDAR");
    return out;
}

} // namespace ingot::exchange
