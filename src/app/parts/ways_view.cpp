#include "app/parts/ways_view.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {
double ways_head() {
    return scaled(24);
}
double row_height() {
    return scaled(26);
}
// Right edges of the columns, as shares of the width.
constexpr double name_left = 0.04;
constexpr std::array<double, 5> right_edges{0.36, 0.49, 0.615, 0.74, 0.84};

QString name_of(const WayRow& row) {
    return row.name.isEmpty() ? wording::way(row.way) : row.name;
}
} // namespace

WaysView::WaysView(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Ways of matching"));
}

QSize WaysView::sizeHint() const {
    constexpr int least_rows = 4;
    const int rows = std::max(least_rows, static_cast<int>(rows_.size()));
    return {600, static_cast<int>(ways_head() + row_height() * rows) + 2};
}

QSize WaysView::minimumSizeHint() const {
    return {560, sizeHint().height()};
}

void WaysView::set(std::vector<WayRow> rows) {
    rows_ = std::move(rows);
    updateGeometry();
    QStringList described;
    for (const WayRow& row : rows_)
        described << (row.result ? tr("%1: usable %2").arg(name_of(row), figures::unit_capacity(row.result->usable_ah))
                                 : tr("%1: %2").arg(name_of(row), row.problem));
    setAccessibleDescription(described.join(QStringLiteral("; ")));
    update();
}

void WaysView::set_chosen(int row) {
    chosen_ = row;
    update();
}

QRectF WaysView::row_rect(int row) const {
    return {0, ways_head() + row * row_height(), static_cast<double>(width()), row_height()};
}

void WaysView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    const auto cell = [&](double right, double w, double y, double h) { return QRectF(right * width() - w, y, w, h); };
    painter.setPen(c.muted);
    painter.setFont(type(13));
    painter.drawText(QRectF(name_left * width(), 0, scaled(160), ways_head()), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("way of matching"));
    const QString heads[] = {tr("usable Ah"), tr("capacity"), tr("conductance"), tr("leak mAh/d"), tr("excess")};
    for (std::size_t i = 0; i < right_edges.size(); ++i)
        painter.drawText(cell(right_edges[i], 130, 0, ways_head()), Qt::AlignRight | Qt::AlignVCenter, heads[i]);
    painter.drawText(cell(0.995, 130, 0, ways_head()), Qt::AlignRight | Qt::AlignVCenter, tr("gap to bound"));
    double widest = 1e-9;
    for (const WayRow& row : rows_)
        if (row.result)
            widest = std::max(widest, row.result->bound_ah - row.result->usable_ah);
    for (int i = 0; i < static_cast<int>(rows_.size()); ++i) {
        const WayRow& row = rows_[static_cast<std::size_t>(i)];
        const QRectF r = row_rect(i);
        const bool chosen = i == chosen_;
        if (chosen) {
            painter.setPen(QPen(c.steel, hasFocus() ? 3 : 2));
            painter.setBrush(c.steel_ground);
            painter.drawPath(cut_bottom_right(r.adjusted(1, 1, -1, -1), 8));
            painter.fillPath(trapezoid({name_left * width() - 13, r.center().y()}, 15), c.steel);
        } else {
            painter.setPen(QPen(c.hairline, 1));
            painter.drawLine(r.bottomLeft(), r.bottomRight());
        }
        painter.setPen(c.ink);
        painter.setFont(type(15, chosen));
        painter.drawText(QRectF(name_left * width(), r.top(), scaled(220), r.height()),
                         Qt::AlignLeft | Qt::AlignVCenter, name_of(row));
        if (!row.result) {
            painter.setPen(c.muted);
            painter.setFont(type(13));
            painter.drawText(
                QRectF(0.25 * width(), r.top(), 0.74 * width(), r.height()), Qt::AlignLeft | Qt::AlignVCenter,
                painter.fontMetrics().elidedText(row.problem, Qt::ElideRight, static_cast<int>(0.74 * width())));
            continue;
        }
        const MatchResult& m = *row.result;
        const QString dash = QStringLiteral("\u2013");
        const QString values[] = {figures::plain(m.usable_ah, 3), figures::percent(m.capacity_spread, 2),
                                  m.conductance_spread ? figures::percent(*m.conductance_spread, 2) : dash,
                                  m.leak_spread_ah_per_day ? figures::plain(*m.leak_spread_ah_per_day * 1000, 2) : dash,
                                  figures::plain(m.stranded_ah, 3)};
        for (std::size_t k = 0; k < right_edges.size(); ++k)
            painter.drawText(cell(right_edges[k], 110, r.top(), r.height()), Qt::AlignRight | Qt::AlignVCenter,
                             values[k]);
        const double missing = std::max(0.0, m.bound_ah - m.usable_ah);
        const QRectF bar(0.862 * width(), r.center().y() - 5, 0.06 * width(), 10);
        painter.fillRect(bar, c.well);
        painter.fillRect(QRectF(bar.left(), bar.top(), bar.width() * missing / widest, bar.height()),
                         chosen ? c.steel : c.muted);
        painter.drawText(cell(0.995, 80, r.top(), r.height()), Qt::AlignRight | Qt::AlignVCenter,
                         figures::plain(missing, 3));
    }
}

void WaysView::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < static_cast<int>(rows_.size()); ++i)
        if (row_rect(i).contains(event->position()) && rows_[static_cast<std::size_t>(i)].result) {
            set_chosen(i);
            emit chosen(i);
        }
}

void WaysView::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Down ? 1 : (event->key() == Qt::Key_Up ? -1 : 0);
    if (step == 0 || rows_.empty()) {
        QWidget::keyPressEvent(event);
        return;
    }
    const int next = std::clamp(chosen_ + step, 0, static_cast<int>(rows_.size()) - 1);
    if (rows_[static_cast<std::size_t>(next)].result) {
        set_chosen(next);
        emit chosen(next);
    }
}

} // namespace ingot::app
