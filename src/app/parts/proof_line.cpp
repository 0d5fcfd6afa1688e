#include "app/parts/proof_line.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/prove_wording.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

QString apart(double volts) {
    return figures::millivolts_signed(volts).remove(QLatin1Char('+'));
}

// The figure that says most of a round of voltages.
QString of_groups(const RoundVerdict& verdict, const ProofReading& reading, ProofRound round) {
    if (round == ProofRound::at_rest && reading.terminals_v)
        return figures::volts(*reading.terminals_v, 2);
    if (round != ProofRound::under_load)
        return verdict.spread_v ? apart(*verdict.spread_v) : QString();
    double most = 0;
    for (const auto& v : verdict.shown_v)
        if (v && std::fabs(*v) > std::fabs(most))
            most = *v;
    return figures::millivolts_signed(most);
}

QString of_items(const PackProof& proof, ProofRound round) {
    // The item that says most stands first of its round.
    for (const ProofItem item : {ProofItem::insulation_plus, ProofItem::sensor, ProofItem::output, ProofItem::capacity,
                                 ProofItem::run_time, ProofItem::works})
        if (const auto& value = proof.readings.item(item); value && round_of(item) == round)
            return wording::proof_item_value(item, *value) +
                   (is_yes_or_no(item) ? QString() : QChar(0x202F) + wording::proof_item_unit(item));
    return {};
}

// A square of ink, broken across: does not pass. Neither the hand's ember nor a hazard.
void draw_broken(QPainter& painter, const QPointF& at, double size) {
    painter.save();
    painter.setClipRect(QRectF(at.x() - size, at.y() - size, size * 0.92, size * 2));
    painter.fillPath(trapezoid(at, size), colours().ink);
    painter.setClipRect(QRectF(at.x() + size * 0.10, at.y() - size, size, size * 2));
    painter.fillPath(trapezoid(at + QPointF(0, size * 0.14), size), colours().ink);
    painter.restore();
}

} // namespace

