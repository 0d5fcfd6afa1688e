// The arrows of the house, read off the sources: core knows nobody, store, exchange and bench know core, workshop knows
// them, the faces know workshop.
#include <catch2/catch.hpp>

#include <filesystem>
#include <fstream>
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
