#include "store/records.h"
#include "store/schema.h"
#include "store/workshop_file.h"

#include "temporary.h"

#include <catch2/catch.hpp>

#include <sqlite3.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace ingot;
using namespace ingot::store;
using tests::Temporary;

namespace {

std::string made(const Temporary& folder) {
    const std::string path = folder.file("w.ingot");
    REQUIRE(WorkshopFile::create(path).ok());
    return path;
}

void run_sql(const std::string& path, const char* sql) {
    sqlite3* db = nullptr;
    REQUIRE(sqlite3_open(path.c_str(), &db) == SQLITE_OK);
    REQUIRE(sqlite3_exec(db, sql, nullptr, nullptr, nullptr) == SQLITE_OK);
    sqlite3_close(db);
}

// Refused with a sentence that holds `words`, and the file is untouched.
void check_refused(const std::string& path, const std::string& words) {
    const std::string before = Temporary::read(path);
    const auto r = WorkshopFile::open(path);
    REQUIRE_FALSE(r.ok());
    INFO(r.problem().text());
    CHECK(r.problem().sentence.find(words) != std::string::npos);
    CHECK(Temporary::read(path) == before);
}

} // namespace

TEST_CASE("A new workshop file says what it is and is set up to lose nothing") {
    const Temporary folder;
    const std::string path = made(folder);
    const auto file = WorkshopFile::open(path);
    REQUIRE(file.ok());
    CHECK(file.value()->access() == Access::writing);
    auto& db = file.value()->database();
    CHECK(db.execAndGet("PRAGMA application_id").getInt() == application_id);
    CHECK(db.execAndGet("PRAGMA user_version").getInt() == schema_version);
    CHECK(db.execAndGet("PRAGMA journal_mode").getString() == "wal");
    CHECK(db.execAndGet("PRAGMA synchronous").getInt() == 2); // FULL
    CHECK(db.execAndGet("PRAGMA foreign_keys").getInt() == 1);
    CHECK_FALSE(WorkshopFile::create(path).ok());
}

TEST_CASE("Files that are no workshop are refused and not changed") {
    const Temporary folder;
    CHECK_FALSE(WorkshopFile::open(folder.file("none.ingot")).ok());
    CHECK_FALSE(WorkshopFile::open(folder.file("")).ok());
    check_refused(folder.write("text.ingot", "hello, this is a shopping list\n"), "not an Ingot workshop");
    check_refused(folder.write("empty.ingot", ""), "not an Ingot workshop");
    const std::string other = folder.file("other.ingot");
    run_sql(other, "CREATE TABLE t (x); INSERT INTO t VALUES (1)");
    check_refused(other, "not an Ingot workshop");
}

TEST_CASE("A newer file is refused") {
    const Temporary folder;
    const std::string path = made(folder);
    run_sql(path, "PRAGMA user_version = 99; PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE");
    check_refused(path, "newer Ingot");
}

