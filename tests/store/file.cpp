#include "open_store.h"

#include "store/schema.h"

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
    CHECK(r.problem().sentence.english().find(words) != std::string::npos);
    CHECK(Temporary::read(path) == before);
}

} // namespace

TEST_CASE("A new workshop file says what it is and is set up to lose nothing") {
    const Temporary folder;
    const std::string path = made(folder);
    const auto file = WorkshopFile::open(path);
    REQUIRE(file.ok());
    CHECK(file.value()->access() == Access::writing);
    auto& db = file.value()->connection().database();
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
        tests::Store store(WorkshopFile::open(good).value());
        store.connection.together([&] {
            for (int i = 0; i < 400; ++i)
                store.remarks.add(Event{"2026-01-01", "something", "subject", std::string(200, 'x')});
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
        Catalogue catalogue(file.value()->connection());
        CHECK(catalogue.lots().empty());
        CHECK_THROWS_AS(catalogue.set("name", "x"), SQLite::Exception);
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
    Catalogue(first.value()->connection()).add(Lot{0, "L", "", "", "", {}});
    CHECK(Catalogue(second.value()->connection()).lots().size() == 1);
    CHECK_THROWS_AS(Catalogue(second.value()->connection()).set("a", "b"), SQLite::Exception);
    first.value().reset();
    second.value().reset();
    CHECK(WorkshopFile::open(path).value()->access() == Access::writing);
}

TEST_CASE("A copy holds what is acknowledged by then, and nothing half done stays where none came about") {
    const Temporary folder;
    const std::string path = made(folder);
    const auto first = WorkshopFile::open(path);
    auto& db = first.value()->connection().database();
    db.exec("INSERT INTO meta VALUES ('name', 'in the log only')"); // of what is written ahead
    const std::string to = folder.file("copy.ingot");
    // Whatever it had come to when nobody wanted it any more.
    db.exec("WITH RECURSIVE number(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM number WHERE n < 5000) "
            "INSERT INTO meta SELECT 'filling ' || n, hex(zeroblob(100)) FROM number");
    int patience = 3;
    CHECK_FALSE(WorkshopFile::copy(path, to, [&] { return --patience > 0; }).ok());
    CHECK_FALSE(WorkshopFile::copy(path, to, [] { return false; }).ok());
    CHECK_FALSE(WorkshopFile::copy(folder.file("none.ingot"), to).ok());
    CHECK_FALSE(WorkshopFile::copy(path, folder.file("no/such/folder.ingot")).ok());
    CHECK_FALSE(std::filesystem::exists(to));
    CHECK_FALSE(std::filesystem::exists(to + ".part"));

    int asked = 0;
    REQUIRE(WorkshopFile::copy(path, to, [&] { return ++asked > 0; }).ok());
    CHECK(asked > 0);
    CHECK_FALSE(WorkshopFile::copy(path, to).ok());
    const auto copy = WorkshopFile::open(to);
    REQUIRE(copy.ok());
    CHECK(copy.value()->connection().database().execAndGet("SELECT value FROM meta WHERE key = 'name'").getString() ==
          "in the log only");
    db.exec("UPDATE meta SET value = 'later' WHERE key = 'name'"); // the writer was not disturbed
    CHECK(copy.value()->connection().database().execAndGet("SELECT value FROM meta WHERE key = 'name'").getString() ==
          "in the log only");

    std::filesystem::permissions(path, std::filesystem::perms::owner_read);
    CHECK(WorkshopFile::copy(path, folder.file("of-read-only.ingot")).ok());
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
        tests::Store store(WorkshopFile::open(path).value());
        Unit fresh;
        fresh.code = {"K4", 1};
        fresh.model = "H26";
        const Id unit = store.units.add(fresh, "now");
        for (int i = 0; i < 20; ++i) {
            const int before = wal_syncs;
            Measurement m;
            m.subject.unit = unit;
            m.value = 3.7 + i * 0.001;
            m.taken_at = m.recorded_at = "now";
            store.connection.together([&] { store.measurements.add(m); });
            CHECK(wal_syncs > before);
        }
    }
    sqlite3_vfs_unregister(&shim);
    sqlite3_vfs_register(real_vfs, 1);
}

// tests/store/files holds one small file of each older version, as the Ingot of then laid it out: one lot, a pack of
// 3S2P at Triage with readings (one struck out), an opened pack with two units, one of them in a build that is being
// taken, a finding, a quarantine; from version 2 notes, a tray, a drawing, a photo; from 3 readings inside a group and
// a run on a bay; from 4 a group's capacity and a group that was moved from another pack.
namespace {

std::string copy_of_version(const Temporary& folder, int version) {
    const std::string name = "version-" + std::to_string(version) + ".workshop";
    return folder.write("old.ingot", Temporary::read(std::string(INGOT_SOURCE_DIR) + "/tests/store/files/" + name));
}

} // namespace

TEST_CASE("A workshop of every older version is brought up to date, and kept as it was beside it") {
    for (int version = 1; version < schema_version; ++version) {
        CAPTURE(version);
        const Temporary folder;
        const std::string path = copy_of_version(folder, version);
        {
            tests::Store store(WorkshopFile::open(path).value());
            CHECK(store.connection.database().execAndGet("PRAGMA user_version").getInt() == schema_version);
            const auto assemblies = store.assemblies.all();
            REQUIRE(assemblies.size() >= 3);
            CHECK(assemblies[0].label == "MOW-01 pack 1");
            CHECK(assemblies[0].state == AssemblyState::in_triage);
            CHECK(assemblies[0].came_in());
            CHECK(*assemblies[0].claim.capacity_ah == 5.2);
            CHECK(assemblies[1].state == AssemblyState::opened);
            const Assembly& build = assemblies.back();
            CHECK(build.label == "B-001");
            CHECK(build.state == AssemblyState::planned);
            CHECK_FALSE(build.came_in());
            // Readings: what stood stands, what was struck is struck, moments in one form, unknown conditions unknown.
            const auto group = store.measurements.of_assembly(assemblies[0].id);
            REQUIRE(group.size() >= 3);
            CHECK(group[0].value == 3.81);
            CHECK(group[0].taken_at == "2026-01-05T08:00:00.000Z");
            CHECK(group[0].instrument == "bench meter");
            const auto units = store.units.all();
            REQUIRE(units.size() == 2);
            CHECK(units[0].pack == assemblies[1].id);
            CHECK(units[0].group == 1);
            CHECK(units[0].whereabouts == Whereabouts::reserved);
            CHECK(units[1].whereabouts == Whereabouts::recycled);
            const auto history = store.measurements.history_of_unit(units[0].id);
            REQUIRE(history.size() == 2);
            CHECK(store.measurements.of_unit(units[0].id).size() == 1);
            CHECK_FALSE(history[0].conditions.temperature_c);
            const auto placements = store.assemblies.placements_of(build.id);
            REQUIRE(placements.size() == 1);
            CHECK(placements[0].unit == units[0].id);
            CHECK(placements[0].from_well == 3);
            CHECK(placements[0].taken_at == "2026-01-08");
            CHECK(placements[0].stands());
            CHECK(store.remarks.findings().size() == 1);
            CHECK(store.remarks.quarantines().size() == 1);
            CHECK(store.remarks.overrules().size() == 1);
            if (version >= 2) {
                CHECK(store.remarks.notes().size() == (version >= 4 ? 2 : 1));
                CHECK(store.catalogue.trays().size() == 1);
                CHECK(store.remarks.drawings().at(assemblies[0].id) == "{}");
                CHECK(store.remarks.photo_data(store.remarks.photos_of(assemblies[0].id).at(0).id) == "pixels");
            }
            if (version >= 3) {
                const auto inside =
                    std::find_if(group.begin(), group.end(), [](const Measurement& m) { return m.subject.place == 2; });
                REQUIRE(inside != group.end());
                CHECK(inside->quantity == Quantity::voltage);
                CHECK(inside->value == 3.61);
                REQUIRE(store.runs.open().size() == 1);
                CHECK(store.runs.open()[0].unit == units[0].id);
                CHECK(store.runs.of_unit(units[0].id)[0].began_at == "2026-01-07T09:00:00.000Z");
                CHECK(store.runs.cycles().size() == 1);
            }
            if (version >= 4) { // K7: what nobody took is struck out; the group's move is a placement
                CHECK(std::any_of(group.begin(), group.end(), [](const Measurement& m) {
                    return m.quantity == Quantity::capacity && m.value == 4.9;
                }));
                CHECK(std::none_of(group.begin(), group.end(),
                                   [](const Measurement& m) { return m.protocol == "moved"; }));
                bool moved_in = false;
                for (const Placement& p : store.assemblies.placements_of(assemblies[0].id))
                    moved_in = moved_in || (p.stands() && p.group == 2 && p.content_assembly == assemblies[2].id &&
                                            p.content_group == 3);
                CHECK(moved_in);
                for (const Placement& p : store.assemblies.placements_of(assemblies[2].id))
                    CHECK(p.stands() == (p.group != 3));
            }
            if (version >= 6) {
                REQUIRE(store.remarks.particulars().size() == 1);
                CHECK(store.remarks.particulars()[0].value == "2 A, wall");
            }
            if (version >= 9)
                CHECK(store.connection.database().execAndGet("SELECT COUNT(*) FROM proof_note").getInt() == 1);
            // What only this version may hold, it may hold. It is kept from now on as any other.
            store.connection.together([&] {
                store.remarks.add(
                    Particular{0, assemblies[0].id, 0, ParticularKind::matched_set, "the dealer", "2026-02-01"});
            });
            CHECK(store.remarks.particulars().back().kind == ParticularKind::matched_set);
            CHECK_THROWS_AS(store.connection.database().exec("DELETE FROM measurement"), SQLite::Exception);
        }
        const std::string kept = path + ".v" + std::to_string(version) + "-backup";
        SQLite::Database old(kept, SQLite::OPEN_READONLY);
        CHECK(old.execAndGet("PRAGMA user_version").getInt() == version);
        CHECK(
            old.execAndGet(version < 5 ? "SELECT count(*) FROM reading" : "SELECT count(*) FROM measurement").getInt() >
            0);
        CHECK(WorkshopFile::open(path).ok()); // and again, without a second upgrade
    }
}

TEST_CASE("An older workshop that may only be read is read, and stays as it is") {
    const Temporary folder;
    const std::string path = copy_of_version(folder, 4);
    std::filesystem::permissions(path, std::filesystem::perms::owner_read);
    const std::string before = Temporary::read(path);
    {
        tests::Store store(WorkshopFile::open(path).value());
        CHECK(store.file->access() != Access::writing);
        CHECK(store.units.all().size() == 2);
        CHECK_THROWS_AS(store.catalogue.set("name", "x"), SQLite::Exception);
    }
    CHECK(Temporary::read(path) == before);
    CHECK_FALSE(std::filesystem::exists(path + ".v4-backup"));
}
