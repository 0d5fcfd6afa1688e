#include "app/parts/layout_picture.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QPainter>
#include <QPainterPathStroker>
#include <QWheelEvent>

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

void LayoutPicture::set(const Layout& layout, double strip_m, double case_width_m, double case_height_m) {
    if (layout.cells.size() != layout_.cells.size()) { // another pack: what was held is not in it
        hold_ = {};
        zoom_ = 1;
    }
    layout_ = layout;
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
    moved_.resize(layout_.cells.size(), 0);
    parts_changed();
    update();
}

void LayoutPicture::clear() {
    layout_ = {};
    hold_ = {};
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
    if (piece >= 0)
        cell_ = -1;
    parts_changed();
    update();
}

void LayoutPicture::choose_cell(int cell) {
    cell_ = cell;
    if (cell >= 0)
        piece_ = -1;
    parts_changed();
    update();
}

void LayoutPicture::set_movable(bool movable, std::vector<char> moved) {
    movable_ = movable;
    moved_ = std::move(moved);
    moved_.resize(layout_.cells.size(), 0);
    parts_changed();
    update();
}

LayoutPlace LayoutPicture::place_of(std::size_t cell) const {
    std::size_t first = cell;
    while (first > 0 && layout_.cells[first - 1].group == layout_.cells[cell].group)
        --first;
    return {static_cast<int>(layout_.cells[cell].group) + 1, static_cast<int>(cell - first) + 1};
}

bool LayoutPicture::shown(Face face) const {
    return layout_.flat || faces_ == Faces::both || (faces_ == Faces::front) == (face == Face::front);
}

std::vector<Face> LayoutPicture::drawings() const {
    if (layout_.flat)
        return {Face::front};
    std::vector<Face> out;
    for (const Face face : {Face::front, Face::back})
        if (shown(face))
            out.push_back(face);
    return out;
}

QRectF LayoutPicture::area(Face face) const {
    const bool both = faces_ == Faces::both && !layout_.flat;
    const double w = both ? (width() - between_faces) / 2 : width();
    const double left = both && face == Face::back ? w + between_faces : 0;
    return {left, static_cast<double>(face_head()), w, static_cast<double>(height() - face_head())};
}

LayoutPicture::Sheet LayoutPicture::sheet(Face face) const {
    Sheet out;
    const QRectF room = area(face);
    const double lead = scaled(22); // for what sticks out
    const double above = scaled(24);
    const double h = room.height() - above;
    out.scale = zoom_ * std::min((room.width() - 2 * lead) / std::max(1e-6, case_width_m_),
                                 (h - lead) / std::max(1e-6, case_height_m_));
    const double drawn_w = case_width_m_ * out.scale;
    const double drawn_h = case_height_m_ * out.scale;
    out.mirrored = face == Face::back && !layout_.flat;
    QPointF left_top(room.left() + (room.width() - drawn_w) / 2, room.top() + above + (h - lead - drawn_h) / 2);
    if (zoom_ > 1) { // what is looked at stands in the middle
        const double x = out.mirrored ? case_width_m_ - centre_m_.x() : centre_m_.x();
        left_top = room.center() - QPointF(x * out.scale, drawn_h - centre_m_.y() * out.scale);
    }
    out.at = QRectF(left_top, QSizeF(drawn_w, drawn_h));
    return out;
}

void LayoutPicture::go_closer(double factor, const QPointF& to_m) {
    constexpr double closest = 12;
    constexpr double hair = 1.01;
    zoom_ = std::clamp(zoom_ * factor, 1.0, closest);
    if (zoom_ < hair)
        zoom_ = 1;
    centre_m_ = to_m;
    parts_changed();
    update();
}

QPointF LayoutPicture::middle_of_choice() const {
    if (cell_ >= 0)
        return {layout_.cells[static_cast<std::size_t>(cell_)].x_m, layout_.cells[static_cast<std::size_t>(cell_)].y_m};
    if (piece_ >= 0) {
        const auto& cells = layout_.pieces[static_cast<std::size_t>(piece_)].cells;
        const LayoutCell& cell = layout_.cells[cells[cells.size() / 2]];
        return {cell.x_m, cell.y_m};
    }
    return {case_width_m_ / 2, case_height_m_ / 2};
}

