// Shelves by when they are to be read: a column a day, a chip a tray. A chip that is pressed begins its walk; pressed
// again, all are shown.
#pragma once

#include "app/parts/painted.h"

#include <vector>

namespace ingot::app {

struct DueChip {
    int column = 0;
    QString home;
    int units = 0;
};

class DueBoardView : public Painted {
    Q_OBJECT
public:
    explicit DueBoardView(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    static constexpr int most_in_column = 4;
    // The heads of the columns; the first asks for the hand. `chips` column after column, at most so many in each.
    void set(std::vector<QString> columns, std::vector<DueChip> chips);
    [[nodiscard]] int chosen() const { return chosen_; } // -1: none
    void choose(int chip);                               // the chosen one again: none
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return sizeHint(); }

signals:
    void chosen_changed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF column(int index) const;
    [[nodiscard]] QRectF chip_at(int index) const;
    [[nodiscard]] int place_in_column(int index) const;

    std::vector<QString> columns_;
    std::vector<DueChip> chips_;
    int chosen_ = -1;
    int cursor_ = 0;
};

} // namespace ingot::app
