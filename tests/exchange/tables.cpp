// The smaller open tables and texts: donors, cycles, jobs and their calendar, attended hours, a worth case, a strip
// drawing, a log in the open battery data columns. What comes in right, and what is objected to with line and remedy.
#include "exchange/attended_hours.h"
#include "exchange/cycles_csv.h"
#include "exchange/donors_csv.h"
#include "exchange/jobs_csv.h"
#include "exchange/library_toml.h"
#include "exchange/log_csv.h"
#include "exchange/match_demands_json.h"
#include "exchange/strip_drawing_json.h"
#include "exchange/worth_json.h"

#include <catch2/catch.hpp>

#include <algorithm>

using namespace ingot;
using namespace ingot::exchange;

namespace {

template <class T> std::string text_of(const Result<T>& result) {
    REQUIRE_FALSE(result);
    return result.problem().text();
}
bool has(const std::string& text, const std::string& part) {
    return text.find(part) != std::string::npos;
}

} // namespace

TEST_CASE("Donor groups: capacity and model may be missing, a dead group is a group") {
    const auto read = read_donor_groups("Pack,Group,Voltage / V,Capacity / Ah,Model\n"
                                        "LAN-90 1,1,3.71,5.4,H26\n"
                                        "LAN-90 1,2,0,,\n"
                                        "LAN-90 2,1,3.69,5.1,H30\n",
                                        "d.csv");
    REQUIRE(read);
    REQUIRE(read.value().size() == 3);
    CHECK(read.value()[0].pack == "LAN-90 1");
    CHECK(*read.value()[0].capacity_ah == 5.4);
    CHECK(read.value()[0].model == "H26");
    CHECK(read.value()[1].voltage_v == 0);
    CHECK_FALSE(read.value()[1].capacity_ah);
    CHECK(read.value()[1].model.empty());
    const auto bare = read_donor_groups("pack;block;voltage mV\na;1;3710\n", "d.csv");
    REQUIRE(bare);
    CHECK(bare.value()[0].voltage_v == Approx(3.71));

    const std::string head = "Pack,Group,Voltage / V,Capacity / Ah\n";
    CHECK(has(text_of(read_donor_groups(head + "a,1,3.7,\na,1,3.8,\n", "d.csv")), "d.csv:3"));
    CHECK(has(text_of(read_donor_groups(head + "a,1,3.7,\na,1,3.8,\n", "d.csv")), "line 2 already"));
    CHECK(has(text_of(read_donor_groups(head + "a,1.5,3.7,\n", "d.csv")), "number from 1 to 200"));
    CHECK(has(text_of(read_donor_groups(head + "a,1,,\n", "d.csv")), "d.csv:2"));
    CHECK(has(text_of(read_donor_groups(head + ",1,3.7,\n", "d.csv")), "label"));
    CHECK(has(text_of(read_donor_groups(head + "a,1,3.7,-2\n", "d.csv")), "negative"));
    CHECK(has(text_of(read_donor_groups(head, "d.csv")), "no group"));
    CHECK_FALSE(read_donor_groups("Group,Voltage / V\n1,3.7\n", "d.csv"));
}

TEST_CASE("Cycles: by unit in their order, and what ended early is not full") {
    const auto read = read_cycles("Unit ID,Cycle,Discharge Capacity / mAh,Stop\n"
                                  "G3-0002-7,1,3620,\n"
                                  "G3-0003-0,1,4010,cutoff\n"
                                  "G3-0002-7,2,4050,CUTOFF\n"
                                  "G3-0002-7,3,2100,temperature\n",
                                  "c.csv");
    REQUIRE(read);
    REQUIRE(read.value().size() == 2);
    CHECK(read.value()[0].unit == "G3-0002-7");
    REQUIRE(read.value()[0].cycles.size() == 3);
    CHECK(read.value()[0].cycles[0].capacity_ah == Approx(3.62));
    CHECK(read.value()[0].cycles[1].full);
    CHECK_FALSE(read.value()[0].cycles[2].full);
    const std::string head = "Unit ID,Cycle,Discharge Capacity / Ah\n";
    CHECK(has(text_of(read_cycles(head + "a,1,4\na,1,5\n", "c.csv")), "c.csv:3"));
    CHECK(has(text_of(read_cycles(head + "a,1.5,4\n", "c.csv")), "whole number"));
    CHECK(has(text_of(read_cycles(head + "a,1,-4\n", "c.csv")), "negative"));
    CHECK(has(text_of(read_cycles(head + "a,,4\n", "c.csv")), "c.csv:2"));
    CHECK(has(text_of(read_cycles(head + "a,1,\n", "c.csv")), "c.csv:2"));
    CHECK(has(text_of(read_cycles(head, "c.csv")), "no cycle"));
}