void LayoutPicture::wheelEvent(QWheelEvent* event) {
    if ((event->modifiers() & Qt::ControlModifier) == 0 || layout_.cells.empty()) {
        event->ignore(); // the page scrolls
        return;
    }
    for (const Face face : drawings()) {
        if (!area(face).contains(event->position()))
            continue;
        const Sheet on = sheet(face);
        const QPointF from = event->position() - on.at.topLeft();
        const double x = from.x() / on.scale;
        constexpr double notch = 1.4;
        go_closer(event->angleDelta().y() > 0 ? notch : 1 / notch,
                  {on.mirrored ? case_width_m_ - x : x, case_height_m_ - from.y() / on.scale});
    }
    event->accept();
}

QPointF LayoutPicture::place(const Sheet& sheet, double x_m, double y_m) const {
    const double x = sheet.mirrored ? sheet.at.right() - x_m * sheet.scale : sheet.at.left() + x_m * sheet.scale;
    return {x, sheet.at.bottom() - y_m * sheet.scale};
}

QPointF LayoutPicture::place(const Sheet& sheet, const LayoutCell& cell) const {
    return place(sheet, cell.x_m, cell.y_m);
}

QPointF LayoutPicture::weld(const Sheet& sheet, const LayoutCell& cell, Face face) const {
    const auto at = weld_place(cell, face);
    return place(sheet, at[0], at[1]);
}

QPainterPath LayoutPicture::cell_outline(const Sheet& sheet, const LayoutCell& cell) const {
    QPainterPath out;
    const double w = layout_.cell_m[0] * sheet.scale / 2;
    const double h = layout_.cell_m[1] * sheet.scale / 2;
    const QPointF at = place(sheet, cell);
    if (layout_.flat)
        out.addRect(QRectF(at.x() - w, at.y() - h, 2 * w, 2 * h));
    else
        out.addEllipse(at, w, w);
    return out;
}

QRectF LayoutPicture::tap_label(const Sheet& sheet, const SenseTap& tap) const {
    const double r = std::min(layout_.cell_m[0], layout_.cell_m[1]) / 2 * sheet.scale;
    const QPointF at = weld(sheet, layout_.cells[tap.cell], tap.face);
    return {at.x() + r * 0.2, at.y() + r * 0.35, static_cast<double>(scaled(16)), static_cast<double>(scaled(14))};
}

QPainterPath LayoutPicture::outline(const Sheet& sheet, const LayoutPiece& piece) const {
    QPainterPath spine;
    const QPointF first = weld(sheet, layout_.cells[piece.cells.front()], piece.face);
    spine.moveTo(first);
    for (std::size_t k = 1; k < piece.cells.size(); ++k)
        spine.lineTo(weld(sheet, layout_.cells[piece.cells[k]], piece.face));
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
    const double cell_m = std::min(layout_.cell_m[0], layout_.cell_m[1]);
    stroker.setWidth(std::max(3.0, (strip_m_ > 0 ? strip_m_ : usual_share * cell_m) * sheet.scale));
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
        if (!shown(face))
            continue;
        QString value = piece_look_name(looks_[p]);
        if (!values_[p].isEmpty())
            value += QStringLiteral(", ") + values_[p];
        out.push_back({piece_name(p), value, outline(sheet(face), layout_.pieces[p]).boundingRect(),
                       static_cast<int>(p) == piece_, QAccessible::ListItem});
    }
    if (!movable_)
        return out;
    const Face seen = drawings().front();
    for (std::size_t c = 0; c < layout_.cells.size(); ++c)
        out.push_back({cell_name(c), moved_[c] != 0 ? tr("moved by hand") : tr("as proposed"),
                       cell_outline(sheet(seen), layout_.cells[c]).boundingRect(), static_cast<int>(c) == cell_,
                       QAccessible::ListItem});
    return out;
}

QString LayoutPicture::cell_name(std::size_t cell) const {
    const LayoutPlace at = place_of(cell);
    return tr("Place %1.%2, %3").arg(at.group).arg(at.cell).arg(QString::fromStdString(layout_.cells[cell].id));
}

