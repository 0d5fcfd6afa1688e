// A page of A4 that lines and rows are put on from the top down. Internals of print/.
#pragma once

#include "app/print/paper.h"

#include <QPainter>
#include <QPdfWriter>

#include <array>

namespace ingot::app {

// A page that text is put on from the top down.
class PrintedPage {
public:
    explicit PrintedPage(QPdfWriter& writer) : writer_(writer) {}
    bool begin() { return painter_.begin(&writer_); }
    bool end() { return painter_.end(); }
    void line(const QString& text, double height, bool bold = false, double gap = 1.5) {
        room(height + gap);
        painter_.setFont(sized(height, bold));
        const QRectF area(left * dots_per_mm, y_ * dots_per_mm, 180 * dots_per_mm, 60 * dots_per_mm);
        QRectF used;
        painter_.drawText(area, Qt::TextWordWrap, text, &used);
        y_ += used.height() / dots_per_mm + gap;
    }
    // Columns by where they begin, mm.
    template <std::size_t Count>
    void row(const std::array<double, Count>& columns, const std::array<QString, Count>& cells, bool bold = false) {
        room(5.4);
        painter_.setFont(sized(2.9, bold));
        for (std::size_t i = 0; i < Count; ++i)
            painter_.drawText(QPointF(columns[i] * dots_per_mm, (y_ + 3.8) * dots_per_mm), cells[i]);
        painter_.setPen(QPen(QColor(200, 200, 200), 1));
        painter_.drawLine(QPointF(left * dots_per_mm, (y_ + 5.1) * dots_per_mm),
                          QPointF(195 * dots_per_mm, (y_ + 5.1) * dots_per_mm));
        painter_.setPen(Qt::black);
        y_ += 5.4;
    }
    void box(double x_mm, double size_mm) {
        painter_.drawRect(
            QRectF(x_mm * dots_per_mm, (y_ - 4.6) * dots_per_mm, size_mm * dots_per_mm, size_mm * dots_per_mm));
    }
    // A picture over the whole width; `draw` gets where, in the painter's dots.
    template <class Draw> void picture(double height, const Draw& draw) {
        room(height);
        draw(painter_, QRectF(left * dots_per_mm, y_ * dots_per_mm, 180 * dots_per_mm, height * dots_per_mm));
        y_ += height;
    }
    void skip(double gap) { y_ += gap; }
    [[nodiscard]] QPainter& painter() { return painter_; }

private:
    static constexpr double page_bottom = 280, left = 15;
    void room(double height) {
        if (y_ + height < page_bottom)
            return;
        writer_.newPage();
        y_ = 15;
    }
    QPdfWriter& writer_;
    QPainter painter_;
    double y_ = 15;
};

} // namespace ingot::app
