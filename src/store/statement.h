// One statement with its values in order; nothing in an optional is NULL. Internals of the records.
#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

#include <cstdint>
#include <optional>

namespace ingot::store {

template <class Value> void bind_value(SQLite::Statement& statement, int at, const Value& value) {
    statement.bind(at, value);
}
template <class Value> void bind_value(SQLite::Statement& statement, int at, const std::optional<Value>& value) {
    if (value)
        statement.bind(at, *value);
    else
        statement.bind(at);
}

template <class... Values> void run(SQLite::Database& database, const char* sql, const Values&... values) {
    SQLite::Statement statement(database, sql);
    int at = 0;
    (bind_value(statement, ++at, values), ...);
    statement.exec();
}

} // namespace ingot::store