TEST_CASE("A damaged file is refused, wherever it was hit") {
    const Temporary folder;
    const std::string good = made(folder);
    {
        auto file = WorkshopFile::open(good);
        Records records(*file.value());
        records.together([&] {
            for (int i = 0; i < 400; ++i)
                records.add(EventRecord{"2026-01-01", "something", "subject", std::string(200, 'x')});
        });
    }
    const std::string bytes = Temporary::read(good);
    REQUIRE(bytes.size() > 40'000);
    check_refused(folder.write("cut.ingot", bytes.substr(0, bytes.size() / 2)), "damaged");
    std::string scrambled = bytes;
    for (std::size_t i = 4096; i < 12'288; ++i)
        scrambled[i] = static_cast<char>(i * 31);
    check_refused(folder.write("scrambled.ingot", scrambled), "damaged");
    std::string tables = bytes;
    for (std::size_t i = 100; i < 4096; ++i) // the schema itself
        tables[i] = 0;
    check_refused(folder.write("tables.ingot", tables), "damaged");
}

TEST_CASE("A workshop without one of its tables is damaged") {
    const Temporary folder;
    const std::string path = made(folder);
    run_sql(path, "DROP TABLE strike; PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE");
    check_refused(path, "damaged");
}

TEST_CASE("A read-only file opens for reading and stays as it is") {
    const Temporary folder;
    const std::string path = made(folder);
    std::filesystem::permissions(path, std::filesystem::perms::owner_read);
    const std::string before = Temporary::read(path);
    {
        auto file = WorkshopFile::open(path);
        REQUIRE(file.ok());
        CHECK(file.value()->access() == Access::reading_only_file);
        Records records(*file.value());
        CHECK(records.lots().empty());
        CHECK_THROWS_AS(records.set_meta("name", "x"), SQLite::Exception);
    }
    CHECK(Temporary::read(path) == before);
    CHECK_FALSE(std::filesystem::exists(path + "-wal"));
}

TEST_CASE("The second window reads, and sees what the first one writes") {
    const Temporary folder;
    const std::string path = made(folder);
    auto first = WorkshopFile::open(path);
    auto second = WorkshopFile::open(path);
    REQUIRE(second.ok());
    CHECK(first.value()->access() == Access::writing);
    CHECK(second.value()->access() == Access::reading_other_window);
    Records(*first.value()).add(LotRecord{0, "L", "", "", "", {}});
    CHECK(Records(*second.value()).lots().size() == 1);
    CHECK_THROWS_AS(Records(*second.value()).set_meta("a", "b"), SQLite::Exception);
    first.value().reset();
    second.value().reset();
    CHECK(WorkshopFile::open(path).value()->access() == Access::writing);
}

TEST_CASE("The writer's lock ends with its process, however it ends") {
    const Temporary folder;
    const std::string path = made(folder);
    const pid_t child = ::fork();
    if (child == 0) {
        auto file = WorkshopFile::open(path);
        ::_exit(file.ok() && file.value()->access() == Access::writing ? 42 : 1); // no destructor runs
    }
    int status = 0;
    ::waitpid(child, &status, 0);
    CHECK(WEXITSTATUS(status) == 42);
    CHECK(WorkshopFile::open(path).value()->access() == Access::writing);
}

namespace {

// Counts the syncs of the write-ahead log, through a shim over the system's file layer.
int wal_syncs = 0;
sqlite3_io_methods shim_methods;
const sqlite3_io_methods* real_methods = nullptr;
sqlite3_vfs* real_vfs = nullptr;

int counted_sync(sqlite3_file* file, int flags) {
    ++wal_syncs;
    return real_methods->xSync(file, flags);
}

int shim_open(sqlite3_vfs*, sqlite3_filename name, sqlite3_file* file, int flags, int* out) {
    const int r = real_vfs->xOpen(real_vfs, name, file, flags, out);
    if (r == SQLITE_OK && (flags & SQLITE_OPEN_WAL) != 0 && file->pMethods != nullptr) {
        real_methods = file->pMethods;
        shim_methods = *real_methods;
        shim_methods.xSync = counted_sync;
        file->pMethods = &shim_methods;
    }
    return r;
}

} // namespace

TEST_CASE("Every acknowledged reading has been synced to the disk before the call returns") {
    real_vfs = sqlite3_vfs_find(nullptr);
    static sqlite3_vfs shim = *real_vfs;
    shim.zName = "counting";
    shim.xOpen = shim_open;
    sqlite3_vfs_register(&shim, 1);
    {
        const Temporary folder;
        const std::string path = made(folder);
        auto file = WorkshopFile::open(path);
        Records records(*file.value());
        const Id unit = records.add(UnitRecord{0, {"K4", 1}, 0, 0, 0, "H26", "", "", 0}, "now");
        for (int i = 0; i < 20; ++i) {
            const int before = wal_syncs;
            ReadingRecord r;
            r.unit_id = unit;
            r.reading.value = 3.7 + i * 0.001;
            r.taken_at = r.recorded_at = "now";
            records.together([&] { records.add(r); });
            CHECK(wal_syncs > before);
        }
    }
    sqlite3_vfs_unregister(&shim);
    sqlite3_vfs_register(real_vfs, 1);
}

TEST_CASE("A workshop of version 1 is brought up to date, and kept as it was beside it") {
    const Temporary folder;
    const std::string path = folder.file("old.ingot");
    {
        SQLite::Database db(path, SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        db.exec("PRAGMA application_id = " + std::to_string(application_id) + "; PRAGMA user_version = 1");
        db.exec(schema_sql);
        db.exec("INSERT INTO lot (label) VALUES ('MOW-01');"
                "INSERT INTO pack (lot_id, label, chemistry, series, parallel, stage, created_at) VALUES (1, 'P', "
                "'nmc', 7, "
                "4, 'triage', '2026-01-05')");
    }
    {
        const auto file = WorkshopFile::open(path);
        REQUIRE(file.ok());
        CHECK(file.value()->database().execAndGet("PRAGMA user_version").getInt() == schema_version);
        Records records(*file.value());
        CHECK(records.packs().size() == 1);
        CHECK(records.pack_notes().empty());
        const Id note = records.add(PackNoteRecord{0, 1, "symptom", 0, "dead", "2026-01-06"});
        CHECK(records.pack_notes().size() == 1);
        records.strike_note(note, "2026-01-07");
        CHECK(records.pack_notes().empty());
        records.set_tray({"T1", 10, 8});
        records.set_tray({"T1", 12, 8});
        REQUIRE(records.trays().size() == 1);
        CHECK(records.trays()[0].columns == 12);
        records.add(PhotoRecord{0, 1, "strip.jpg", "image/jpeg", "2026-01-06", std::string("a\0b", 3)});
        CHECK(records.photo_data(records.photos_of_pack(1).at(0).id) == std::string("a\0b", 3));
        CHECK_THROWS(
            records.add(PhotoRecord{0, 1, "huge", "image/png", "", std::string(largest_photo_bytes + 1, 'x')}));
        records.set_drawing(1, "{}", "2026-01-06");
        CHECK(records.drawing_of_pack(1) == "{}");
        CHECK(records.drawing_of_pack(2).empty());
    }
    const std::string kept = path + ".v1-backup";
    SQLite::Database old(kept, SQLite::OPEN_READONLY);
    CHECK(old.execAndGet("PRAGMA user_version").getInt() == 1);
    CHECK(old.execAndGet("SELECT label FROM pack").getString() == "P");
    CHECK(WorkshopFile::open(path).ok()); // and again, without a second upgrade
}

TEST_CASE("A workshop of version 3 keeps what was read inside its groups, and takes capacities from now on") {
    const Temporary folder;
    const std::string path = folder.file("third.ingot");
    {
        SQLite::Database db(path, SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        db.exec("PRAGMA application_id = " + std::to_string(application_id) + "; PRAGMA user_version = 3");
        db.exec(schema_sql);
        db.exec(upgrade_2_sql);
        db.exec(upgrade_3_sql);
        db.exec("INSERT INTO lot (label) VALUES ('MOW-01');"
                "INSERT INTO pack (lot_id, label, chemistry, series, parallel, stage, created_at) VALUES (1, 'P', "
                "'nmc', 7, 4, 'triage', '2026-01-05');"
                "INSERT INTO inside_group (pack_id, group_no, place_no, quantity, value, taken_at) VALUES "
                "(1, 3, 2, 'voltage', 3.61, '2026-01-05'), (1, 3, 0, 'temperature', 31.5, '2026-01-06')");
    }
    const auto file = WorkshopFile::open(path);
    REQUIRE(file.ok());
    CHECK(file.value()->database().execAndGet("PRAGMA user_version").getInt() == schema_version);
    Records records(*file.value());
    records.add(InsideRecord{1, 3, 0, Quantity::capacity, 8.7, false, "2026-01-07"});
    const auto inside = records.inside_groups();
    REQUIRE(inside.size() == 3);
    CHECK(inside[0].quantity == Quantity::voltage);
    CHECK(inside[0].place == 2);
    CHECK(inside[0].value == 3.61);
    CHECK(inside[1].quantity == Quantity::temperature);
    CHECK(inside[2].quantity == Quantity::capacity);
    CHECK(inside[2].value == 8.7);
    CHECK_THROWS(
        file.value()->database().exec("INSERT INTO inside_group (pack_id, group_no, place_no, quantity, value, "
                                      "taken_at) VALUES (1, 1, 0, 'colour', 1, '')"));
}
