// A new workshop file with all its repositories.
#pragma once

#include "store/assemblies.h"
#include "store/catalogue.h"
#include "store/connection.h"
#include "store/measurements.h"
#include "store/remarks.h"
#include "store/runs.h"
#include "store/units.h"
#include "store/workshop_file.h"

#include "temporary.h"

namespace ingot::tests {

struct Store {
    explicit Store(std::unique_ptr<store::WorkshopFile> opened) : file(std::move(opened)) {}
    std::unique_ptr<store::WorkshopFile> file;
    store::Connection& connection = file->connection();
    store::Catalogue catalogue{connection};
    store::Assemblies assemblies{connection};
    store::Units units{connection};
    store::Measurements measurements{connection};
    store::Runs runs{connection};
    store::Remarks remarks{connection};

    [[nodiscard]] std::int64_t count(const std::string& table) {
        return connection.database().execAndGet("SELECT count(*) FROM \"" + table + "\"").getInt64();
    }
};

} // namespace ingot::tests
