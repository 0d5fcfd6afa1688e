// The arrows of the house, read off the sources: core knows nobody, store, exchange and bench know core, workshop knows
// them, the faces know workshop.
#include <catch2/catch.hpp>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <map>
#include <regex>
#include <set>
#include <string>

namespace {

namespace fs = std::filesystem;
const fs::path source = fs::path(INGOT_SOURCE_DIR) / "src";

std::map<std::string, std::set<std::string>> includes_of(const std::string& layer) {
    std::map<std::string, std::set<std::string>> found;
    const std::regex include("^\\s*#include\\s*[<\"]([^>\"]+)[>\"]");
    for (const auto& entry : fs::recursive_directory_iterator(source / layer)) {
        if (entry.path().extension() != ".cpp" && entry.path().extension() != ".h")
            continue;
        std::ifstream in(entry.path());
        std::smatch match;
        for (std::string line; std::getline(in, line);)
            if (std::regex_search(line, match, include))
                found[entry.path().string()].insert(match[1]);
    }
    return found;
}

void only_layers(const std::string& layer, const std::set<std::string>& allowed) {
    const std::set<std::string> layers{"core", "store", "exchange", "workshop", "cli", "app", "bench", "sim"};
    for (const auto& [file, includes] : includes_of(layer))
        for (const std::string& include : includes) {
            const std::string first = include.substr(0, include.find('/'));
            if (include.find('/') == std::string::npos || !layers.contains(first) || first == layer)
                continue;
            INFO(file << " includes " << include);
            CHECK(allowed.contains(first));
        }
}

} // namespace

TEST_CASE("Arrows point down") {
    only_layers("core", {});
    only_layers("exchange", {"core"});
    only_layers("store", {"core"});
    only_layers("bench", {"core"});
    only_layers("sim", {"bench", "core"});
    only_layers("workshop", {"core", "exchange", "store", "bench"});
    only_layers("cli", {"core", "exchange", "workshop"});
    only_layers("app", {"core", "exchange", "workshop"});
}

TEST_CASE("Core includes neither Qt nor SQLite nor input and output") {
    const std::regex forbidden("^(Q[A-Z].*|Qt.*|SQLiteCpp/"
                               ".*|sqlite3.*|fstream|iostream|ostream|istream|cstdio|stdio\\.h|filesystem|chrono|ctime|"
                               "random|thread|fmt/.*|toml.*|nlohmann/.*|unistd\\.h)$");
    const auto files = includes_of("core");
    CHECK(files.size() > 20);
    for (const auto& [file, includes] : files)
        for (const std::string& include : includes) {
            INFO(file << " includes " << include);
            CHECK_FALSE(std::regex_match(include, forbidden));
        }
}

TEST_CASE("Workshop and below have no widgets, views no SQL") {
    for (const char* layer : {"workshop", "exchange", "store", "bench", "sim"})
        for (const auto& [file, includes] : includes_of(layer))
            for (const std::string& include : includes) {
                INFO(file << " includes " << include);
                CHECK_FALSE(std::regex_match(
                    include, std::regex("^(QWidget|QApplication|QGui.*|QPainter|QtWidgets.*|QtGui.*)$")));
            }
    for (const char* face : {"app", "cli"})
        for (const auto& [file, includes] : includes_of(face))
            for (const std::string& include : includes) {
                INFO(file << " includes " << include);
                CHECK(include.find("SQLite") == std::string::npos);
            }
}

TEST_CASE("No type of the store is named above the workshop, and no repository shows SQLite") {
    const std::regex named("\\bstore::");
    for (const char* face : {"app", "cli"})
        for (const auto& entry : fs::recursive_directory_iterator(source / face)) {
            std::ifstream in(entry.path());
            for (std::string line; std::getline(in, line);) {
                INFO(entry.path().string() << ": " << line);
                CHECK_FALSE(std::regex_search(line, named));
            }
        }
    for (const auto& entry : fs::directory_iterator(source / "store")) {
        const std::string name = entry.path().filename().string();
        if (entry.path().extension() != ".h" || name == "connection.h" || name == "schema.h")
            continue;
        std::ifstream in(entry.path());
        for (std::string line; std::getline(in, line);) {
            INFO(name << ": " << line);
            CHECK(line.find("SQLite") == std::string::npos);
        }
    }
}

TEST_CASE("Stations do not include one another") {
    for (const auto& [file, includes] : includes_of("app/stations")) {
        const fs::path station = fs::path(file).parent_path().filename();
        for (const std::string& include : includes) {
            INFO(file << " includes " << include);
            if (include.starts_with("app/stations/") && include != "app/stations/station.h")
                CHECK(include.find("/" + station.string() + "/") != std::string::npos);
        }
    }
}

