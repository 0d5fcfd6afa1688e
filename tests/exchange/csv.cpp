#include "exchange/csv.h"
#include "exchange/columns.h"

#include <catch2/catch.hpp>

using namespace ingot;
using namespace ingot::exchange;

TEST_CASE("Numbers with decimal point or comma") {
    CHECK(*parse_number("3.70") == 3.7);
    CHECK(*parse_number("3,70") == 3.7);
    CHECK(*parse_number(" +1e-3 ") == 0.001);
    CHECK(*parse_number("-0,5") == -0.5);
    for (const char* wrong : {"", "abc", "1.234,5", "1,2,3", "3.7V", "nan", "inf", "1e999", "0x10", "--1"})
        CHECK_FALSE(parse_number(wrong).has_value());
}

TEST_CASE("Column names and units as other programs write them") {
    struct Case {
        const char* header;
        const char* name;
        const char* unit;
    };
    for (const Case& c : {Case{"Voltage / V", "voltage", "V"}, Case{"voltage (mV)", "voltage", "mV"},
                          Case{"Current [A]", "current", "A"}, Case{"capacity_mAh", "capacity", "mAh"},
                          Case{"Self-discharge / mAh/day", "self discharge", "mAh/day"}, Case{"Cell ID", "cell id", ""},
                          Case{"Test Time/s", "test time", "s"},
                          Case{"TEMPERATURE (\xC2\xB0"
                               "C)",
                               "temperature",
                               "\xC2\xB0"
                               "C"}}) {
        const ColumnName name = parse_column(c.header);
        CHECK(name.name == c.name);
        CHECK(name.unit == c.unit);
    }
    CHECK(*unit_factor(Dimension::volt, "mv") == 1e-3);
    CHECK(*unit_factor(Dimension::ohm, "m\xCE\xA9") == 1e-3);
    CHECK(*unit_factor(Dimension::second, "h") == 3600);
    CHECK_FALSE(unit_factor(Dimension::volt, "A").has_value());
}

TEST_CASE("Dialects: separators, quotes, BOM, CRLF, blank lines") {
    const std::string text = "\xEF\xBB\xBF"
                             "a;\"b;c\"\r\n\r\n1;\"x \"\"y\"\"\"\r\n";
    auto reader = CsvReader::open(text, "t.csv");
    REQUIRE(reader.ok());
    CHECK(reader.value().header() == std::vector<std::string>{"a", "b;c"});
    CHECK(reader.value().dialect().byte_order_mark);
    CHECK(reader.value().dialect().separator == ';');
    std::vector<std::string_view> fields;
    REQUIRE(reader.value().next(fields).value());
    CHECK(fields[0] == "1");
    CHECK(fields[1] == "x \"y\"");
    CHECK(reader.value().line() == 3);
    CHECK_FALSE(reader.value().next(fields).value());
}

TEST_CASE("Lines that do not fit are named; a cut last line is dropped") {
    std::vector<std::string_view> fields;
    auto short_row = CsvReader::open("a,b\n1\n2,3\n", "t.csv");
    const auto r = short_row.value().next(fields);
    REQUIRE_FALSE(r.ok());
    CHECK(r.problem().text().substr(0, 8) == "t.csv:2:");
    auto cut = CsvReader::open("a,b\n1,2\n3", "t.csv");
    CHECK(cut.value().next(fields).value());
    CHECK_FALSE(cut.value().next(fields).value());
    CHECK(cut.value().dialect().last_line_dropped);
    auto whole = CsvReader::open("a,b\n1,2", "t.csv"); // only the line end is missing
    CHECK(whole.value().next(fields).value());
    auto quote = CsvReader::open("a,b\n\"1,2\n3,4\n", "t.csv");
    CHECK_FALSE(quote.value().next(fields).ok());
    auto trailing = CsvReader::open("a,b,\n1,2,\n", "t.csv"); // a separator at the end of each line
    CHECK(trailing.value().next(fields).value());
    CHECK_FALSE(CsvReader::open("", "t.csv").ok());
    CHECK_FALSE(CsvReader::open("\n\n  \n", "t.csv").ok());
    CHECK_FALSE(CsvReader::open(std::string_view("PK\0\0", 4), "t.csv").ok());
}

TEST_CASE("What is written is read back") {
    const std::string line = csv_line({"plain", "with, comma", "with \"quote\"", ""});
    const std::string text = "a,b,c,d\n" + line;
    auto reader = CsvReader::open(text, "t.csv");
    std::vector<std::string_view> fields;
    REQUIRE(reader.value().next(fields).value());
    CHECK(fields == std::vector<std::string_view>{"plain", "with, comma", "with \"quote\"", ""});
    CHECK(csv_number(0.1) == "0.1");
    CHECK(csv_number({}).empty());
}

TEST_CASE("K16: what csv_line writes is read back, line breaks and all; an open quote does not swallow the file") {
    const std::string text = csv_line({"Name", "Note"}) +
                             csv_line({"a", "first line\nsecond, \"quoted\" line\r\nthird"}) + csv_line({"b", "plain"});
    auto reader = CsvReader::open(text, "f.csv");
    REQUIRE(reader);
    std::vector<std::string_view> fields;
    REQUIRE(reader.value().next(fields).value());
    CHECK(fields[1] == "first line\nsecond, \"quoted\" line\r\nthird");
    REQUIRE(reader.value().next(fields).value());
    CHECK(fields[0] == "b");
    CHECK(reader.value().line() == 5);
    CHECK_FALSE(reader.value().next(fields).value());
    const std::string broken = "Name,Note\na,\"open\nb,plain\nc,plain\n";
    auto objecting = CsvReader::open(broken, "f.csv");
    const auto next = objecting.value().next(fields);
    REQUIRE_FALSE(next);
    CHECK(next.problem().line == 2);
}
