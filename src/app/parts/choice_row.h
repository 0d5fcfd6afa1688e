// A row of buttons of which one is chosen. Keyboard: Tab reaches it, left and right move.
#pragma once

#include <QWidget>

namespace ingot::app {

class PressButton;

class ChoiceRow : public QWidget {
    Q_OBJECT
public:
    explicit ChoiceRow(const QStringList& choices, QWidget* parent = nullptr);
    [[nodiscard]] int chosen() const { return chosen_; }
    void choose(int index);
    [[nodiscard]] PressButton* button(int index) const { return buttons_[index]; }

signals:
    void changed(int index);

private:
    QList<PressButton*> buttons_;
    int chosen_ = 0;
};

} // namespace ingot::app
