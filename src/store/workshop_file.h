// Opening, creating and locking a workshop file. Nothing is changed in a file that cannot be used.
#pragma once

#include "core/cells/problem.h"
#include "core/cells/still_wanted.h"

#include "core/shop/shop_records.h"

#include <memory>
#include <string>

namespace ingot::store {

class Connection;

class WorkshopFile {
public:
    // Makes a new file; refuses if one is there already.
    [[nodiscard]] static Result<std::unique_ptr<WorkshopFile>> create(const std::string& path);
    // Problems, each a clear sentence: no such file, not a workshop, newer, damaged. A read-only file, or one that
    // another window writes, opens for reading: see access(). One of an older version that may only be read is read
    // from a copy in memory that is brought up to date.
    [[nodiscard]] static Result<std::unique_ptr<WorkshopFile>> open(const std::string& path);
    // A whole copy of the workshop at `from` as it is now, also while a window writes it. Objects where something is at
    // `to`, or it cannot be written; not wanted any more, it stops. Either way nothing half done stays at `to`.
    [[nodiscard]] static Result<bool> copy(const std::string& from, const std::string& to,
                                           const StillWanted& wanted = {});
    ~WorkshopFile();
    WorkshopFile(const WorkshopFile&) = delete;
    WorkshopFile& operator=(const WorkshopFile&) = delete;

    [[nodiscard]] const std::string& path() const { return path_; }
    [[nodiscard]] Access access() const { return access_; }
    [[nodiscard]] Connection& connection() { return *connection_; }

private:
    struct Handle; // of the database
    WorkshopFile(std::string path, int lock, Access access, std::unique_ptr<Handle> handle);

    std::string path_;
    int lock_ = -1; // file descriptor that holds the writer's lock
    Access access_;
    std::unique_ptr<Handle> handle_;
    std::unique_ptr<Connection> connection_;
};

} // namespace ingot::store
