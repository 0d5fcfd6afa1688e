#include "app/parts/proof_picture.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/prove_wording.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

constexpr double milli = 1000;

// A reading shorter than its column leaves room for, or nothing.
bool fits(const QPainter& painter, const QString& text, double width) {
    return QFontMetricsF(painter.font()).horizontalAdvance(text) <= width - 2;
}

// Centred under its column; where the figure is wider, on a ground of its own over the column's frame.
void draw_under(QPainter& painter, const QRectF& column, double top, const QString& text) {
    const double needs = QFontMetricsF(painter.font()).horizontalAdvance(text) + 4;
    const double width = std::max(column.width(), needs);
    const QRectF at(column.center().x() - width / 2, top, width, double(scaled(18)));
    if (needs > column.width())
        painter.fillRect(at, colours().steel_ground);
    painter.drawText(at, Qt::AlignCenter, text);
}

} // namespace

ProofPicture::ProofPicture(QWidget* parent) : Painted(parent) {
    setAccessibleName(tr("Groups of the pack, every round"));
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

QSize ProofPicture::minimumSizeHint() const {
    return {scaled(360), scaled(216)};
}

void ProofPicture::set(const PackProof& proof, const ProofLimits& limits, int group) {
    proof_ = proof;
    limits_ = limits;
    group_ = group;
    setAccessibleDescription(group > 0 && group <= groups() ? said_of(group) : QString());
    parts_changed();
    update();
}

double ProofPicture::left() const {
    return scaled(112);
}
double ProofPicture::right() const {
    return width() - double(scaled(96));
}
double ProofPicture::cells() const {
    return std::max(1, proof_.readings.cells_per_unit);
}

QRectF ProofPicture::column(int group) const {
    const double w = (right() - left()) / std::max(1, groups());
    return {left() + (group - 1) * w, 0, w, double(height())};
}

const ProofReading& ProofPicture::reading(ProofRound round) const {
    static const ProofReading nothing;
    const auto r = static_cast<std::size_t>(round);
    return r < proof_.readings.rounds.size() ? proof_.readings.rounds[r] : nothing;
}

bool ProofPicture::out_of_line(int group) const {
    return std::any_of(proof_.proof.rounds.begin(), proof_.proof.rounds.end(), [group](const RoundVerdict& round) {
        return std::any_of(round.findings.begin(), round.findings.end(),
                           [group](const ProofFinding& f) { return f.group == group; });
    });
}

QString ProofPicture::said_of(int group) const {
    const auto g = static_cast<std::size_t>(group) - 1;
    QStringList said;
    for (const ProofRound round :
         {ProofRound::at_rest, ProofRound::end_of_charge, ProofRound::after_rest, ProofRound::under_load}) {
        const ProofReading& read = reading(round);
        if (g < read.group_v.size() && read.group_v[g])
            said << tr("%1 %2").arg(wording::proof_round(round).toLower(), figures::volts(*read.group_v[g]));
    }
    if (const RoundVerdict& load = proof_.proof.at(ProofRound::under_load); g < load.shown_v.size() && load.shown_v[g])
        said << tr("sags %1 over the others").arg(figures::millivolts_signed(*load.shown_v[g]));
    if (said.isEmpty())
        said << tr("not read");
    if (out_of_line(group))
        said << tr("does not pass");
    return said.join(QStringLiteral(", "));
}

std::vector<PaintedPart> ProofPicture::parts() const {
    std::vector<PaintedPart> out;
    for (int g = 1; g <= groups(); ++g)
        out.push_back({tr("Group %1").arg(g), said_of(g), column(g), g == group_, QAccessible::ListItem});
    return out;
}

void ProofPicture::row_title(QPainter& painter, double top, const QString& title, const QString& below) const {
    painter.setPen(colours().ink);
    painter.setFont(type(13, true));
    painter.drawText(QRectF(0, top, left() - 6, scaled(18)), Qt::AlignLeft | Qt::AlignVCenter, title);
    if (below.isEmpty())
        return;
    painter.setPen(colours().muted);
    painter.setFont(type(12));
    painter.drawText(QRectF(0, top + scaled(17), left() - 6, scaled(34)), Qt::AlignLeft | Qt::TextWordWrap, below);
}

void ProofPicture::paint_heads(QPainter& painter) const {
    const Colours& c = colours();
    for (int g = 1; g <= groups(); ++g) {
        const QRectF at = column(g);
        if (g == group_) {
            painter.setPen(QPen(c.steel, hasFocus() ? 3 : 2));
            painter.setBrush(c.steel_ground);
            painter.drawPath(cut_top_left(at.adjusted(1, 1, -1, -1), scaled(7)));
        }
        const bool bad = out_of_line(g);
        painter.setPen(bad ? c.plum : c.ink);
        painter.setFont(type(at.width() < scaled(30) ? 12 : 17, true));
        if (groups() <= 40 || g == group_ || bad)
            painter.drawText(QRectF(at.left(), scaled(2), at.width(), scaled(20)), Qt::AlignCenter,
                             QString::number(g) + (bad && at.width() > scaled(30) ? QStringLiteral(" !") : QString()));
    }
}

// Counted from the lowest group, a cell: what is excellent, good, acceptable, too much.
void ProofPicture::paint_spread(QPainter& painter, const QRectF& band) const {
    const Colours& c = colours();
    const ProofReading& read = reading(ProofRound::end_of_charge);
    const RoundVerdict& verdict = proof_.proof.at(ProofRound::end_of_charge);
    const double most = std::max(limits_.most_v * 1.2, verdict.spread_v.value_or(0) * 1.1);
    const auto y = [&](double v) { return band.bottom() - 4 - (band.height() - 8) * v / most; };
    const auto zone = [&](double from, double to, const QBrush& brush) {
        painter.fillRect(QRectF(QPointF(band.left(), y(to)), QPointF(band.right(), y(from))), brush);
    };
    QColor moss = c.moss;
    moss.setAlphaF(0.30F);
    zone(0, limits_.excellent_v, moss);
    moss.setAlphaF(0.14F);
    zone(limits_.excellent_v, limits_.acceptable_v, moss);
    zone(limits_.acceptable_v, limits_.most_v, c.brass_ground);
    zone(limits_.most_v, most, hatch(c.hairline));
    painter.setFont(type(12));
    for (const auto& [v, words] : {std::pair(limits_.excellent_v, tr("%1 excellent")),
                                   {limits_.acceptable_v, tr("%1 good")},
                                   {limits_.most_v, tr("%1 the most")}}) {
        painter.setPen(c.hairline);
        painter.drawLine(QPointF(band.left(), y(v)), QPointF(band.right(), y(v)));
        painter.setPen(c.muted);
        painter.drawText(QRectF(right() + 6, y(v) - scaled(8), scaled(92), scaled(16)),
                         Qt::AlignLeft | Qt::AlignVCenter, words.arg(figures::plain(v, 2)));
    }
    double lowest = 1e300;
    for (const auto& v : read.group_v)
        if (v)
            lowest = std::min(lowest, *v);
    for (int g = 1; g <= groups(); ++g) {
        const auto i = static_cast<std::size_t>(g) - 1;
        if (i >= read.group_v.size() || !read.group_v[i])
            continue;
        const QRectF at = column(g);
        const double half = std::min(at.width() * 0.36, double(scaled(15)));
        const double high = (*read.group_v[i] - lowest) / cells();
        painter.fillRect(QRectF(at.center().x() - half, y(high) - 2.5, 2 * half, 5),
                         high > limits_.most_v ? c.plum : c.ink);
    }
}

void ProofPicture::paint_volts(QPainter& painter, double top, ProofRound round, const QString& title) const {
    row_title(painter, top, title);
    const ProofReading& read = reading(round);
    painter.setFont(type(13));
    painter.setPen(colours().ink);
    for (int g = 1; g <= groups(); ++g) {
        const auto i = static_cast<std::size_t>(g) - 1;
        const QString text =
            i < read.group_v.size() && read.group_v[i] ? figures::plain(*read.group_v[i], 3) : QString(QChar(0x2013));
        if (const QRectF at = column(g); fits(painter, text, at.width()) || g == group_)
            draw_under(painter, at, top, text);
    }
}

// Down is more than the others: the limit is a line, what lies beyond it is hatched.
void ProofPicture::paint_sag(QPainter& painter, const QRectF& band) const {
    const Colours& c = colours();
    const RoundVerdict& verdict = proof_.proof.at(ProofRound::under_load);
    const double limit = limits_.sag_v * cells();
    double most = limit * 2;
    for (const auto& v : verdict.shown_v)
        if (v)
            most = std::max(most, std::fabs(*v) * 1.1);
    const double zero = band.top() + band.height() * 0.22;
    const auto y = [&](double v) { return zero + (v >= 0 ? (band.bottom() - zero) : (zero - band.top())) * v / most; };
    painter.fillRect(QRectF(QPointF(band.left(), y(limit)), band.bottomRight()), hatch(c.hairline));
    painter.setPen(QPen(c.steel, 2));
    painter.drawLine(QPointF(band.left(), zero), QPointF(band.right(), zero));
    painter.setPen(QPen(c.ink, 1.2));
    painter.drawLine(QPointF(band.left(), y(limit)), QPointF(band.right(), y(limit)));
    painter.setFont(type(12));
    painter.setPen(c.muted);
    painter.drawText(QRectF(right() + 6, y(limit) - scaled(8), scaled(92), scaled(16)),
                     Qt::AlignLeft | Qt::AlignVCenter, tr("limit %1").arg(figures::millivolts_signed(limit)));
    painter.setFont(type(14, true));
    const bool all_fit = groups() > 0 && fits(painter, QStringLiteral("+000"), column(1).width());
    for (int g = 1; g <= groups(); ++g) {
        const auto i = static_cast<std::size_t>(g) - 1;
        if (i >= verdict.shown_v.size() || !verdict.shown_v[i])
            continue;
        const double over = *verdict.shown_v[i];
        const QRectF at = column(g);
        const double half = std::min(at.width() * 0.3, double(scaled(13)));
        const bool bad = over > limit;
        const QRectF bar =
            QRectF(QPointF(at.center().x() - half, zero), QPointF(at.center().x() + half, y(over))).normalized();
        painter.setPen(QPen(bad ? c.plum : c.steel, bad ? 2 : 1));
        painter.setBrush(bad ? hatch(c.plum) : QBrush(c.steel_mid));
        painter.drawRect(bar);
        painter.setFont(type(14, true));
        painter.setPen(bad ? c.plum : c.ink);
        const QString text = (over > 0 ? QStringLiteral("+") : QString()) + figures::plain(over * milli, 0);
        // In narrow columns only what is looked at has its figure.
        if (all_fit ? fits(painter, text, at.width()) : g == group_)
            draw_under(painter, at, band.bottom() + 1, text);
    }
}

// A dot a unit: at its group, off it, not read.
void ProofPicture::paint_units(QPainter& painter, double top) const {
    const Colours& c = colours();
    const RoundVerdict& verdict = proof_.proof.at(ProofRound::units);
    row_title(painter, top, tr("Units"));
    const auto& units = reading(ProofRound::units).unit_v;
    for (int g = 1; g <= groups(); ++g) {
        const auto i = static_cast<std::size_t>(g) - 1;
        if (i >= units.size())
            continue;
        const QRectF at = column(g);
        const auto count = static_cast<int>(units[i].size());
        const double pitch = std::min(double(scaled(11)), (at.width() - 6) / std::max(1, count));
        if (pitch < 3) { // too many to tell apart: a count
            const auto read =
                std::count_if(units[i].begin(), units[i].end(), [](const auto& v) { return v.has_value(); });
            painter.setFont(type(12));
            painter.setPen(c.ink);
            painter.drawText(QRectF(at.left(), top, at.width(), scaled(18)), Qt::AlignCenter, QString::number(read));
            continue;
        }
        const double first = at.center().x() - pitch * (count - 1) / 2;
        for (int p = 0; p < count; ++p) {
            const QPointF centre(first + p * pitch, top + scaled(9));
            const bool off = std::any_of(verdict.findings.begin(), verdict.findings.end(),
                                         [&](const auto& f) { return f.group == g && f.place == p + 1; });
            const double r = std::min(pitch * 0.38, double(scaled(4)));
            painter.setPen(QPen(off ? c.plum : c.ink, 1.3));
            painter.setBrush(off || !units[i][static_cast<std::size_t>(p)] ? c.surface : c.ink);
            if (off)
                painter.drawRect(QRectF(centre.x() - r, centre.y() - r, 2 * r, 2 * r));
            else
                painter.drawEllipse(centre, r, r);
        }
    }
}

void ProofPicture::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (groups() == 0)
        return;
    paint_heads(painter);
    const double head = scaled(24);
    const double line = scaled(19);
    const bool units = proof_.readings.parallel > 1;
    // What is left over the rows of figures is shared by the two pictures.
    const double figures_high = line * (units ? 5 : 4) + scaled(8);
    const double high = std::max(double(scaled(44)), (height() - head - figures_high) / 2);
    double y = head;
    const RoundVerdict& charged = proof_.proof.at(ProofRound::end_of_charge);
    row_title(painter, y, tr("End of charge"),
              charged.spread_v ? tr("%1 a cell apart, %2")
                                     .arg(figures::millivolts_signed(*charged.spread_v).remove(QLatin1Char('+')),
                                          wording::spread_grade(*charged.grade))
                               : tr("a cell, from the lowest"));
    paint_spread(painter, {left(), y, right() - left(), high});
    y += high + 2;
    paint_volts(painter, y, ProofRound::end_of_charge, tr("V"));
    y += line;
    paint_volts(painter, y, ProofRound::after_rest, tr("After rest, V"));
    y += line;
    if (units) {
        paint_units(painter, y);
        y += line;
    }
    const RoundVerdict& load = proof_.proof.at(ProofRound::under_load);
    const auto& amperes = reading(ProofRound::under_load).load_a;
    row_title(painter, y, amperes ? tr("Sag at %1").arg(figures::amperes(*amperes)) : tr("Sag under load"),
              load.predicted ? tr("over what its units explain, mV") : tr("over the middle group, mV"));
    paint_sag(painter, {left(), y, right() - left(), height() - y - scaled(20)});
}

void ProofPicture::mousePressEvent(QMouseEvent* event) {
    for (int g = 1; g <= groups(); ++g)
        if (column(g).contains(event->position()))
            emit group_chosen(g);
}

void ProofPicture::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Left && group_ > 1)
        emit group_chosen(group_ - 1);
    else if (event->key() == Qt::Key_Right && group_ < groups())
        emit group_chosen(group_ + 1);
    else if (event->key() != Qt::Key_Left && event->key() != Qt::Key_Right)
        Painted::keyPressEvent(event);
}

void ProofPicture::focusInEvent(QFocusEvent* event) {
    Painted::focusInEvent(event);
    update();
}

void ProofPicture::focusOutEvent(QFocusEvent* event) {
    Painted::focusOutEvent(event);
    update();
}

} // namespace ingot::app
