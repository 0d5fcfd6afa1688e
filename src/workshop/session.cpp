#include "workshop/session.h"

#include "store/connection.h"

namespace ingot {

namespace {

// A clock that was put back further than this is believed.
constexpr qint64 most_ahead_ms = 60'000;

// Leaves the transaction of a batch without having gone wrong by itself.
struct Undone {
    Problem problem;
};

} // namespace

Session::Session(std::unique_ptr<store::WorkshopFile> file)
    : measurements(file->connection()), assemblies(file->connection()), units(file->connection()),
      runs(file->connection()), remarks(file->connection()), catalogue(file->connection()), file_(std::move(file)) {}

std::string Session::now() const {
    QDateTime moment = clock_().toUTC();
    // Two steps never share a moment, so that what came first stays first. A batch is one step.
    if (last_.isValid() && moment <= last_ && moment.msecsTo(last_) < most_ahead_ms)
        moment = batch_ == 0 ? last_.addMSecs(1) : last_;
    last_ = moment;
    return moment.toString(Qt::ISODateWithMs).toStdString();
}

std::optional<Problem> Session::objection() const {
    switch (access()) {
    case Access::writing:
        return std::nullopt;
    case Access::reading_other_window:
        return Problem{
            "", 0,
            said("This workshop is open in another window, so it can only be read here. Work in the other window.")};
    case Access::reading_only_file:
        return Problem{
            "", 0,
            said("This workshop's file is read-only. Copy it to a place where you may write, and open the copy.")};
    }
    return std::nullopt;
}

Result<Id> Session::commit(const std::function<Id()>& work, const ChangeSet& changes) {
    if (auto problem = objection())
        return *problem;
    Id id = 0;
    try {
        file_->connection().together([&] { id = work(); });
    } catch (const std::exception& exception) {
        return Problem{path(), 0,
                       said("could not be written ({}). Nothing was recorded. Check the disk.", exception.what())};
    }
    if (changes.nothing())
        return id;
    emit committed(changes);
    if (batch_ > 0)
        batched_.add(changes);
    else
        emit changed(changes);
    return id;
}

Result<bool> Session::step(const std::function<void()>& work, const ChangeSet& changes) {
    const auto done = commit(
        [&] {
            work();
            return Id{0};
        },
        changes);
    if (!done)
        return done.problem();
    return true;
}

Result<bool> Session::batch(const std::function<Result<bool>()>& work) {
    if (auto problem = objection())
        return *problem;
    if (batch_ == 0)
        (void)now(); // a moment of its own, which its steps share
    ++batch_;
    Result<bool> out = true;
    try {
        file_->connection().together([&] {
            auto done = work();
            if (!done)
                throw Undone{done.problem()};
        });
    } catch (const Undone& undone) {
        out = undone.problem;
    } catch (const std::exception& exception) {
        out = Problem{path(), 0,
                      said("could not be written ({}). Nothing was recorded. Check the disk.", exception.what())};
    }
    --batch_;
    if (batch_ > 0)
        return out;
    ChangeSet changes = std::exchange(batched_, {});
    if (!out) // what the inventory took in meanwhile was undone
        changes.everything = true;
    if (!changes.nothing()) {
        if (!out)
            emit committed(changes);
        emit changed(changes);
    }
    return out;
}

void Session::record_event(const std::string& what, const std::string& subject, const std::string& detail) {
    remarks.add(Event{now(), what, subject, detail});
}

} // namespace ingot