TEST_CASE("Jobs: hours, places in a row, and what each draws") {
    const auto read = read_jobs("Unit ID,Duration / h,Position,Charge Current / A\n"
                                "G3-0001-E,23.5,1,1.3\n"
                                "G3-0004-S,24,,\n",
                                "j.csv");
    REQUIRE(read);
    REQUIRE(read.value().size() == 2);
    CHECK(read.value()[0].duration_h == 23.5);
    CHECK(*read.value()[0].position == 1);
    CHECK(read.value()[0].charge_a == 1.3);
    CHECK_FALSE(read.value()[1].position);
    CHECK(read.value()[1].charge_a == 0);
    const std::string head = "Unit ID,Duration / h,Position,Charge Current / A\n";
    CHECK(has(text_of(read_jobs(head + "a,0,,\n", "j.csv")), "not believed"));
    CHECK(has(text_of(read_jobs(head + "a,9000,,\n", "j.csv")), "a year"));
    CHECK(has(text_of(read_jobs(head + "a,2,1,\nb,2,1,\n", "j.csv")), "position 1 stands on line 2"));
    CHECK(has(text_of(read_jobs(head + "a,2,,\na,2,,\n", "j.csv")), "unit a stands on line 2"));
    CHECK(has(text_of(read_jobs(head + "a,2,1.5,\n", "j.csv")), "whole number"));
    CHECK(has(text_of(read_jobs(head + "a,2,,-1\n", "j.csv")), "supply"));
    CHECK(has(text_of(read_jobs(head, "j.csv")), "no job"));
}

// RFC 5545: lines end with CR LF and hold at most 75 octets, longer ones are folded by CR LF and a blank (3.1); commas,
// semicolons, backslashes and line ends in texts are escaped (3.3.11); an event has UID and DTSTAMP (3.6.1).
TEST_CASE("The calendar of visits keeps to RFC 5545") {
    const std::string long_text =
        "Lift bay 3, bay 4; put in \u00e4ltere Module \\ check each:\n" + std::string(200, 'x');
    const std::string text = write_calendar({{"20260105T080000", "20260105T081500", "Bench: 2 to lift", long_text},
                                             {"20260106T080000", "20260106T081500", "Bench", "nothing else"}},
                                            "20260104T120000Z");
    std::string unfolded;
    std::size_t from = 0;
    int lines = 0;
    while (from < text.size()) {
        const auto end = text.find("\r\n", from);
        REQUIRE(end != std::string::npos);
        const std::string line = text.substr(from, end - from);
        CHECK(line.size() <= 75);
        CHECK(line.find('\n') == std::string::npos);
        if (!line.empty() && line.front() == ' ')
            unfolded += line.substr(1);
        else
            unfolded += (lines > 0 ? "\n" : "") + line;
        ++lines;
        from = end + 2;
    }
    CHECK(has(unfolded, "BEGIN:VCALENDAR\nVERSION:2.0\nPRODID:"));
    CHECK(has(unfolded, "DTSTART:20260105T080000\nDTEND:20260105T081500\n"));
    CHECK(has(unfolded, "DTSTAMP:20260104T120000Z\n"));
    CHECK(has(unfolded, "DESCRIPTION:Lift bay 3\\, bay 4\\; put in \u00e4ltere Module \\\\ check each:\\n" +
                            std::string(200, 'x') + "\n"));
    const auto first = unfolded.find("UID:");
    const auto second = unfolded.find("UID:", first + 1);
    REQUIRE(second != std::string::npos);
    CHECK(unfolded.substr(first, unfolded.find('\n', first) - first) !=
          unfolded.substr(second, unfolded.find('\n', second) - second));
    CHECK(unfolded.substr(unfolded.size() - 13) == "END:VCALENDAR");
}

TEST_CASE("Attended hours as people write them, there and back") {
    auto shift = parse_shift("08:30-18:00");
    REQUIRE(shift);
    CHECK(shift.value().open_h == 8.5);
    CHECK(shift.value().close_h == 18);
    CHECK(write_shift(shift.value()) == "08:30-18:00");
    CHECK(parse_shift("8-24"));
    for (const char* wrong : {"", "8", "18:00-08:00", "08:00-08:00", "08:60-18:00", "25-26", "24:01-24:02", "a-b",
                              "08:00-18:00:00", "-8--7"})
        CHECK(has(text_of(parse_shift(wrong)), "08:00-18:00"));
    AttendedHours& hours = shift.value();
    REQUIRE(parse_days("mon-fri", hours));
    CHECK(write_days(hours) == "mon,tue,wed,thu,fri");
    REQUIRE(parse_days("Sat-Mon", hours)); // over the weekend
    CHECK(write_days(hours) == "mon,sat,sun");
    REQUIRE(parse_days(write_days(hours), hours));
    CHECK(write_days(hours) == "mon,sat,sun");
    for (const char* wrong : {"", "xyz", "mon-", "mon,,tue", "mon-xyz"}) {
        AttendedHours kept = hours;
        CHECK_FALSE(parse_days(wrong, kept));
        CHECK(kept.days == hours.days);
    }
}

