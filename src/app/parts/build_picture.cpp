#include "app/parts/build_picture.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {
double head() {
    return scaled(42);
}
double box_height() {
    return scaled(62);
}
double least_width() {
    return scaled(104);
}
} // namespace

BuildPicture::BuildPicture(QWidget* parent) : Painted(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Units of the build"));
}

void BuildPicture::set(const BuildSheet& sheet) {
    sheet_ = sheet;
    setAccessibleDescription(tr("%1 of %2 units taken").arg(sheet.taken).arg(sheet.lines.size()));
    updateGeometry();
    update();
}

std::vector<PaintedPart> BuildPicture::parts() const {
    std::vector<PaintedPart> out;
    for (const BuildLine& line : sheet_.lines) {
        QStringList values{QString::fromStdString(line.code)};
        if (line.capacity_ah)
            values << figures::unit_capacity(*line.capacity_ah);
        values << (line.taken ? tr("taken")
                              : tr("tray %1, well %2").arg(QString::fromStdString(line.tray)).arg(line.well));
        out.push_back({tr("Group %1, place %2").arg(line.group).arg(line.place), values.join(QStringLiteral(", ")),
                       box(line), line.unit == last_, QAccessible::ListItem});
    }
    return out;
}

void BuildPicture::set_last(Id unit) {
    last_ = unit;
    parts_changed();
    update();
}

QSize BuildPicture::sizeHint() const {
    return {static_cast<int>(least_width() * sheet_.build.layout.series),
            static_cast<int>(head() + box_height() * sheet_.build.layout.parallel + 6)};
}

QRectF BuildPicture::box(const BuildLine& line) const {
    const double w =
        std::min(double(scaled(150)),
                 std::max(least_width(), width() / static_cast<double>(std::max(1, sheet_.build.layout.series))));
    return {(line.group - 1) * w, head() + (line.place - 1) * box_height(), w - 6, box_height() - 5};
}

void BuildPicture::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    bool next_marked = false;
    for (const BuildLine& line : sheet_.lines) {
        const QRectF r = box(line);
        if (line.place == 1) {
            const auto g = static_cast<std::size_t>(line.group - 1);
            painter.setPen(c.ink);
            painter.setFont(type(15, true));
            painter.drawText(QRectF(r.left(), 0, r.width(), scaled(20)), Qt::AlignLeft | Qt::AlignVCenter,
                             tr("Group %1").arg(line.group));
            painter.setPen(c.muted);
            painter.setFont(type(13));
            painter.drawText(QRectF(r.left(), scaled(19), r.width(), scaled(18)), Qt::AlignLeft | Qt::AlignVCenter,
                             figures::unit_capacity(sheet_.group_capacity_ah[g]));
        }
        const bool next = !line.taken && !next_marked;
        next_marked |= next;
        painter.setPen(QPen(line.unit == last_ ? c.steel : (next ? c.ember : (line.taken ? c.moss : c.hairline)),
                            line.unit == last_ || next ? 3 : 1.5));
        painter.setBrush(line.taken ? c.duty_light : (next ? c.ember_ground : c.surface));
        painter.drawPath(cut_bottom_right(r.adjusted(1, 1, -1, -1), 8));
        painter.setPen(c.ink);
        painter.setFont(type(14, true));
        painter.drawText(QRectF(r.left() + scaled(8), r.top() + 2, r.width() - scaled(12), scaled(20)),
                         Qt::AlignLeft | Qt::AlignVCenter, QString::fromStdString(line.code));
        painter.setFont(type(13));
        painter.setPen(line.taken ? c.moss_text : c.ink);
        const QString home =
            line.taken ? tr("taken")
                       : (line.tray.empty() ? tr("no tray")
                                            : tr("tray %1 · %2").arg(QString::fromStdString(line.tray)).arg(line.well));
        painter.drawText(QRectF(r.left() + scaled(8), r.top() + scaled(20), r.width() - scaled(12), scaled(18)),
                         Qt::AlignLeft | Qt::AlignVCenter, home);
        painter.setPen(c.muted);
        painter.setFont(type(12));
        painter.drawText(QRectF(r.left() + scaled(8), r.top() + scaled(37), r.width() - scaled(12), scaled(16)),
                         Qt::AlignLeft | Qt::AlignVCenter,
                         QStringLiteral("%1 Ah  %2 V")
                             .arg(line.capacity_ah ? figures::plain(*line.capacity_ah, 3) : QStringLiteral("\u2013"),
                                  line.voltage_v ? figures::plain(*line.voltage_v, 3) : QStringLiteral("\u2013")));
        if (line.taken) { // a tick
            painter.setPen(QPen(c.moss, 2.5));
            const QPointF at(r.right() - 18, r.top() + 13);
            painter.drawLine(at + QPointF(-5, 0), at + QPointF(-1, 4));
            painter.drawLine(at + QPointF(-1, 4), at + QPointF(6, -5));
        }
    }
}

void BuildPicture::mousePressEvent(QMouseEvent* event) {
    for (const BuildLine& line : sheet_.lines)
        if (box(line).contains(event->position()))
            emit chosen(line.unit);
}

} // namespace ingot::app
