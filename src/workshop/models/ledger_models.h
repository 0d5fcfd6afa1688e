// The long lists: measurements, runs, events. Newest first, read in slices as they are looked at or searched through.
#pragma once

#include "workshop/models/record_model.h"
#include "workshop/workshop.h"

#include <QTimer>

namespace ingot {

// How a quantity is called, for the search.
[[nodiscard]] std::string searched_word(Quantity quantity);

// A list that is read in slices. `Record` has an `id`.
template <class Record> class SlicedModel : public RecordModel {
public:
    [[nodiscard]] bool canFetchMore(const QModelIndex& parent) const override { return !parent.isValid() && !end_; }
    // One slice now; more until a page is full, between other work of the window.
    void fetchMore(const QModelIndex& /*parent*/) override {
        wanted_ = rowCount() + page;
        next_slice();
    }
    void set_words(const QString& words) {
        search_ = workshop_.ledger().search(words.toStdString(), searched_word);
        restart();
    }
    // Everything of one thing; both 0: of nothing.
    void show_of(Id unit, Id assembly) {
        search_ = {};
        search_.unit = unit;
        search_.assembly = assembly;
        empty_ = unit == 0 && assembly == 0;
        restart();
    }
    // A list that nobody looks at does not read; it begins anew when it is looked at again.
    void set_live(bool live) {
        live_ = live;
        if (live && stale_)
            restart();
        if (!live)
            timer_.stop();
    }
    [[nodiscard]] bool searching() const { return timer_.isActive(); }
    [[nodiscard]] const Record* record(Id id) const {
        const auto at = records_.find(id);
        return at == records_.end() ? nullptr : &at->second;
    }

protected:
    static constexpr int page = 100;

    SlicedModel(const Workshop& workshop, std::vector<RecordColumn> columns, QObject* parent)
        : RecordModel(std::move(columns), parent), workshop_(workshop) {
        timer_.setSingleShot(true);
        QObject::connect(&timer_, &QTimer::timeout, this, [this] { next_slice(); });
        QObject::connect(&workshop, &Workshop::changed, this, [this](const ChangeSet& c) { follow(c); });
    }
    [[nodiscard]] virtual LedgerSlice<Record> read(const LedgerSearch& search, Id before) const = 0;
    // Whether a step may have changed what the record shows.
    [[nodiscard]] virtual bool concerns(const Record& record, const ChangeSet& changes) const = 0;
    [[nodiscard]] const Workshop& workshop() const { return workshop_; }

private:
    // A list of one thing looks only at what touched that.
    [[nodiscard]] bool may_concern(const ChangeSet& changes) const {
        if (changes.everything)
            return true;
        if (search_.unit != 0)
            return changes.units.contains(search_.unit);
        return search_.assembly == 0 || changes.assemblies.contains(search_.assembly);
    }
    void restart() {
        stale_ = !live_;
        timer_.stop();
        end_ = empty_;
        before_ = 0;
        records_.clear();
        show_rows({});
        if (!empty_ && live_)
            fetchMore({});
    }
    void next_slice() {
        LedgerSlice<Record> slice = read(search_, before_);
        before_ = slice.before;
        end_ = slice.end;
        std::vector<Id> ids;
        for (Record& record : slice.records) {
            ids.push_back(record.id);
            records_[record.id] = std::move(record);
        }
        add_rows(ids);
        if (!end_ && rowCount() < wanted_)
            timer_.start(0);
        emit slice_read();
    }
    // The newest slice is read again: what came is put before the rest, what was struck out shows so.
    void follow(const ChangeSet& changes) {
        if (empty_ || changes.nothing() || !may_concern(changes))
            return;
        if (changes.everything || !live_) {
            restart();
            return;
        }
        LedgerSlice<Record> slice = read(search_, 0);
        std::vector<Id> ids;
        std::set<Id> touched;
        for (Record& record : slice.records) {
            ids.push_back(record.id);
            if (concerns(record, changes))
                touched.insert(record.id);
            records_[record.id] = std::move(record);
        }
        if (!slice.end)
            for (int row = 0; row < rowCount(); ++row)
                if (id_at(row) < slice.before)
                    ids.push_back(id_at(row));
        show_rows(std::move(ids));
        touch(touched);
    }

    const Workshop& workshop_;
    LedgerSearch search_;
    std::unordered_map<Id, Record> records_;
    QTimer timer_;
    Id before_ = 0;
    int wanted_ = 0;
    bool end_ = true, empty_ = false, live_ = true, stale_ = false;
};

class MeasurementsModel : public SlicedModel<Measurement> {
    Q_OBJECT
public:
    enum Column { taken, subject, quantity, value, condition, instrument, protocol, day };
    MeasurementsModel(const Workshop& workshop, QObject* parent);

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;
    [[nodiscard]] QString tip(Id id) const override;
    [[nodiscard]] bool struck(Id id) const override;
    [[nodiscard]] LedgerSlice<Measurement> read(const LedgerSearch& search, Id before) const override;
    [[nodiscard]] bool concerns(const Measurement& record, const ChangeSet& changes) const override;
};

class RunsModel : public SlicedModel<Run> {
    Q_OBJECT
public:
    enum Column { began, unit, protocol, instrument, ended, samples, file };
    RunsModel(const Workshop& workshop, QObject* parent);

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;
    [[nodiscard]] LedgerSlice<Run> read(const LedgerSearch& search, Id before) const override;
    [[nodiscard]] bool concerns(const Run& record, const ChangeSet& changes) const override;
};

class EventsModel : public SlicedModel<Event> {
    Q_OBJECT
public:
    enum Column { at, what, subject, detail };
    EventsModel(const Workshop& workshop, QObject* parent);

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;
    [[nodiscard]] LedgerSlice<Event> read(const LedgerSearch& search, Id before) const override;
    [[nodiscard]] bool concerns(const Event& record, const ChangeSet& changes) const override;
};

} // namespace ingot
