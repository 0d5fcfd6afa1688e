// What giving up a little capacity buys: the conductance spread that is left at each step of the give-up control.
#pragma once

#include <QWidget>

#include <array>
#include <optional>

namespace ingot::app {

class GiveUpBars : public QWidget {
    Q_OBJECT
public:
    explicit GiveUpBars(QWidget* parent = nullptr);
    // Spreads as fractions, in the order of the control; nothing where not searched yet.
    void set(const std::array<std::optional<double>, 4>& spreads, int chosen);
    void clear();
    [[nodiscard]] QSize sizeHint() const override { return {190, 38}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {150, 38}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::array<std::optional<double>, 4> spreads_;
    int chosen_ = 0;
};

} // namespace ingot::app
