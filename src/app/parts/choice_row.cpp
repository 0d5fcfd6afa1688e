#include "app/parts/choice_row.h"

#include "app/parts/panel.h"

#include <QHBoxLayout>

namespace ingot::app {

ChoiceRow::ChoiceRow(const QStringList& choices, QWidget* parent) : QWidget(parent) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    for (int i = 0; i < choices.size(); ++i) {
        auto* button = new PressButton(choices[i], this);
        button->setCheckable(true);
        button->setChecked(i == 0);
        row->addWidget(button);
        buttons_ << button;
        connect(button, &PressButton::clicked, this, [this, i] {
            choose(i);
            emit changed(i);
        });
    }
}

void ChoiceRow::choose(int index) {
    chosen_ = index;
    for (int i = 0; i < buttons_.size(); ++i)
        buttons_[i]->setChecked(i == index);
}

} // namespace ingot::app