void LayoutPicture::draw_cells(QPainter& painter, Face face, const Sheet& on) const {
    const Colours& c = colours();
    for (std::size_t i = 0; i < layout_.cells.size(); ++i) {
        const LayoutCell& cell = layout_.cells[i];
        const QPainterPath outside = cell_outline(on, cell);
        const bool plus = cell.plus == face;
        painter.setPen(QPen(c.muted, 1));
        painter.setBrush(plus || layout_.flat ? c.surface : c.well); // the can's bottom is its minus
        painter.drawPath(outside);
        if (layout_.flat) {
            painter.setPen(c.ink);
            painter.setFont(type(12, true));
            for (const Face side : {Face::front, Face::back}) {
                constexpr double beside = 1.6; // of the way to the terminal, clear of the strip
                const double way = side == Face::front ? beside : -beside;
                const QPointF at = place(on, cell.x_m + way * cell.front_m[0], cell.y_m + way * cell.front_m[1]);
                const QRectF box(at.x() - scaled(10), at.y() - scaled(8), scaled(20), scaled(16));
                painter.drawText(box, Qt::AlignCenter,
                                 side == cell.plus ? QStringLiteral("+") : QString(QChar(0x2212)));
            }
        } else if (plus) {
            const double r = layout_.cell_m[0] / 2 * on.scale * 0.62;
            painter.setBrush(Qt::NoBrush);
            painter.drawEllipse(place(on, cell), r, r);
        }
        if (moved_[i] != 0) {
            painter.setPen(QPen(c.steel, 1.5, Qt::DashLine));
            painter.setBrush(Qt::NoBrush);
            painter.drawPath(outside);
        }
        if (static_cast<int>(i) == cell_) {
            painter.setPen(QPen(c.steel, 3));
            painter.setBrush(Qt::NoBrush);
            painter.drawPath(outside);
        }
    }
}

void LayoutPicture::draw_signs(QPainter& painter, Face face, const Sheet& on) const {
    const Colours& c = colours();
    const double r = std::min(layout_.cell_m[0], layout_.cell_m[1]) / 2 * on.scale;
    if (r <= scaled(7) && !layout_.flat)
        return;
    // Where a group begins: its number, plus or minus on this face.
    painter.setFont(type(12, true));
    std::size_t last = layout_.cells.size();
    for (const LayoutCell& cell : layout_.cells) {
        if (last == cell.group)
            continue;
        last = cell.group;
        const QPointF at = place(on, cell);
        const QString sign = cell.plus == face ? QStringLiteral("+") : QString(QChar(0x2212));
        const QString text = QString::number(cell.group + 1) + (layout_.flat ? QString() : sign);
        const double w = QFontMetricsF(painter.font()).horizontalAdvance(text) + 6;
        const QRectF label(at.x() - w / 2, at.y() - scaled(8), w, scaled(16));
        painter.fillRect(label, c.surface);
        painter.setPen(c.ink);
        painter.drawText(label, Qt::AlignCenter, text);
    }
    for (std::size_t tap = 0; tap < layout_.sense.size(); ++tap) {
        if (layout_.sense[tap].face != face && !layout_.flat)
            continue;
        const QRectF label = tap_label(on, layout_.sense[tap]);
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.steel);
        painter.drawRect(label);
        painter.setPen(c.on_strong);
        painter.drawText(label, Qt::AlignCenter, QString::number(tap));
    }
}

void LayoutPicture::draw_face(QPainter& painter, Face face) const {
    const Colours& c = colours();
    const Sheet on = sheet(face);
    painter.setFont(type(13, true));
    painter.setPen(c.ink);
    const double left = zoom_ > 1 ? area(face).left() : on.at.left();
    painter.drawText(QRectF(left, 0, area(face).width(), face_head()), Qt::AlignLeft | Qt::AlignVCenter,
                     layout_.flat          ? tr("Seen on the terminals")
                     : face == Face::front ? tr("Front")
                                           : tr("Back, turned over"));
    painter.save();
    if (zoom_ > 1)
        painter.setClipRect(area(face));
    painter.setPen(QPen(c.ink, 1.5));
    painter.setBrush(c.paper);
    painter.drawRect(on.at);
    draw_cells(painter, face, on);
    const auto here = [&](std::size_t p) { return layout_.flat || layout_.pieces[p].face == face; };
    for (std::size_t p = 0; p < layout_.pieces.size(); ++p)
        if (here(p) && static_cast<int>(p) != piece_)
            draw_piece_look(painter, outline(on, layout_.pieces[p]), looks_[p]);
    if (piece_ >= 0 && here(static_cast<std::size_t>(piece_))) {
        const auto chosen = static_cast<std::size_t>(piece_);
        const QPainterPath path = outline(on, layout_.pieces[chosen]);
        draw_piece_look(painter, path, looks_[chosen]);
        painter.setPen(QPen(looks_[chosen] == PieceLook::too_much ? c.plum : c.steel, 3));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(path);
    }
    draw_signs(painter, face, on);
    painter.restore();
}

void LayoutPicture::paintEvent(QPaintEvent* /*event*/) {
    if (layout_.cells.empty())
        return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    for (const Face face : drawings())
        draw_face(painter, face);
}

} // namespace ingot::app
