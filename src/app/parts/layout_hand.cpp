// A layout as a hand takes hold of it: mouse and keys.
#include "app/parts/layout_picture.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainterPath>

#include <algorithm>
#include <cmath>
#include <utility>

namespace ingot::app {

namespace {
using Face = StripDrawing::Face;
constexpr double step_m = 0.0005; // of a hand
} // namespace

void LayoutPicture::mousePressEvent(QMouseEvent* event) {
    hold_ = {};
    hold_.from = event->position();
    const auto take = [&](Hold::What what, int number, Face face) {
        hold_.what = movable_ && event->button() == Qt::LeftButton ? what : Hold::What::nothing;
        hold_.number = number;
        hold_.face = face;
        hold_.layout = layout_;
        hold_.on = sheet(face);
    };
    for (std::size_t tap = 0; tap < layout_.sense.size(); ++tap)
        if (shown(layout_.sense[tap].face) && area(layout_.sense[tap].face).contains(event->position()) &&
            tap_label(sheet(layout_.sense[tap].face), layout_.sense[tap]).contains(event->position())) {
            take(Hold::What::sense, static_cast<int>(tap), layout_.sense[tap].face);
            return;
        }
    for (std::size_t p = layout_.pieces.size(); p-- > 0;) {
        const LayoutPiece& piece = layout_.pieces[p];
        if (!shown(piece.face) || !area(piece.face).contains(event->position()) ||
            !outline(sheet(piece.face), piece).contains(event->position()))
            continue;
        if (piece.kind == LayoutPiece::Kind::lead)
            take(Hold::What::lead, layout_.cells[piece.cells.front()].plus == piece.face ? 1 : 0, piece.face);
        choose_piece(static_cast<int>(p));
        emit piece_chosen(piece_);
        return;
    }
    for (const Face face : drawings())
        for (std::size_t c = 0; c < layout_.cells.size(); ++c)
            if (area(face).contains(event->position()) &&
                cell_outline(sheet(face), layout_.cells[c]).contains(event->position())) {
                take(Hold::What::cell, static_cast<int>(c), face);
                choose_cell(static_cast<int>(c));
                emit cell_chosen(cell_);
                return;
            }
}

int LayoutPicture::held_near(const QPointF& at, const std::vector<std::size_t>& among) const {
    int nearest = -1;
    double least = 0;
    for (const std::size_t c : among) {
        const QPointF way = place(hold_.on, hold_.layout.cells[c]) - at;
        const double far = way.x() * way.x() + way.y() * way.y();
        if (nearest < 0 || far < least) {
            nearest = static_cast<int>(c);
            least = far;
        }
    }
    return nearest;
}

// Where what is held may lie: a lead on the cells of its end, a sense lead on those of the groups that its joint joins.
std::vector<std::size_t> LayoutPicture::cells_for_hold() const {
    std::vector<std::size_t> out;
    if (hold_.layout.cells.empty())
        return out;
    const std::size_t last = hold_.layout.cells.back().group;
    const auto number = static_cast<std::size_t>(hold_.number);
    for (std::size_t c = 0; c < hold_.layout.cells.size(); ++c) {
        const std::size_t group = hold_.layout.cells[c].group;
        if (hold_.what == Hold::What::lead ? group == (number == 0 ? 0 : last) : group + 1 == number || group == number)
            out.push_back(c);
    }
    return out;
}

std::optional<LayoutMove> LayoutPicture::held_move(const QPointF& at) const {
    LayoutMove move;
    move.number = hold_.number;
    if (hold_.what == Hold::What::cell) {
        const Sheet& on = hold_.on;
        const QPointF way = at - hold_.from;
        move.kind = LayoutMove::Kind::cell;
        move.at = place_of(static_cast<std::size_t>(hold_.number));
        move.x_m = std::round((on.mirrored ? -way.x() : way.x()) / on.scale / step_m) * step_m;
        move.y_m = std::round(-way.y() / on.scale / step_m) * step_m;
        return move;
    }
    move.kind = hold_.what == Hold::What::lead ? LayoutMove::Kind::lead : LayoutMove::Kind::sense;
    const int to = held_near(at, cells_for_hold());
    if (to < 0)
        return std::nullopt;
    move.at = place_of(static_cast<std::size_t>(to));
    return move;
}

void LayoutPicture::mouseMoveEvent(QMouseEvent* event) {
    constexpr double threshold = 4;
    const QPointF way = event->position() - hold_.from;
    if (hold_.what == Hold::What::nothing || (!hold_.moved && way.manhattanLength() < threshold))
        return;
    hold_.moved = true;
    if (const auto move = held_move(event->position()))
        emit moving(*move, false);
}

void LayoutPicture::mouseReleaseEvent(QMouseEvent* event) {
    if (hold_.what == Hold::What::nothing || !hold_.moved)
        return;
    const auto move = held_move(event->position());
    const int other = hold_.what == Hold::What::cell ? under(event->position()) : -1;
    const Hold held = std::exchange(hold_, {});
    if (other >= 0) // let go on another one: they change places
        emit dropped_on(held.number, other);
    else if (move)
        emit moving(*move, true);
    else
        emit let_go();
}

// The cell over which it is let go; -1: none but the one that is held.
int LayoutPicture::under(const QPointF& at) const {
    std::vector<std::size_t> others;
    for (std::size_t c = 0; c < hold_.layout.cells.size(); ++c)
        if (static_cast<int>(c) != hold_.number)
            others.push_back(c);
    const int other = held_near(at, others);
    if (other < 0)
        return -1;
    const QPointF way = place(hold_.on, hold_.layout.cells[static_cast<std::size_t>(other)]) - at;
    const double near = std::min(layout_.cell_m[0], layout_.cell_m[1]) * hold_.on.scale / 2;
    return std::hypot(way.x(), way.y()) < near ? other : -1;
}

// The chosen cell by half a millimetre, the chosen lead to the next cell that way; seen from the front.
void LayoutPicture::nudge(int dx, int dy) {
    if (!movable_)
        return;
    LayoutMove move;
    if (cell_ >= 0) {
        move.kind = LayoutMove::Kind::cell;
        move.at = place_of(static_cast<std::size_t>(cell_));
        move.x_m = dx * step_m;
        move.y_m = dy * step_m;
        emit moving(move, true);
        return;
    }
    if (piece_ < 0 || layout_.pieces[static_cast<std::size_t>(piece_)].kind != LayoutPiece::Kind::lead)
        return;
    const LayoutPiece& piece = layout_.pieces[static_cast<std::size_t>(piece_)];
    const LayoutCell& from = layout_.cells[piece.cells.front()];
    int best = -1;
    double least = 0;
    for (std::size_t c = 0; c < layout_.cells.size(); ++c) {
        const LayoutCell& cell = layout_.cells[c];
        const double along = (cell.x_m - from.x_m) * dx + (cell.y_m - from.y_m) * dy;
        if (cell.group != from.group || along <= 1e-6)
            continue;
        const double far = std::hypot(cell.x_m - from.x_m, cell.y_m - from.y_m) * 2 - along; // straight on first
        if (best < 0 || far < least) {
            best = static_cast<int>(c);
            least = far;
        }
    }
    if (best < 0)
        return;
    move.kind = LayoutMove::Kind::lead;
    move.number = from.plus == piece.face ? 1 : 0;
    move.at = place_of(static_cast<std::size_t>(best));
    emit moving(move, true);
}

void LayoutPicture::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Delete && movable_) {
        emit link_unwanted();
        return;
    }
    if ((event->key() == Qt::Key_PageUp || event->key() == Qt::Key_PageDown) && !layout_.cells.empty()) {
        constexpr double step = 1.6;
        go_closer(event->key() == Qt::Key_PageUp ? step : 1 / step, middle_of_choice());
        return;
    }
    const int dx = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    const int dy = event->key() == Qt::Key_Up ? 1 : event->key() == Qt::Key_Down ? -1 : 0;
    if ((dx == 0 && dy == 0) || layout_.cells.empty()) {
        Painted::keyPressEvent(event);
        return;
    }
    if ((event->modifiers() & Qt::ShiftModifier) != 0) {
        nudge(dx, dy);
        return;
    }
    if (dx != 0 && !layout_.pieces.empty()) {
        const int count = static_cast<int>(layout_.pieces.size());
        const int from = piece_ < 0 && dx < 0 ? count : piece_;
        choose_piece((from + dx + count) % count);
        centre_m_ = middle_of_choice();
        emit piece_chosen(piece_);
    } else if (dy != 0 && movable_) {
        const int count = static_cast<int>(layout_.cells.size());
        const int next = cell_ < 0 ? (dy > 0 ? count - 1 : 0) : (cell_ - dy + count) % count;
        choose_cell(next);
        centre_m_ = middle_of_choice();
        emit cell_chosen(cell_);
    }
}

} // namespace ingot::app