ProofLine::ProofLine(QWidget* parent) : Painted(parent) {
    setAccessibleName(tr("Rounds of the proof"));
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

QSize ProofLine::sizeHint() const {
    return {scaled(600), scaled(112)};
}
QSize ProofLine::minimumSizeHint() const {
    return {scaled(360), scaled(112)};
}

void ProofLine::set(const PackProof& proof, ProofRound in_hand) {
    proof_ = proof;
    in_hand_ = in_hand;
    setAccessibleDescription(wording::proof_round(in_hand));
    parts_changed();
    update();
}

QString ProofLine::result(const PackProof& proof, ProofRound round) {
    const auto r = static_cast<std::size_t>(round);
    if (r >= proof.proof.rounds.size())
        return {};
    const RoundVerdict& verdict = proof.proof.rounds[r];
    if (verdict.state == ProofState::left_out)
        return wording::proof_state(verdict.state);
    if (verdict.state == ProofState::not_asked)
        return round == ProofRound::units ? tr("one each") : tr("if wanted");
    if (verdict.read == 0)
        return tr("to come");
    const bool counted = round == ProofRound::units || (verdict.read < verdict.asked && round != ProofRound::run);
    if (counted)
        return tr("%1 of %2").arg(verdict.read).arg(verdict.asked);
    return reads_groups(round) ? of_groups(verdict, proof.readings.rounds[r], round) : of_items(proof, round);
}

QRectF ProofLine::stop(int round) const {
    const double w = width() / double(proof_round_count);
    return {round * w + 1, 1, w - 2, height() - 2.0};
}

std::vector<PaintedPart> ProofLine::parts() const {
    std::vector<PaintedPart> out;
    for (int r = 0; r < proof_round_count; ++r) {
        const auto round = static_cast<ProofRound>(r);
        QString value = result(proof_, round);
        if (proof_.pack.id != 0) {
            value += tr(", %1").arg(wording::proof_state(proof_.proof.at(round).state));
            if (const auto& by = proof_.signatures[static_cast<std::size_t>(r)]; !by.by.empty())
                value += tr(", signed by %1").arg(QString::fromStdString(by.by));
        }
        out.push_back({wording::proof_round(round), value, stop(r), round == in_hand_, QAccessible::ListItem});
    }
    return out;
}

void ProofLine::paint_mark(QPainter& painter, const QPointF& at, ProofState state, bool begun) const {
    const Colours& c = colours();
    const double size = scaled(18);
    const QPainterPath shape = trapezoid(at, size);
    if (state == ProofState::failed) {
        draw_broken(painter, at, size);
        return;
    }
    painter.setPen(QPen(c.ink, 1.6, state == ProofState::not_asked ? Qt::DotLine : Qt::SolidLine));
    painter.setBrush(state == ProofState::passed ? c.ink : c.surface);
    if (state == ProofState::too_early || (state == ProofState::open && begun))
        painter.setPen(QPen(c.brass, 2));
    painter.drawPath(shape);
    if (state == ProofState::too_early || (state == ProofState::open && begun)) { // partly done, something is awaited
        painter.save();
        painter.setClipPath(shape);
        painter.fillRect(QRectF(at.x() - size, at.y() - size, size, size * 2), c.brass);
        painter.restore();
    }
    if (state == ProofState::left_out)
        painter.drawLine(QPointF(at.x() - size * 0.5, at.y() + size * 0.36),
                         QPointF(at.x() + size * 0.5, at.y() - size * 0.36));
}

void ProofLine::paint_stop(QPainter& painter, int r) const {
    const Colours& c = colours();
    const auto round = static_cast<ProofRound>(r);
    const QRectF box = stop(r);
    const bool in_hand = round == in_hand_;
    if (in_hand) {
        painter.setPen(QPen(c.steel, hasFocus() ? 3 : 2));
        painter.setBrush(c.steel_ground);
        painter.drawPath(cut_top_left(box.adjusted(1, 1, -1, -1), scaled(8)));
    }
    const RoundVerdict verdict = proof_.pack.id != 0 ? proof_.proof.at(round) : RoundVerdict{};
    painter.setPen(c.ink);
    painter.setFont(type(13, in_hand));
    painter.drawText(QRectF(box.left(), box.top() + scaled(4), box.width(), scaled(34)),
                     Qt::AlignCenter | Qt::TextWordWrap, wording::proof_round(round));
    const double y = box.top() + scaled(50);
    paint_mark(painter, {box.center().x(), y}, verdict.state, verdict.read > 0);
    const QString said = result(proof_, round);
    painter.setPen(verdict.read > 0 ? c.ink : c.muted);
    QFont font = type(verdict.read > 0 ? 16 : 13, verdict.read > 0);
    if (QFontMetricsF(font).horizontalAdvance(said) > box.width() - 4)
        font = type(13, verdict.read > 0);
    painter.setFont(font);
    painter.drawText(QRectF(box.left(), box.top() + scaled(64), box.width(), scaled(22)), Qt::AlignCenter, said);
    const auto& by = proof_.pack.id != 0 ? proof_.signatures[static_cast<std::size_t>(r)] : PackProof::Signature{};
    painter.setPen(c.muted);
    painter.setFont(type(12));
    const QString seal = !by.by.empty()
                             ? tr("%1, %2").arg(QString::fromStdString(by.by), QString::fromStdString(by.at).mid(5, 5))
                         : verdict.state == ProofState::failed    ? tr("not passed")
                         : verdict.state == ProofState::too_early ? tr("too early")
                         : verdict.state == ProofState::passed    ? tr("passed")
                                                                  : QString();
    painter.drawText(QRectF(box.left(), box.top() + scaled(87), box.width(), scaled(18)), Qt::AlignCenter, seal);
}

void ProofLine::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = colours();
    const double y = stop(0).top() + scaled(50);
    int reached = -1;
    for (int r = 0; r < proof_round_count && proof_.pack.id != 0; ++r)
        if (proof_.proof.rounds[static_cast<std::size_t>(r)].read > 0)
            reached = r;
    for (int r = 0; r + 1 < proof_round_count; ++r) {
        painter.setPen(QPen(c.ink, r < reached ? 3 : 1.5, r < reached ? Qt::SolidLine : Qt::DashLine));
        painter.drawLine(QPointF(stop(r).center().x(), y), QPointF(stop(r + 1).center().x(), y));
    }
    for (int r = 0; r < proof_round_count; ++r)
        paint_stop(painter, r);
}

void ProofLine::mousePressEvent(QMouseEvent* event) {
    for (int r = 0; r < proof_round_count; ++r)
        if (stop(r).contains(event->position()))
            emit chosen(r);
}

void ProofLine::keyPressEvent(QKeyEvent* event) {
    const int now = static_cast<int>(in_hand_);
    if (event->key() == Qt::Key_Left && now > 0)
        emit chosen(now - 1);
    else if (event->key() == Qt::Key_Right && now + 1 < proof_round_count)
        emit chosen(now + 1);
    else if (event->key() != Qt::Key_Left && event->key() != Qt::Key_Right)
        Painted::keyPressEvent(event);
}

void ProofLine::focusInEvent(QFocusEvent* event) {
    Painted::focusInEvent(event);
    update();
}

void ProofLine::focusOutEvent(QFocusEvent* event) {
    Painted::focusOutEvent(event);
    update();
}

} // namespace ingot::app
