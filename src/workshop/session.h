// One workshop file that is open: its repositories, its clock, and the way in which every step is taken. A step is one
// transaction, durable before it returns; then the inventory is brought up to date and the views are told.
#pragma once

#include "core/cells/problem.h"
#include "store/assemblies.h"
#include "store/catalogue.h"
#include "store/measurements.h"
#include "store/remarks.h"
#include "store/runs.h"
#include "store/units.h"
#include "store/workshop_file.h"
#include "workshop/change_set.h"

#include <QDateTime>
#include <QObject>

#include <functional>
#include <memory>

namespace ingot {

class Session : public QObject {
    Q_OBJECT
public:
    using Clock = std::function<QDateTime()>;

    explicit Session(std::unique_ptr<store::WorkshopFile> file);

    void set_clock(Clock clock) { clock_ = std::move(clock); }
    [[nodiscard]] QDateTime today() const { return clock_(); }
    [[nodiscard]] std::string now() const; // ISO 8601, UTC, with milliseconds

    [[nodiscard]] const std::string& path() const { return file_->path(); }
    [[nodiscard]] Access access() const { return file_->access(); }
    [[nodiscard]] bool writable() const { return access() == Access::writing; }
    // Why nothing can be written here; nothing where it can.
    [[nodiscard]] std::optional<Problem> objection() const;

    store::Measurements measurements;
    store::Assemblies assemblies;
    store::Units units;
    store::Runs runs;
    store::Remarks remarks;
    store::Catalogue catalogue;

    // One step: all or nothing. `changes` is read after `work`, which may fill it. Whatever goes wrong is a problem.
    Result<Id> commit(const std::function<Id()>& work, const ChangeSet& changes);
    Result<bool> step(const std::function<void()>& work, const ChangeSet& changes);
    // Several steps that stand or fall together: `work` takes them one after the other and stops at the first problem.
    Result<bool> batch(const std::function<Result<bool>()>& work);
    // Part of a step that is not a step by itself.
    void record_event(const std::string& what, const std::string& subject, const std::string& detail = {});

signals:
    void committed(const ingot::ChangeSet& changes); // the inventory listens
    void changed(const ingot::ChangeSet& changes);   // views listen; once after a batch

private:
    std::unique_ptr<store::WorkshopFile> file_;
    Clock clock_ = [] { return QDateTime::currentDateTimeUtc(); };
    mutable QDateTime last_; // the moment given last
    int batch_ = 0;
    ChangeSet batched_;
};

} // namespace ingot
