#include "app/parts/layout_picture.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QPainter>
#include <QPainterPathStroker>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {
using Face = StripDrawing::Face;
constexpr double between_faces = 28;
int face_head() {
    return scaled(22);
}
} // namespace

QString piece_look_name(PieceLook look) {
    switch (look) {
    case PieceLook::plain:
        return LayoutPicture::tr("strip");
    case PieceLook::cool:
        return LayoutPicture::tr("cool");
    case PieceLook::fair:
        return LayoutPicture::tr("fair");
    case PieceLook::warm:
        return LayoutPicture::tr("warm");
    case PieceLook::too_much:
        return LayoutPicture::tr("too much");
    case PieceLook::done:
        return LayoutPicture::tr("welded");
    case PieceLook::now:
        return LayoutPicture::tr("now");
    case PieceLook::waiting:
        return LayoutPicture::tr("to do");
    }
    return {};
}

void draw_piece_look(QPainter& painter, const QPainterPath& path, PieceLook look) {
    const Colours& c = colours();
    painter.setPen(QPen(c.ink, 1));
    switch (look) {
    case PieceLook::plain:
    case PieceLook::cool:
    case PieceLook::done:
        painter.setBrush(c.steel_mid);
        break;
    case PieceLook::fair:
        painter.setBrush(c.brass_ground);
        break;
    case PieceLook::warm:
        painter.fillPath(path, c.brass_ground);
        painter.setBrush(hatch(c.brass));
        break;
    case PieceLook::too_much:
        painter.fillPath(path, c.plum_ground);
        painter.setPen(QPen(c.plum, 1.5));
        painter.setBrush(hatch(c.plum));
        break;
    case PieceLook::now:
        painter.setPen(QPen(c.ember, 3));
        painter.setBrush(c.ember_ground);
        break;
    case PieceLook::waiting:
        painter.setPen(QPen(c.muted, 1.2, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        break;
    }
    painter.drawPath(path);
}

LayoutPicture::LayoutPicture(QWidget* parent) : Painted(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Cells and strips on both faces"));
}

void LayoutPicture::set(const Layout& layout, double diameter_m, double strip_m, double case_width_m,
                        double case_height_m) {
    layout_ = layout;
    diameter_m_ = diameter_m;
    strip_m_ = strip_m;
    // Nobody measured the room, or it is too small: the cells' own outline.
    case_width_m_ = std::max(case_width_m, layout.size_m[0]);
    case_height_m_ = std::max(case_height_m, layout.size_m[1]);
    looks_.assign(layout_.pieces.size(), PieceLook::plain);
    values_.assign(layout_.pieces.size(), QString());
    if (piece_ >= static_cast<int>(layout_.pieces.size()))
        piece_ = -1;
    if (cell_ >= static_cast<int>(layout_.cells.size()))
        cell_ = -1;
    parts_changed();
    update();
}

void LayoutPicture::clear() {
    layout_ = {};
    looks_.clear();
    values_.clear();
    piece_ = cell_ = -1;
    parts_changed();
    update();
}

void LayoutPicture::set_looks(std::vector<PieceLook> looks, std::vector<QString> values) {
    looks_ = std::move(looks);
    values_ = std::move(values);
    looks_.resize(layout_.pieces.size(), PieceLook::plain);
    values_.resize(layout_.pieces.size());
    parts_changed();
    update();
}

void LayoutPicture::show_faces(Faces faces) {
    faces_ = faces;
    parts_changed();
    update();
}

void LayoutPicture::choose_piece(int piece) {
    piece_ = piece;
    parts_changed();
    update();
}

void LayoutPicture::mark_cell(int cell) {
    cell_ = cell;
    update();
}

LayoutPicture::Sheet LayoutPicture::sheet(Face face) const {
    Sheet out;
    const bool both = faces_ == Faces::both;
    const double w = both ? (width() - between_faces) / 2 : width();
    const double above = face_head() + scaled(24); // a lead sticks out
    const double h = height() - above;
    const double left = both && face == Face::back ? w + between_faces : 0;
    const double lead = scaled(22); // for what sticks out
    out.scale = std::min((w - 2 * lead) / std::max(1e-6, case_width_m_), (h - lead) / std::max(1e-6, case_height_m_));
    const double drawn_w = case_width_m_ * out.scale;
    const double drawn_h = case_height_m_ * out.scale;
    out.at = QRectF(left + (w - drawn_w) / 2, above + (h - lead - drawn_h) / 2, drawn_w, drawn_h);
    out.mirrored = face == Face::back;
    return out;
}

QPointF LayoutPicture::place(const Sheet& sheet, const LayoutCell& cell) const {
    const double x =
        sheet.mirrored ? sheet.at.right() - cell.x_m * sheet.scale : sheet.at.left() + cell.x_m * sheet.scale;
    return {x, sheet.at.bottom() - cell.y_m * sheet.scale};
}

QPainterPath LayoutPicture::outline(const Sheet& sheet, const LayoutPiece& piece) const {
    QPainterPath spine;
    const QPointF first = place(sheet, layout_.cells[piece.cells.front()]);
    spine.moveTo(first);
    for (std::size_t k = 1; k < piece.cells.size(); ++k)
        spine.lineTo(place(sheet, layout_.cells[piece.cells[k]]));
    if (piece.kind == LayoutPiece::Kind::lead) { // over the nearest edge of the case
        const double to_left = first.x() - sheet.at.left();
        const double to_right = sheet.at.right() - first.x();
        const double to_top = first.y() - sheet.at.top();
        const double to_bottom = sheet.at.bottom() - first.y();
        const double nearest = std::min({to_left, to_right, to_top, to_bottom});
        const double out = nearest + scaled(10);
        if (nearest == to_left)
            spine.lineTo(first.x() - out, first.y());
        else if (nearest == to_right)
            spine.lineTo(first.x() + out, first.y());
        else if (nearest == to_top)
            spine.lineTo(first.x(), first.y() - out);
        else
            spine.lineTo(first.x(), first.y() + out);
    }
    QPainterPathStroker stroker;
    constexpr double usual_share = 0.4; // of a cell, while the strip's width is not known
    stroker.setWidth(std::max(3.0, (strip_m_ > 0 ? strip_m_ : usual_share * diameter_m_) * sheet.scale));
    stroker.setCapStyle(Qt::SquareCap);
    stroker.setJoinStyle(Qt::MiterJoin);
    return stroker.createStroke(spine).simplified();
}

QString LayoutPicture::piece_name(std::size_t piece) const {
    const LayoutPiece& p = layout_.pieces[piece];
    const auto group = layout_.cells[p.cells.front()].group + 1;
    const QString face = p.face == Face::front ? tr("front") : tr("back");
    switch (p.kind) {
    case LayoutPiece::Kind::parallel:
        return tr("Bar of group %1, %2").arg(group).arg(face);
    case LayoutPiece::Kind::series:
        return tr("Link of groups %1 and %2, %3").arg(group).arg(group + 1).arg(face);
    case LayoutPiece::Kind::lead:
        return layout_.cells[p.cells.front()].plus == p.face ? tr("Plus lead, %1").arg(face)
                                                             : tr("Minus lead, %1").arg(face);
    }
    return {};
}

std::vector<PaintedPart> LayoutPicture::parts() const {
    std::vector<PaintedPart> out;
    for (std::size_t p = 0; p < layout_.pieces.size(); ++p) {
        const Face face = layout_.pieces[p].face;
        if ((faces_ == Faces::front && face == Face::back) || (faces_ == Faces::back && face == Face::front))
            continue;
        QString value = piece_look_name(looks_[p]);
        if (!values_[p].isEmpty())
            value += QStringLiteral(", ") + values_[p];
        out.push_back({piece_name(p), value, outline(sheet(face), layout_.pieces[p]).boundingRect(),
                       static_cast<int>(p) == piece_, QAccessible::ListItem});
    }
    return out;
}

void LayoutPicture::draw_face(QPainter& painter, Face face) const {
    const Colours& c = colours();
    const Sheet on = sheet(face);
    painter.setFont(type(13, true));
    painter.setPen(c.ink);
    painter.drawText(QRectF(on.at.left(), 0, on.at.width(), face_head()), Qt::AlignLeft | Qt::AlignVCenter,
                     face == Face::front ? tr("Front") : tr("Back, turned over"));
    painter.setPen(QPen(c.ink, 1.5));
    painter.setBrush(c.paper);
    painter.drawRect(on.at);
    const double r = diameter_m_ / 2 * on.scale;
    for (std::size_t i = 0; i < layout_.cells.size(); ++i) {
        const LayoutCell& cell = layout_.cells[i];
        const QPointF at = place(on, cell);
        const bool plus = cell.plus == face;
        painter.setPen(QPen(c.muted, 1));
        painter.setBrush(plus ? c.surface : c.well); // the can's bottom is its minus
        painter.drawEllipse(at, r, r);
        if (plus) {
            painter.setBrush(Qt::NoBrush);
            painter.drawEllipse(at, r * 0.62, r * 0.62);
        }
        if (static_cast<int>(i) == cell_) {
            painter.setPen(QPen(c.steel, 3));
            painter.setBrush(Qt::NoBrush);
            painter.drawEllipse(at, r, r);
        }
    }
    for (std::size_t p = 0; p < layout_.pieces.size(); ++p)
        if (layout_.pieces[p].face == face && static_cast<int>(p) != piece_)
            draw_piece_look(painter, outline(on, layout_.pieces[p]), looks_[p]);
    if (piece_ >= 0 && layout_.pieces[static_cast<std::size_t>(piece_)].face == face) {
        const auto chosen = static_cast<std::size_t>(piece_);
        const QPainterPath path = outline(on, layout_.pieces[chosen]);
        draw_piece_look(painter, path, looks_[chosen]);
        painter.setPen(QPen(looks_[chosen] == PieceLook::too_much ? c.plum : c.steel, 3));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(path);
    }
    // Where a group begins: its number, plus or minus on this face.
    painter.setFont(type(12, true));
    std::size_t last = layout_.cells.size();
    for (const LayoutCell& cell : layout_.cells) {
        if (last == cell.group)
            continue;
        last = cell.group;
        const QPointF at = place(on, cell);
        const QString text =
            QStringLiteral("%1%2").arg(cell.group + 1).arg(cell.plus == face ? QLatin1Char('+') : QChar(0x2212));
        const double w = QFontMetricsF(painter.font()).horizontalAdvance(text) + 6;
        const QRectF label(at.x() - w / 2, at.y() - scaled(8), w, scaled(16));
        if (r > scaled(7)) {
            painter.fillRect(label, c.surface);
            painter.setPen(c.ink);
            painter.drawText(label, Qt::AlignCenter, text);
        }
    }
    for (std::size_t tap = 0; tap < layout_.sense.size(); ++tap) {
        if (layout_.sense[tap].face != face || r <= scaled(7))
            continue;
        const QPointF at = place(on, layout_.cells[layout_.sense[tap].cell]);
        const QRectF label(at.x() + r * 0.2, at.y() + r * 0.35, scaled(16), scaled(14));
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.steel);
        painter.drawRect(label);
        painter.setPen(c.on_strong);
        painter.drawText(label, Qt::AlignCenter, QString::number(tap));
    }
}

void LayoutPicture::paintEvent(QPaintEvent* /*event*/) {
    if (layout_.cells.empty())
        return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    if (faces_ != Faces::back)
        draw_face(painter, Face::front);
    if (faces_ != Faces::front)
        draw_face(painter, Face::back);
}

void LayoutPicture::mousePressEvent(QMouseEvent* event) {
    for (std::size_t p = layout_.pieces.size(); p-- > 0;) {
        const Face face = layout_.pieces[p].face;
        if ((faces_ == Faces::front && face == Face::back) || (faces_ == Faces::back && face == Face::front))
            continue;
        if (outline(sheet(face), layout_.pieces[p]).contains(event->position())) {
            choose_piece(static_cast<int>(p));
            emit piece_chosen(piece_);
            return;
        }
    }
}

void LayoutPicture::keyPressEvent(QKeyEvent* event) {
    const int count = static_cast<int>(layout_.pieces.size());
    const int step = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (step == 0 || count == 0) {
        Painted::keyPressEvent(event);
        return;
    }
    choose_piece((piece_ + step + count) % count);
    emit piece_chosen(piece_);
}

} // namespace ingot::app
