// Many bays: each tester a row of columns that fill with the charge moved, their tops the unit's whole; what needs the
// hand stands under a pennant.
#include "app/parts/bay_wall.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/bench_wording.h"

#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {

int row_title() {
    return scaled(18);
}
constexpr int pennants = 22;
constexpr int numbers = 17;
constexpr double wide_column = 34; // room for a time within

bool wants_hand(const BayView& bay) {
    return bay.look == BayLook::lift_out || bay.look == BayLook::stopped || bay.look == BayLook::in_doubt;
}

// Charge is full, discharge hatched, rest dotted: told apart without the colour.
Qt::BrushStyle fill_of(const BayView& bay) {
    if (bay.position.step < 0 || bay.position.step >= static_cast<int>(bay.protocol.steps.size()))
        return Qt::Dense5Pattern;
    switch (bay.protocol.steps[static_cast<std::size_t>(bay.position.step)].kind) {
    case ProtocolStepKind::charge:
        return Qt::SolidPattern;
    case ProtocolStepKind::discharge:
    case ProtocolStepKind::pulse:
        return Qt::BDiagPattern;
    case ProtocolStepKind::rest:
    case ProtocolStepKind::loop:
        break;
    }
    return Qt::Dense5Pattern;
}

} // namespace

std::vector<BayWall::TesterRow> BayWall::tester_rows() const {
    std::vector<TesterRow> rows;
    for (const BayView& bay : *bays_) {
        if (rows.empty() || rows.back().address != bay.address)
            rows.push_back({bay.address, QString::fromStdString(bay.tester), bay.bay, 0});
        ++rows.back().count;
    }
    return rows;
}

int BayWall::columns_height() const {
    constexpr int one_row = 196;
    constexpr int most = 352;
    constexpr int of_several = 128;
    const int rows = static_cast<int>(tester_rows().size());
    return rows <= 1 ? one_row : std::min(rows * of_several, most);
}

QRectF BayWall::column_place(int number) const {
    const auto rows = tester_rows();
    const double row_h = static_cast<double>(height()) / static_cast<double>(rows.size());
    for (std::size_t r = 0; r < rows.size(); ++r) {
        const TesterRow& row = rows[r];
        if (number < row.first || number >= row.first + row.count)
            continue;
        // A tester of few bays has no wider columns than one of sixteen.
        constexpr int fewest = 16;
        const double w = static_cast<double>(width()) / std::max(row.count, fewest);
        const double title = rows.size() > 1 ? row_title() : 0;
        return {(number - row.first) * w, static_cast<double>(r) * row_h + title, w, row_h - title};
    }
    return {};
}

void BayWall::paint_columns(QPainter& painter) const {
    const auto rows = tester_rows();
    if (rows.size() > 1) {
        painter.setFont(type(13, true));
        painter.setPen(colours().muted);
        for (const TesterRow& row : rows) {
            const QRectF first = column_place(row.first);
            painter.drawText(
                QRectF(0, first.top() - row_title(), width(), row_title()), Qt::AlignLeft | Qt::AlignVCenter,
                row.name.isEmpty() ? tr("Bays %1 to %2").arg(row.first).arg(row.first + row.count - 1) : row.name);
        }
    }
    double pennant_free_from = 0;
    double row_top = -1;
    for (const BayView& bay : *bays_) {
        const QRectF cell = column_place(bay.bay);
        if (cell.top() != row_top) {
            row_top = cell.top();
            pennant_free_from = 0;
        }
        paint_column(painter, bay, cell);
        if (wants_hand(bay))
            pennant_free_from = paint_pennant(painter, bay, cell, pennant_free_from);
    }
}

