// One connection to a workshop file: statements prepared once, transactions that nest. The repositories stand on it; no
// type of SQLite shows in what they offer. Throws SQLite::Exception (full disk, lost file, broken rule of the schema).
#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

#include <cstdint>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>

namespace ingot::store {

// 0 means "none" in the records and NULL in the file.
struct OrNull {
    std::int64_t id = 0;
};

// An empty text is NULL in the file.
[[nodiscard]] inline std::optional<std::string> or_null(const std::string& text) {
    return text.empty() ? std::nullopt : std::optional(text);
}

// A statement that is being stepped; free for the next use when this goes.
class Query {
public:
    explicit Query(SQLite::Statement& statement) : statement_(&statement) {}
    ~Query() { (void)statement_->tryReset(); }
    Query(const Query&) = delete;
    Query& operator=(const Query&) = delete;

    [[nodiscard]] bool next() { return statement_->executeStep(); }
    [[nodiscard]] std::int64_t id(int column) const { return statement_->getColumn(column).getInt64(); } // NULL: 0
    [[nodiscard]] int whole(int column) const { return statement_->getColumn(column).getInt(); }
    [[nodiscard]] double number(int column) const { return statement_->getColumn(column).getDouble(); }
    [[nodiscard]] std::string text(int column) const { return statement_->getColumn(column).getString(); } // NULL: ""
    [[nodiscard]] const char* chars(int column) const { return statement_->getColumn(column).getText(); }
    [[nodiscard]] bool is_null(int column) const { return statement_->getColumn(column).isNull(); }
    [[nodiscard]] std::optional<double> number_if(int column) const {
        return is_null(column) ? std::nullopt : std::optional(number(column));
    }
    [[nodiscard]] std::optional<int> whole_if(int column) const {
        return is_null(column) ? std::nullopt : std::optional(whole(column));
    }
    [[nodiscard]] std::string blob(int column) const {
        const SQLite::Column data = statement_->getColumn(column);
        return {static_cast<const char*>(data.getBlob()), static_cast<std::size_t>(data.getBytes())};
    }

private:
    SQLite::Statement* statement_;
};

struct Blob {
    const void* data = nullptr;
    std::size_t size = 0;
};

class Connection {
public:
    explicit Connection(SQLite::Database& database) : database_(database) {}
    Connection(const Connection&) = delete;
    Connection& operator=(const Connection&) = delete;

    // All or nothing, in one transaction; an exception undoes everything. Inside another one: part of that.
    void together(const std::function<void()>& work);

    // `sql` must outlive the connection: a literal. Values in the order of the question marks.
    template <class... Values> Query query(const char* sql, const Values&... values) {
        SQLite::Statement& statement = prepared(sql);
        int at = 0;
        (bind(statement, ++at, values), ...);
        return Query(statement);
    }
    template <class... Values> void run(const char* sql, const Values&... values) {
        SQLite::Statement& statement = prepared(sql);
        int at = 0;
        (bind(statement, ++at, values), ...);
        const Query done(statement);
        statement.exec();
    }
    // The row that the last INSERT made.
    [[nodiscard]] std::int64_t last_id() const { return database_.getLastInsertRowid(); }
    [[nodiscard]] SQLite::Database& database() { return database_; }

private:
    SQLite::Statement& prepared(const char* sql);
    static void bind(SQLite::Statement& s, int at, OrNull value) {
        if (value.id != 0)
            s.bind(at, value.id);
        else
            s.bind(at);
    }
    static void bind(SQLite::Statement& s, int at, const Blob& value) {
        s.bind(at, value.data, static_cast<int>(value.size));
    }
    template <class Value> static void bind(SQLite::Statement& s, int at, const std::optional<Value>& value) {
        if (value)
            bind(s, at, *value);
        else
            s.bind(at);
    }
    template <class Value> static void bind(SQLite::Statement& s, int at, const Value& value) { s.bind(at, value); }

    SQLite::Database& database_;
    std::map<const char*, std::unique_ptr<SQLite::Statement>> statements_;
    int depth_ = 0;
};

} // namespace ingot::store
