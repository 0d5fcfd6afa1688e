// A choice of one record: it lists the rows of a read model that are meant here, and follows them.
#pragma once

#include "workshop/models/record_model.h"

#include <QComboBox>

namespace ingot::app {

class RecordCombo : public QComboBox {
    Q_OBJECT
public:
    // `name`: the object's name.
    RecordCombo(const QString& name, QWidget* parent);
    // `meant`: which records are listed.
    void set_records(RecordModel* records, std::function<bool(Id)> meant);
    [[nodiscard]] Id chosen() const { return currentData(RecordModel::id_role).toLongLong(); } // 0: none
    [[nodiscard]] bool lists(Id id) const { return filter_->row_of(id) >= 0; }
    [[nodiscard]] Id first() const { return filter_->rowCount() > 0 ? filter_->id_at(0) : 0; }
    [[nodiscard]] Id last() const { return filter_->rowCount() > 0 ? filter_->id_at(filter_->rowCount() - 1) : 0; }
    void choose(Id id) { setCurrentIndex(filter_->row_of(id)); }
    void choose_next();

private:
    RecordFilter* filter_;
};

} // namespace ingot::app
