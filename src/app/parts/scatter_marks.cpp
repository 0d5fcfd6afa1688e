#include "app/parts/scatter_marks.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QPixmap>

#include <algorithm>
#include <array>
#include <cmath>

namespace ingot::app {

namespace {

constexpr std::size_t crowd = 800;       // from here on marks are drawn small
constexpr std::size_t most_marks = 3000; // more in sight are shown as density

// How many stand in a spot: the more, the darker.
void paint_density(QPainter& painter, const QRectF& area, const std::vector<ScatterMark>& marks) {
    constexpr int spot = 6;
    const int across = static_cast<int>(area.width()) / spot + 1;
    std::vector<int> counts(static_cast<std::size_t>(across * (static_cast<int>(area.height()) / spot + 1)), 0);
    int most = 1;
    for (const ScatterMark& mark : marks) {
        const QPointF at = mark.at - area.topLeft();
        const int cell = static_cast<int>(at.y()) / spot * across + static_cast<int>(at.x()) / spot;
        if (at.x() >= 0 && at.y() >= 0 && at.x() < area.width() && cell < static_cast<int>(counts.size()))
            most = std::max(most, ++counts[static_cast<std::size_t>(cell)]);
    }
    QColor ink = colours().ink;
    for (std::size_t i = 0; i < counts.size(); ++i) {
        if (counts[i] == 0)
            continue;
        constexpr double faintest = 0.18;
        ink.setAlphaF(static_cast<float>(faintest + (1 - faintest) * std::log1p(counts[i]) / std::log1p(most)));
        const int row = static_cast<int>(i) / across;
        const int column = static_cast<int>(i) % across;
        painter.fillRect(QRectF(area.left() + column * spot, area.top() + row * spot, spot, spot), ink);
    }
}

} // namespace

void paint_scatter_marks(QPainter& painter, const QRectF& plot, const std::vector<ScatterMark>& marks, double ratio) {
    painter.setClipRect(plot.adjusted(-4, -4, 4, 4));
    const auto in_sight = static_cast<std::size_t>(
        std::count_if(marks.begin(), marks.end(), [&](const ScatterMark& mark) { return plot.contains(mark.at); }));
    const bool dense = in_sight > most_marks;
    if (dense)
        paint_density(painter, plot, marks);
    const double size = marks.size() > crowd ? 6 : 13;
    // Each shape is drawn once and stamped: 5,000 stamps stay far under a frame.
    std::array<QPixmap, duty_count> stamps;
    for (int d = 0; d < duty_count; ++d) {
        QPixmap stamp(QSize(static_cast<int>(size + 4), static_cast<int>(size + 4)) * ratio);
        stamp.setDevicePixelRatio(ratio);
        stamp.fill(Qt::transparent);
        QPainter on(&stamp);
        draw_duty(on, {(size + 4) / 2, (size + 4) / 2}, size, static_cast<Duty>(d));
        stamps[static_cast<std::size_t>(d)] = stamp;
    }
    for (const bool hazards : {false, true})
        for (const ScatterMark& mark : marks)
            if ((mark.duty == Duty::quarantine) == hazards && (hazards || !dense))
                painter.drawPixmap(mark.at - QPointF(size / 2 + 2, size / 2 + 2),
                                   stamps[static_cast<std::size_t>(mark.duty)]);
    painter.setClipping(false);
}

void paint_selected_mark(QPainter& painter, const QRectF& plot, const ScatterMark& mark) {
    painter.setPen(QPen(colours().steel, 1, Qt::DashLine));
    painter.drawLine(QPointF(plot.left(), mark.at.y()), mark.at);
    painter.drawLine(QPointF(mark.at.x(), plot.bottom()), mark.at);
    painter.setPen(QPen(colours().ink, 2));
    painter.setBrush(colours().surface);
    painter.drawRect(QRectF(mark.at.x() - 11, mark.at.y() - 11, 22, 22));
    draw_duty(painter, mark.at, 15, mark.duty);
}

int mark_near(const std::vector<ScatterMark>& marks, const QPointF& at) {
    constexpr double reach = 18;
    double nearest = reach * reach;
    int found = -1;
    for (std::size_t i = 0; i < marks.size(); ++i) {
        const QPointF d = marks[i].at - at;
        const double distance = QPointF::dotProduct(d, d);
        if (distance < nearest) {
            nearest = distance;
            found = static_cast<int>(i);
        }
    }
    return found;
}

} // namespace ingot::app
