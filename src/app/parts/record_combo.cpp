#include "app/parts/record_combo.h"

#include "app/theme/theme.h"

namespace ingot::app {

RecordCombo::RecordCombo(const QString& name, QWidget* parent) : QComboBox(parent), filter_(new RecordFilter(this)) {
    setObjectName(name);
    setFont(type(20, true));
    setFocusPolicy(Qt::TabFocus);
    setModel(filter_);
    setSizeAdjustPolicy(QComboBox::AdjustToContents);
}

void RecordCombo::set_records(RecordModel* records, std::function<bool(Id)> meant) {
    filter_->set_records(records);
    filter_->set_choice(std::move(meant));
    setModelColumn(0);
}

void RecordCombo::choose_next() {
    if (count() > 0)
        setCurrentIndex((currentIndex() + 1) % count());
}

} // namespace ingot::app