TEST_CASE("A worth case is read over the usual one, written whole, and read again alike") {
    const WorthCase usual = read_library(INGOT_SOURCE_DIR "/data").value().usual_worth;
    CHECK(usual.prices.hour == 20);
    const auto read = read_worth_case(R"({"pack": {"units": 28, "units_to_replace": 4, "unit_wh": 9.4},
        "prices": {"hour": 25.5}, "outlook": {"rebuild": {"years": 6}}})",
                                      "w.json", usual);
    REQUIRE(read);
    CHECK(read.value().pack.units == 28);
    CHECK(read.value().prices.hour == 25.5);
    CHECK(read.value().of(WorthRoute::rebuild).years == 6); // "outlook" is what older files say
    CHECK(read.value().prices.board == usual.prices.board);
    const std::string written = write_worth_case(read.value());
    const auto again = read_worth_case(written, "w.json", {});
    REQUIRE(again);
    CHECK(write_worth_case(again.value()) == written);
    CHECK(again.value().prices.hour == 25.5);
    // A case of an older Ingot: its shared figures are the routes' own now.
    const auto old =
        read_worth_case(R"({"pack": {"units": 4, "unit_wh": 9, "kept_share": 0.7, "conversion_wh_share": 0.85},
        "prices": {"bought_unit": 3, "donor_unit": 0.5, "new_unit": 5, "new_pack": 90, "reconditioned_pack": 60,
                   "conversion_unit": 4, "conversion_charger": 35},
        "hours": {"conversion": 2.5, "buying": 0.4}})",
                        "w.json", usual);
    REQUIRE(old);
    using R = WorthRoute;
    CHECK(old.value().of(R::repair_with_bought_units).price == 3);
    CHECK(old.value().of(R::repair_from_donors).price == 0.5);
    CHECK(old.value().of(R::rebuild).price == 5);
    CHECK(old.value().of(R::buy_new).price == 90);
    CHECK(old.value().of(R::buy_reconditioned).price == 60);
    CHECK(old.value().of(R::buy_reconditioned).kept_share == 0.7);
    CHECK(old.value().of(R::repair_from_stock).kept_share == 0.7);
    CHECK(old.value().of(R::convert).kept_share == 0.85);
    CHECK(old.value().of(R::convert).extra_hours == 2.5);
    CHECK(old.value().of(R::buy_new).extra_hours == 0.4);
    CHECK(old.value().prices.charger == 35);
    const auto whole = read_worth_case(R"({"aim": "stock", "pack": {"charger_at_hand": false, "board_sound": null},
        "routes": {"convert": {"charger": "new", "board": "none", "units": 14}}})",
                                       "w.json", usual);
    REQUIRE(whole);
    CHECK(whole.value().aim == WorthAim::stock);
    CHECK(whole.value().pack.charger_at_hand == false);
    CHECK_FALSE(whole.value().pack.board_sound);
    CHECK(whole.value().of(R::convert).units == 14);
    CHECK(whole.value().of(R::convert).board == WorthPart::none);
    CHECK(has(text_of(read_worth_case(R"({"pack": {}, "aim": "fame"})", "w.json", usual)), "\"device\" or"));
    CHECK(has(text_of(read_worth_case(R"({"pack": {"board_sound": 1}})", "w.json", usual)), "true, false"));
    CHECK(has(text_of(read_worth_case(R"({"pack": {}, "routes": {"rebuild": {"charger": "two"}}})", "w.json", usual)),
              "\"none\", \"old\""));

    CHECK(has(text_of(read_worth_case("{}", "w.json", usual)), "\"pack\" is missing"));
    CHECK(has(text_of(read_worth_case("[1]", "w.json", usual)), "not a JSON object"));
    CHECK(has(text_of(read_worth_case("{", "w.json", usual)), "not a JSON object"));
    CHECK(has(text_of(read_worth_case(R"({"pack": {"unites": 3}})", "w.json", usual)), "pack.unites"));
    CHECK(has(text_of(read_worth_case(R"({"pack": {"units": 2.5}})", "w.json", usual)), "whole number"));
    CHECK(has(text_of(read_worth_case(R"({"pack": {"unit_wh": "9"}})", "w.json", usual)), "must be a number"));
    CHECK(has(text_of(read_worth_case(R"({"pack": 3})", "w.json", usual)), "must be an object"));
    CHECK(has(text_of(read_worth_case(R"({"pack": {}, "outlook": {"fly": {}}})", "w.json", usual)), "\"fly\""));
    CHECK(has(text_of(read_worth_case(R"({"pack": {}, "price": {}})", "w.json", usual)), "Use aim, pack, prices"));
}

