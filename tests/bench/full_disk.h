// A disk that is full while a switch says so, under the system's file layer: for workshops that are opened while one
// of these stands.
#pragma once

#include <sqlite3.h>

#include <atomic>

namespace ingot::tests {

inline std::atomic<bool> disk_is_full{false};
inline sqlite3_io_methods full_methods;
inline const sqlite3_io_methods* system_methods = nullptr;
inline sqlite3_vfs* system_vfs = nullptr;

inline int write_or_full(sqlite3_file* file, const void* data, int size, sqlite3_int64 at) {
    return disk_is_full ? SQLITE_FULL : system_methods->xWrite(file, data, size, at);
}

inline int open_on_full_disk(sqlite3_vfs*, sqlite3_filename name, sqlite3_file* file, int flags, int* out) {
    const int result = system_vfs->xOpen(system_vfs, name, file, flags, out);
    if (result == SQLITE_OK && (flags & SQLITE_OPEN_WAL) != 0 && file->pMethods != nullptr) {
        system_methods = file->pMethods;
        full_methods = *system_methods;
        full_methods.xWrite = write_or_full;
        file->pMethods = &full_methods;
    }
    return result;
}

class FullDisk {
public:
    FullDisk() {
        system_vfs = sqlite3_vfs_find(nullptr);
        shim_ = *system_vfs;
        shim_.zName = "full-disk";
        shim_.xOpen = open_on_full_disk;
        sqlite3_vfs_register(&shim_, 1);
    }
    ~FullDisk() {
        disk_is_full = false;
        sqlite3_vfs_unregister(&shim_);
        sqlite3_vfs_register(system_vfs, 1);
    }
    FullDisk(const FullDisk&) = delete;
    FullDisk& operator=(const FullDisk&) = delete;

private:
    sqlite3_vfs shim_{};
};

} // namespace ingot::tests
