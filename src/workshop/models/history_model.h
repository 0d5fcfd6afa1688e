// The history of one thing: what was said of it, measured on it, done with it, in the order of time, newest first.
#pragma once

#include "workshop/models/record_model.h"
#include "workshop/workshop.h"

namespace ingot {

class HistoryModel : public RecordModel {
    Q_OBJECT
public:
    enum Column { at, what, detail, by };
    HistoryModel(const Workshop& workshop, QObject* parent);
    void show_of(const HistorySubject& subject);
    [[nodiscard]] const HistorySubject& subject() const { return subject_; }
    [[nodiscard]] QString title() const;

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;
    [[nodiscard]] bool struck(Id id) const override;

private:
    struct Line {
        std::string at;
        QString what, detail, by;
        bool struck = false;
    };
    void read();
    void add_measurements();
    void add_runs();
    void add_placements();
    void add_events();
    void put(int kind, Id record, Line line);

    const Workshop& workshop_;
    HistorySubject subject_;
    std::unordered_map<Id, Line> lines_;
};

} // namespace ingot
