#include "store/connection.h"

namespace ingot::store {

void Connection::together(const std::function<void()>& work) {
    if (depth_ > 0) { // already inside one
        work();
        return;
    }
    SQLite::Transaction transaction(database_, SQLite::TransactionBehavior::IMMEDIATE);
    ++depth_;
    try {
        work();
    } catch (...) {
        --depth_;
        throw;
    }
    --depth_;
    transaction.commit();
}

SQLite::Statement& Connection::prepared(const char* sql) {
    auto& statement = statements_[sql];
    if (!statement)
        statement = std::make_unique<SQLite::Statement>(database_, sql);
    else
        (void)statement->tryReset();
    statement->clearBindings();
    return *statement;
}

} // namespace ingot::store
