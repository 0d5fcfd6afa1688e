// The units at rest with what their voltages say. A row is a unit; it shows what a job has judged last.
#pragma once

#include "workshop/models/record_model.h"
#include "workshop/workshop.h"

namespace ingot {

class RestModel : public RecordModel {
    Q_OBJECT
public:
    enum Column { code, model, readings, last_read, drift, interval, limit, leak, verdict, next, home };
    RestModel(const Workshop& workshop, QObject* parent);
    void show(const RestShelf& shelf);
    [[nodiscard]] const RestingLine* line(Id row) const; // of RestingLine; null: not at rest
    [[nodiscard]] const RestShelf& shelf() const { return shelf_; }
    // Which are to be read now; a day that has begun counts.
    [[nodiscard]] bool due(const RestingLine& line) const;

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;

private:
    [[nodiscard]] RecordField judged(const RestingLine& line, int column) const;
    const Workshop& workshop_;
    RestShelf shelf_;
    std::map<Id, std::size_t> line_of_;
};

} // namespace ingot