void BayWall::paint_column(QPainter& painter, const BayView& bay, const QRectF& cell) const {
    const Colours& c = colours();
    const bool wide = cell.width() >= wide_column;
    const double gap = wide ? 6 : 2;
    const QRectF column(cell.left() + gap / 2, cell.top() + pennants, cell.width() - gap,
                        cell.height() - pennants - numbers);
    const bool chosen = bay.bay == chosen_;
    const Dress dress = dress_of(bay);
    painter.setPen(Qt::NoPen);
    if (bay.look == BayLook::free) {
        // Nothing stands there: only a foot, broken where its tester is away.
        painter.setPen(QPen(bay.silent ? c.brass : c.hairline, 2, bay.silent ? Qt::DotLine : Qt::SolidLine));
        painter.drawLine(column.bottomLeft(), column.bottomRight());
        if (wide) {
            painter.setFont(type(12));
            painter.setPen(bay.silent ? c.brass_text : c.muted);
            painter.drawText(QRectF(column.left(), column.bottom() - 20, column.width(), 18), Qt::AlignCenter,
                             bay.silent ? tr("away") : tr("free"));
        }
    } else {
        const bool hand = wants_hand(bay);
        painter.fillRect(column, hand ? dress.foot : c.well);
        const double share = bay.look == BayLook::lift_out ? 1 : std::clamp(bay.step_share, 0.0, 1.0);
        const QRectF filled(column.left(), column.bottom() - share * column.height(), column.width(),
                            share * column.height());
        painter.fillRect(filled, QBrush(hand         ? dress.edge
                                        : bay.silent ? c.brass
                                                     : c.steel,
                                        hand ? Qt::Dense4Pattern : fill_of(bay)));
        painter.setPen(QPen(dress.edge, hand ? 2 : 1, bay.silent ? Qt::DashLine : Qt::SolidLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(column);
        if (wide && !hand) {
            const QRectF at(column.left(), column.top() + 2, column.width(), 17);
            painter.fillRect(at.adjusted(1, 0, -1, 0), c.surface);
            painter.setFont(type(12, true));
            painter.setPen(c.ink);
            painter.drawText(at, Qt::AlignCenter, time_left(bay));
        }
    }
    if (chosen) {
        painter.setPen(QPen(c.ink, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(column.adjusted(-1, -1, 1, 1));
    }
    constexpr int each = 8;
    const bool numbered = wide || chosen || bay.of_tester == 1 || bay.of_tester % each == 0;
    if (!numbered)
        return;
    painter.setFont(type(12, chosen));
    painter.setPen(chosen ? c.ink : c.muted);
    painter.drawText(QRectF(cell.center().x() - 20, cell.bottom() - numbers, 40, numbers), Qt::AlignCenter,
                     QString::number(bay.bay));
}

// Its number beside the pole where there is room since the last one; else the pole alone. Where the next may begin.
double BayWall::paint_pennant(QPainter& painter, const BayView& bay, const QRectF& cell, double free_from) const {
    const Dress dress = dress_of(bay);
    const double pole = cell.center().x();
    const double top = cell.top() + 1;
    painter.setPen(QPen(dress.edge, 2));
    painter.drawLine(QPointF(pole, top), QPointF(pole, cell.top() + pennants));
    const QFont font = type(12, true);
    const QString words = cell.width() >= wide_column && bay.look != BayLook::lift_out
                              ? QStringLiteral("%1 %2").arg(bay.bay).arg(
                                    bay.look == BayLook::in_doubt ? tr("in doubt") : wording::step_end_word(bay.stop))
                              : QString::number(bay.bay);
    const double w = QFontMetricsF(font).horizontalAdvance(words) + 12;
    const double from = std::min(pole, width() - w);
    if (from < free_from)
        return free_from;
    const double h = pennants - 4;
    QPolygonF flag{{from, top}, {from + w, top}, {from + w - 5, top + h / 2}, {from + w, top + h}, {from, top + h}};
    painter.setPen(Qt::NoPen);
    painter.setBrush(dress.edge);
    painter.drawPolygon(flag);
    painter.setFont(font);
    painter.setPen(colours().on_strong);
    painter.drawText(QRectF(from + 3, top, w - 8, h), Qt::AlignCenter, words);
    return from + w + 2;
}

} // namespace ingot::app
