// The bays of the testers side by side: what stands on each, where it is, how long it takes, and which one needs the
// hand. Tall strips up to eight bays; beyond, each tester a row of columns that fill. Walk with the arrow keys.
#pragma once

#include "app/parts/painted.h"
#include "workshop/bays.h"

#include <QColor>

namespace ingot::app {

class BayWall : public Painted {
    Q_OBJECT
public:
    explicit BayWall(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    // `rate`: how much faster than the clock the tester's time runs.
    void set(const std::vector<BayView>* bays, double rate);
    void choose(int bay); // from 1; 0: none
    [[nodiscard]] int chosen() const { return chosen_; }
    [[nodiscard]] QRectF place_of(int bay) const;
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {560, sizeHint().height()}; }
    // What a screen reader says of a bay.
    [[nodiscard]] static QString spoken(const BayView& bay, double rate);

signals:
    void chosen_changed(int bay);
    void pressed(int bay); // Enter or a double click

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] bool many() const;
    [[nodiscard]] QString time_left(const BayView& bay) const;
    // The bay above or below: as far along the row of another tester.
    [[nodiscard]] int in_next_row(int bay, int step) const;
    struct Dress { // what colours a bay's head and word
        QColor head, head_text, edge, word, foot;
    };
    struct Brush;
    [[nodiscard]] static Dress dress_of(const BayView& bay);
    void paint_bay(QPainter& painter, const BayView& bay, const QRectF& at) const;
    void paint_head(Brush& brush) const;
    void paint_tall(Brush& brush) const;
    void paint_trace(QPainter& painter, const BayView& bay, const QRectF& at) const;

    // --- bay_columns.cpp: many bays ---
    struct TesterRow {
        std::string address;
        QString name;
        int first = 1, count = 0;
    };
    [[nodiscard]] std::vector<TesterRow> tester_rows() const;
    [[nodiscard]] int columns_height() const;
    [[nodiscard]] QRectF column_place(int number) const;
    void paint_columns(QPainter& painter) const;
    void paint_column(QPainter& painter, const BayView& bay, const QRectF& cell) const;
    [[nodiscard]] double paint_pennant(QPainter& painter, const BayView& bay, const QRectF& cell,
                                       double free_from) const;

    const std::vector<BayView>* bays_ = nullptr;
    double rate_ = 1;
    int chosen_ = 0;
};

} // namespace ingot::app