TEST_CASE("A strip drawing there and back; one that is broken is drawn again") {
    StripDrawing drawing = StripDrawing::usual(7);
    drawing.free_to_slide = StripDrawing::Face::back;
    drawing.toggle(StripDrawing::Face::front, 5, 2);
    const auto again = read_strip_drawing(write_strip_drawing(drawing), 7);
    REQUIRE(again);
    CHECK(again.value() == drawing);
    CHECK(drawing.gaps(7).empty());
    CHECK_FALSE(read_strip_drawing(write_strip_drawing(drawing), 4)); // of another pack
    for (const char* wrong :
         {"", "[]", "{}", R"({"front": [[1, 2]]})", R"({"front": [[1]], "back": []})",
          R"({"front": [[1, "2"]], "back": []})", R"({"front": [[1, 1]], "back": []})", R"({"front": 3, "back": []})"})
        CHECK(has(text_of(read_strip_drawing(wrong, 7)), "Draw it again"));
    const auto odd = read_strip_drawing(R"({"front": [], "back": [], "free_to_slide": 7})", 7);
    REQUIRE(odd);
    CHECK(odd.value().free_to_slide == StripDrawing::Face::front);
}

TEST_CASE("A log in the open battery data columns is read again as the same log") {
    LogSamples log;
    for (int i = 0; i < 40; ++i) {
        log.time_s.push_back(10.0 * i);
        log.voltage_v.push_back(4.1 - 0.01 * i);
        log.current_a.push_back(i < 20 ? -1.25 : i < 30 ? 0.0 : 0.5);
        log.temperature_c.push_back(20 + 0.1 * i);
    }
    const std::string text = write_battery_data(log);
    CHECK(text.find("Test Time / s") == 0);
    const auto read = read_log(text, "b.csv");
    REQUIRE(read);
    const LogSamples& got = read.value().samples;
    REQUIRE(got.time_s.size() == log.time_s.size());
    for (std::size_t i = 0; i < got.time_s.size(); ++i) {
        CHECK(got.time_s[i] == Approx(log.time_s[i]));
        CHECK(got.voltage_v[i] == Approx(log.voltage_v[i]).margin(1e-6));
        CHECK(got.current_a[i] == Approx(log.current_a[i]).margin(1e-9));
        CHECK(got.temperature_c[i] == Approx(log.temperature_c[i]).margin(1e-6));
    }
    const auto plain = read_log(write_log(log), "l.csv");
    REQUIRE(plain);
    CHECK(plain.value().samples.voltage_v == got.voltage_v);
}

TEST_CASE("What matches are to keep is written and read again; what is no demand is named with its place") {
    MatchDemands asked;
    asked.one_model_per_group = true;
    asked.join_window_v = 0.05;
    MatchDemands load;
    load.load_a = 20;
    const std::string text = exchange::write_match_demands({{"mower", asked}, {"lamp \"one\"", load}});
    const auto read = exchange::read_match_demands(text, "setting");
    REQUIRE(read);
    REQUIRE(read.value().size() == 2);
    CHECK(read.value().at("mower").one_model_per_group);
    CHECK(read.value().at("mower").join_window_v == 0.05);
    CHECK_FALSE(read.value().at("mower").load_a);
    CHECK(read.value().at("lamp \"one\"").load_a == 20.0);
    CHECK(exchange::read_match_demands("", "setting").value().empty());
    const auto refused = [](const char* wrong, const char* what) {
        const auto bad = exchange::read_match_demands(wrong, "setting");
        REQUIRE_FALSE(bad);
        INFO(bad.problem().text());
        CHECK(bad.problem().text().find(what) != std::string::npos);
    };
    refused("[1, 2]", "object");
    refused("{\"a\": 1}", "\"a\"");
    refused("{\"a\": {\"load_a\": -3}}", "load_a");
    refused("{\"a\": {\"load_a\": \"20\"}}", "load_a");
    refused("{\"a\": {\"whole_origins\": 1}}", "whole_origins");
    refused("{\"a\": {\"twins\": true}}", "twins");
    refused("{\"a\": {", "object");
}
