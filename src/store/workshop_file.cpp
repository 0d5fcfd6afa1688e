#include "store/workshop_file.h"

#include "store/connection.h"
#include "store/schema.h"

#include <SQLiteCpp/Backup.h>

#include <algorithm>
#include <array>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <sqlite3.h>
#include <stdexcept>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

namespace ingot::store {

namespace {

namespace fs = std::filesystem;

// Held by the one window that writes; the system frees it when the process ends, however it ends.
int take_writer_lock(const std::string& path) {
    const std::string lock_path = path + "-lock";
    const int descriptor = ::open(lock_path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
    if (descriptor < 0)
        return -1;
    // The window that held it may have taken the file away between opening and locking: then the lock is on nothing.
    struct stat ours {};
    struct stat there {};
    if (::flock(descriptor, LOCK_EX | LOCK_NB) != 0 || ::fstat(descriptor, &ours) != 0 ||
        ::stat(lock_path.c_str(), &there) != 0 || ours.st_ino != there.st_ino) {
        ::close(descriptor);
        return -1;
    }
    return descriptor;
}

// Big-endian 32-bit number in the file's header.
std::uint32_t header_number(const std::array<unsigned char, 100>& header, std::size_t at) {
    return static_cast<std::uint32_t>(header[at]) << 24U | static_cast<std::uint32_t>(header[at + 1]) << 16U |
           static_cast<std::uint32_t>(header[at + 2]) << 8U | static_cast<std::uint32_t>(header[at + 3]);
}

// Looks at the first 100 bytes without opening a database, so that a stranger's file is not touched.
std::optional<Problem> look_at_header(const std::string& path) {
    std::ifstream file(path, std::ios::binary);
    if (!file)
        return Problem{path, 0, said("cannot be read. Check its permissions.")};
    std::array<unsigned char, 100> header{};
    file.read(reinterpret_cast<char*>(header.data()), static_cast<std::streamsize>(header.size()));
    constexpr std::string_view magic("SQLite format 3\0", 16);
    const bool database = file.gcount() == static_cast<std::streamsize>(header.size()) &&
                          std::equal(magic.begin(), magic.end(), header.begin(),
                                     [](char a, unsigned char b) { return static_cast<unsigned char>(a) == b; });
    constexpr std::size_t at_user_version = 60;
    constexpr std::size_t at_application_id = 68;
    if (!database || header_number(header, at_application_id) != static_cast<std::uint32_t>(application_id))
        return Problem{path, 0,
                       said("is not an Ingot workshop. Choose a file that Ingot made (*.ingot). It was not changed.")};
    const auto version = header_number(header, at_user_version);
    if (version > static_cast<std::uint32_t>(schema_version))
        return Problem{path, 0,
                       said("was made by a newer Ingot (format {}, this Ingot reads up to {}). Update Ingot to open "
                            "it. It was not changed.",
                            version, schema_version)};
    return std::nullopt;
}

bool may_write(const std::string& path) {
    std::error_code error;
    const auto permissions = fs::status(path, error).permissions();
    constexpr auto any_write = fs::perms::owner_write | fs::perms::group_write | fs::perms::others_write;
    const fs::path folder = fs::absolute(path).parent_path();
    return (permissions & any_write) != fs::perms::none && ::access(path.c_str(), W_OK) == 0 &&
           ::access(folder.c_str(), W_OK) == 0;
}

Problem damaged(const std::string& path, const std::string& how) {
    return {
        path, 0,
        said("is damaged ({}). It was not changed. Open the newest backup copy; keep this file, parts of it can often "
             "be read.",
             how)};
}

// Every table but the bulky ones, so that a workshop with long logs still opens at once; units and measurements are
// read whole right after and object by themselves.
void check_soundness(SQLite::Database& database) {
    SQLite::Statement tables(
        database, "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%' AND name NOT IN "
                  "('run_chunk', 'reading', 'measurement', 'unit', 'placement', 'run_step')");
    int seen = 0;
    while (tables.executeStep()) {
        ++seen;
        SQLite::Statement check(database, "PRAGMA quick_check('" + tables.getColumn(0).getString() + "')");
        if (!check.executeStep() || check.getColumn(0).getString() != "ok")
            throw SQLite::Exception(check.getColumn(0).getString());
    }
    constexpr std::array tables_of_version{12, 16, 20, 20, 19, 20, 22, 23, 24, 24};
    static_assert(tables_of_version.size() == schema_version);
    const int version = std::clamp(database.execAndGet("PRAGMA user_version").getInt(), 1, schema_version);
    if (seen < tables_of_version.at(static_cast<std::size_t>(version) - 1))
        throw SQLite::Exception("tables are missing");
    // Reads the whole schema: a missing column shows here and not at the first step.
    constexpr int with_measurements = 5;
    database.exec(version >= with_measurements
                      ? "SELECT id, unit_id, assembly_id, group_no, quantity, value, taken_at FROM measurement LIMIT 1"
                      : "SELECT id, unit_id, pack_id, group_no, quantity, value, taken_at FROM reading LIMIT 1");
    database.exec("SELECT id, roll, number, model FROM unit LIMIT 1");
}

void set_up_writing(SQLite::Database& database) {
    constexpr int wait_ms = 2000;
    database.setBusyTimeout(wait_ms);
    database.exec("PRAGMA journal_mode = WAL");
    database.exec("PRAGMA synchronous = FULL");
    database.exec("PRAGMA foreign_keys = ON");
}

// From the version that the file has to the newest. All or nothing. Tables are made anew on the way, so foreign keys
// are off until it is done, and are checked before it counts.
void bring_up_to_date(SQLite::Database& database, int version) {
    database.exec("PRAGMA foreign_keys = OFF");
    {
        SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
        for (int next = version; next < schema_version; ++next)
            migrations()[static_cast<std::size_t>(next)](database);
        {
            SQLite::Statement broken(database, "PRAGMA foreign_key_check");
            if (broken.executeStep())
                throw SQLite::Exception("a row of " + broken.getColumn(0).getString() + " points at nothing");
        }
        database.exec(fmt::format("PRAGMA user_version = {}", schema_version));
        transaction.commit();
    }
    database.exec("PRAGMA foreign_keys = ON");
}

void copy_into(SQLite::Database& database, const std::string& path) {
    SQLite::Statement copy(database, "VACUUM INTO ?");
    copy.bind(1, path);
    copy.exec();
}

// The file as it was stays beside it.
void upgrade(SQLite::Database& database, const std::string& path) {
    const int version = database.execAndGet("PRAGMA user_version").getInt();
    if (version >= schema_version)
        return;
    const std::string kept = fmt::format("{}.v{}-backup", path, version);
    std::error_code error;
    fs::remove(kept, error);
    copy_into(database, kept);
    bring_up_to_date(database, version);
}

// A copy in memory, brought up to date: the file itself may not be written.
std::unique_ptr<SQLite::Database> in_memory(SQLite::Database& file) {
    auto copy = std::make_unique<SQLite::Database>(":memory:", SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    SQLite::Backup backup(*copy, file);
    (void)backup.executeStep();
    bring_up_to_date(*copy, file.execAndGet("PRAGMA user_version").getInt());
    copy->exec("PRAGMA query_only = ON");
    return copy;
}

std::string escaped_uri(const std::string& path) {
    std::string out = "file:";
    for (const char c : path) {
        if (c == '?' || c == '#' || c == '%')
            out += fmt::format("%{:02X}", static_cast<unsigned char>(c));
        else
            out += c;
    }
    return out;
}

// Through a connection that cannot write. Without a write-ahead log beside a file that nobody may write, no other
// process can be writing: it may be read as it stands.
std::unique_ptr<SQLite::Database> for_reading(const std::string& path, bool may_be_written) {
    std::error_code error;
    const bool frozen = !may_be_written && !fs::exists(path + "-wal", error);
    const std::string uri = escaped_uri(path) + (frozen ? "?immutable=1" : "");
    auto database =
        std::make_unique<SQLite::Database>(uri, SQLite::OPEN_READONLY | SQLite::OPEN_URI | SQLite::OPEN_NOMUTEX);
    constexpr int wait_ms = 2000;
    database->setBusyTimeout(wait_ms);
    return database;
}

// What VACUUM INTO wrote is not synced by itself.
void keep_on_disk(const std::string& path) {
    const int descriptor = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    const bool kept = descriptor >= 0 && ::fsync(descriptor) == 0;
    if (descriptor >= 0)
        ::close(descriptor);
    if (!kept)
        throw std::runtime_error("not all of it reached the disk");
}

// Stops what the database does once nobody wants it any more.
int is_unwanted(void* wanted) {
    return (*static_cast<const StillWanted*>(wanted))() ? 0 : 1;
}

} // namespace

struct WorkshopFile::Handle {
    std::unique_ptr<SQLite::Database> database;
};

WorkshopFile::WorkshopFile(std::string path, int lock, Access access, std::unique_ptr<Handle> handle)
    : path_(std::move(path)), lock_(lock), access_(access), handle_(std::move(handle)),
      connection_(std::make_unique<Connection>(*handle_->database)) {}

Result<bool> WorkshopFile::copy(const std::string& from, const std::string& to, const StillWanted& wanted) {
    std::error_code error;
    if (fs::exists(to, error))
        return Problem{to, 0, said("is there already. Choose another name; nothing was written.")};
    // Under another name until it is whole.
    const std::string part = to + ".part";
    fs::remove(part, error);
    try {
        const auto database = for_reading(from, may_write(from));
        StillWanted asked = wanted;
        constexpr int instructions_between = 1'000;
        if (wanted)
            sqlite3_progress_handler(database->getHandle(), instructions_between, is_unwanted, &asked);
        copy_into(*database, part);
        keep_on_disk(part);
        fs::rename(part, to);
        return true;
    } catch (const std::exception& exception) {
        fs::remove(part, error);
        fs::remove(part + "-journal", error);
        if (wanted && !wanted())
            return Problem{to, 0, said("was stopped. There is no copy; nothing else changed.")};
        return Problem{to, 0, said("could not be written ({}). Choose another place.", exception.what())};
    }
}

WorkshopFile::~WorkshopFile() {
    connection_.reset();
    handle_.reset();
    if (lock_ >= 0) {
        std::error_code error;
        fs::remove(path_ + "-lock", error);
        ::close(lock_);
    }
}

Result<std::unique_ptr<WorkshopFile>> WorkshopFile::create(const std::string& path) {
    std::error_code error;
    if (fs::exists(path, error))
        return Problem{path, 0, said("exists already. Choose another name, or open it.")};
    const fs::path folder = fs::absolute(path).parent_path();
    if (!fs::is_directory(folder, error))
        return Problem{path, 0, said("cannot be made: there is no folder {}.", folder.string())};
    const int lock = take_writer_lock(path);
    try {
        auto database = std::make_unique<SQLite::Database>(path, SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE |
                                                                     SQLite::OPEN_NOMUTEX);
        database->exec(fmt::format("PRAGMA application_id = {}", application_id));
        bring_up_to_date(*database, 0);
        set_up_writing(*database);
        return std::unique_ptr<WorkshopFile>(
            new WorkshopFile(path, lock, Access::writing, std::make_unique<Handle>(Handle{std::move(database)})));
    } catch (const SQLite::Exception& exception) {
        if (lock >= 0)
            ::close(lock);
        fs::remove(path, error);
        fs::remove(path + "-lock", error);
        return Problem{path, 0, said("cannot be made: {}. Choose another place.", exception.what())};
    }
}

Result<std::unique_ptr<WorkshopFile>> WorkshopFile::open(const std::string& path) {
    std::error_code error;
    if (!fs::exists(path, error))
        return Problem{path, 0, said("there is no such file. Check the name, or make a new workshop.")};
    if (fs::is_directory(path, error))
        return Problem{path, 0, said("is a folder; a workshop is one file (*.ingot).")};
    if (auto problem = look_at_header(path))
        return *problem;
    Access access = Access::writing;
    int lock = -1;
    if (!may_write(path)) {
        access = Access::reading_only_file;
    } else if (lock = take_writer_lock(path); lock < 0) {
        access = Access::reading_other_window;
    }
    try {
        // Checked through a connection that cannot write before one that can is opened.
        auto database = for_reading(path, access != Access::reading_only_file);
        check_soundness(*database);
        if (access == Access::writing) {
            database = std::make_unique<SQLite::Database>(path, SQLite::OPEN_READWRITE | SQLite::OPEN_NOMUTEX);
            set_up_writing(*database);
            upgrade(*database, path);
        } else if (database->execAndGet("PRAGMA user_version").getInt() < schema_version) {
            database = in_memory(*database);
        }
        return std::unique_ptr<WorkshopFile>(
            new WorkshopFile(path, lock, access, std::make_unique<Handle>(Handle{std::move(database)})));
    } catch (const SQLite::Exception& exception) {
        if (lock >= 0) {
            fs::remove(path + "-lock", error);
            ::close(lock);
        }
        return damaged(path, exception.what());
    }
}

} // namespace ingot::store