namespace {

// Lines of the longest function of a file; functions begin and end at the left edge.
std::pair<int, std::string> longest_function(const fs::path& file) {
    std::ifstream in(file);
    int longest = 0;
    int begun = -1;
    int number = 0;
    std::string name;
    std::string longest_name;
    const std::regex other("^(namespace|extern|struct|class|enum|union|template <.*> (struct|class))\\b.*");
    for (std::string line; std::getline(in, line); ++number) {
        if (begun >= 0 && (line == "}" || line == "};")) {
            if (number - begun + 1 > longest) {
                longest = number - begun + 1;
                longest_name = name;
            }
            begun = -1;
        } else if (!line.empty() && line.front() != ' ' && line.back() == '{' && !std::regex_match(line, other)) {
            begun = number;
            name = line;
        }
    }
    return {longest, longest_name};
}

std::size_t lines_of(const fs::path& file) {
    std::ifstream in(file);
    return static_cast<std::size_t>(std::count(std::istreambuf_iterator<char>(in), {}, '\n'));
}

} // namespace

TEST_CASE("K17: functions and files stay small enough to read at one sitting") {
    int files = 0;
    for (const auto& entry : fs::recursive_directory_iterator(source)) {
        if (entry.path().extension() != ".cpp")
            continue;
        ++files;
        const auto [lines, name] = longest_function(entry.path());
        INFO(entry.path().string() << ": " << name << ", " << lines << " lines");
        CHECK(lines <= 90);
        CHECK(lines_of(entry.path()) <= 650);
    }
    CHECK(files > 100);
}

TEST_CASE("K18: the middle and the spread of figures, and the calendar, have one place each") {
    std::set<std::string> medians;
    std::set<std::string> calendars;
    for (const auto& entry : fs::recursive_directory_iterator(source)) {
        if (entry.path().extension() != ".cpp" && entry.path().extension() != ".h")
            continue;
        std::ifstream in(entry.path());
        const std::string text(std::istreambuf_iterator<char>(in), {});
        if (std::regex_search(text, std::regex("\\n(\\[\\[nodiscard\\]\\] )?double median\\(")))
            medians.insert(entry.path().filename());
        if (text.find("BEGIN:VCALENDAR") != std::string::npos)
            calendars.insert(entry.path().filename());
        if (entry.path().string().find("/cli/") != std::string::npos && entry.path().extension() == ".cpp") {
            INFO(entry.path().string());
            for (const char* chemistry : {"\"nmc\"", "\"lfp\"", "\"nimh\"", "\"lco\""})
                CHECK(text.find(chemistry) == std::string::npos); // the library's files say which there are
        }
    }
    CHECK(medians == std::set<std::string>{"statistics.cpp", "statistics.h"});
    CHECK(calendars.size() == 1);
}

TEST_CASE("K30: long work runs in one kind of job, and nobody else makes threads") {
    for (const auto& entry : fs::recursive_directory_iterator(source)) {
        if (entry.path().filename() == "job.h" || !entry.is_regular_file())
            continue;
        std::ifstream in(entry.path());
        const std::string text(std::istreambuf_iterator<char>(in), {});
        INFO(entry.path().string());
        for (const char* thread : {"std::thread", "std::jthread", "std::async", "QThread", "QtConcurrent"})
            CHECK(text.find(thread) == std::string::npos);
    }
}

TEST_CASE("K37: views ask the workshop; they judge nothing themselves") {
    const std::regex rule("\\b(is_hazard|triage_groups|sort_unit|reference_for|explain|ways_forward|measure_resistance|"
                          "check_joining|unlike_most|bay_plan|judge_conditioning|check_plausible)\\(");
    for (const auto& entry : fs::recursive_directory_iterator(source / "app")) {
        if (entry.path().extension() != ".cpp")
            continue;
        std::ifstream in(entry.path());
        const std::string text(std::istreambuf_iterator<char>(in), {});
        std::smatch found;
        INFO(entry.path().string());
        const bool judges = std::regex_search(text, found, rule);
        INFO((judges ? found[0].str() : std::string()));
        CHECK_FALSE(judges);
    }
}

TEST_CASE("K35: the window says objections through the wording table, not in their English pattern") {
    for (const auto& entry : fs::recursive_directory_iterator(source / "app")) {
        if (entry.path().extension() != ".cpp" && entry.path().extension() != ".h")
            continue;
        std::ifstream in(entry.path());
        const std::string text{std::istreambuf_iterator<char>(in), std::istreambuf_iterator<char>()};
        INFO(entry.path().string());
        CHECK(text.find(".english()") == std::string::npos);
        CHECK(text.find("problem().text()") == std::string::npos);
        CHECK(text.find("problem.text()") == std::string::npos);
    }
}
