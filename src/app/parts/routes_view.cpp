#include "app/parts/routes_view.h"

#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/triage_wording.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {

struct Lane {
    double from, to; // shares of the width
};
constexpr Lane name_lane{0.0, 0.37};
constexpr Lane money_lane{0.375, 0.515};
constexpr Lane hours_lane{0.53, 0.61};
constexpr Lane chance_lane{0.64, 0.72};
constexpr Lane gives_lane{0.75, 1.0};
constexpr double impossible_share = 0.5; // of the height of a row that is possible

QString figures_in_words(const RouteFigures& f) {
    if (!f.possible)
        return wording::obstacle(f.obstacle);
    return RoutesView::tr("cost %1, %2 h, %3 Wh, %4 years, works %5")
        .arg(figures::plain(f.cost, 0), figures::plain(f.hours, 1), figures::plain(f.wh, 0), figures::plain(f.years, 1),
             figures::percent(f.chance, 0));
}

} // namespace

RoutesView::RoutesView(QWidget* parent) : Painted(parent) {
    setAccessibleName(tr("Routes side by side"));
    setFocusPolicy(Qt::StrongFocus);
}

void RoutesView::set(const WorthResult& result, WorthAim aim) {
    rows_.clear();
    aim_ = aim;
    winner_ = result.winner;
    const bool device = aim == WorthAim::device;
    for (const bool possible : {true, false})
        for (const RouteFigures& f : result.routes)
            if (f.possible == possible && gives_device(f.route) == device)
                rows_.push_back(f);
    dearest_ = longest_ = 1e-9;
    for (const RouteFigures& f : rows_)
        if (f.possible) {
            dearest_ = std::max(dearest_, f.cost_per_wh_year);
            longest_ = std::max(longest_, f.hours);
        }
    if (std::none_of(rows_.begin(), rows_.end(), [this](const RouteFigures& f) { return f.route == chosen_; }) &&
        !rows_.empty())
        choose(winner_.value_or(rows_.front().route));
    parts_changed();
    update();
}

std::vector<PaintedPart> RoutesView::parts() const {
    std::vector<PaintedPart> out;
    const auto at = places();
    for (std::size_t i = 0; i < rows_.size(); ++i)
        out.push_back({wording::route(rows_[i].route), figures_in_words(rows_[i]), at[i], rows_[i].route == chosen_});
    return out;
}

void RoutesView::choose(WorthRoute route) {
    if (chosen_ == route)
        return;
    chosen_ = route;
    parts_changed();
    update();
    emit chosen_changed();
}

std::vector<QRectF> RoutesView::places() const {
    const double head = scaled(24);
    double shares = 0;
    for (const RouteFigures& f : rows_)
        shares += f.possible ? 1 : impossible_share;
    const double tallest = scaled(62);
    const double row = std::min(tallest, (height() - head) / std::max(shares, 1.0));
    std::vector<QRectF> out;
    out.reserve(rows_.size());
    double top = head;
    for (const RouteFigures& f : rows_) {
        const double high = row * (f.possible ? 1 : impossible_share);
        out.emplace_back(0, top, width(), high);
        top += high;
    }
    return out;
}

void RoutesView::paint_row(QPainter& painter, const RouteFigures& f, const QRectF& place) const {
    const Colours& c = colours();
    const bool winner = winner_ == f.route;
    const auto lane = [&](const Lane& l) {
        return QRectF(l.from * width(), place.top(), (l.to - l.from) * width(), place.height());
    };
    const double half = place.height() / 2;
    if (winner) {
        painter.fillRect(place, c.steel_ground);
        painter.fillRect(QRectF(0, place.top(), 4, place.height()), c.steel);
    }
    painter.setPen(QPen(c.hairline, 1));
    painter.drawLine(place.bottomLeft(), place.bottomRight());
    if (f.route == chosen_) {
        painter.setPen(QPen(hasFocus() ? c.steel : c.muted, hasFocus() ? 2 : 1));
        painter.drawRect(place.adjusted(1, 1, -1, -1));
    }
    if (!f.possible) {
        painter.setPen(c.muted);
        painter.setFont(type(12));
        const QRectF line = place.adjusted(10, 0, -4, 0);
        painter.drawText(
            line, Qt::AlignVCenter | Qt::TextSingleLine,
            painter.fontMetrics().elidedText(tr("%1: %2").arg(wording::route(f.route), wording::obstacle(f.obstacle)),
                                             Qt::ElideRight, static_cast<int>(line.width())));
        return;
    }
    painter.setPen(c.ink);
    painter.setFont(type(14, winner));
    const QRectF name = lane(name_lane).adjusted(10, 0, 0, 0);
    painter.drawText(
        QRectF(name.left(), name.top(), name.width(), half + 2), Qt::AlignBottom,
        painter.fontMetrics().elidedText(wording::route(f.route), Qt::ElideRight, static_cast<int>(name.width()) - 4));
    painter.setFont(type(12));
    painter.setPen(c.muted);
    const QString back = // what comes back, or remains
        f.left_over > 0 ? QStringLiteral(" \u2212 %1").arg(figures::plain(f.left_over, 0)) : QString();
    QString costs = tr("parts %1%2, in all %3").arg(figures::plain(f.parts, 0), back, figures::plain(f.cost, 0));
    if (f.charger > 0)
        costs += tr(", with a charger");
    painter.drawText(QRectF(name.left(), name.top() + half + 2, name.width(), half), Qt::AlignTop,
                     painter.fontMetrics().elidedText(costs, Qt::ElideRight, static_cast<int>(name.width())));
    const auto bar = [&](const Lane& l, double share, const QString& figure) {
        const QRectF at = lane(l);
        painter.fillRect(QRectF(at.left(), at.center().y() + 4, at.width(), 7), c.hairline);
        painter.fillRect(QRectF(at.left(), at.center().y() + 4, at.width() * std::clamp(share, 0.0, 1.0), 7),
                         winner ? c.steel : c.muted);
        painter.setPen(c.ink);
        painter.setFont(type(14, winner));
        painter.drawText(QRectF(at.left(), at.top(), at.width(), half + 2), Qt::AlignBottom, figure);
    };
    if (aim_ == WorthAim::device)
        bar(money_lane, f.cost_per_wh_year / dearest_, figures::plain(f.cost_per_wh_year, 3));
    else
        bar(money_lane, 0, figures::plain(-f.cost, 1));
    bar(hours_lane, f.hours / longest_, figures::plain(f.hours, 1));
    bar(chance_lane, f.chance, figures::percent(f.chance, 0));
    painter.setPen(c.ink);
    painter.setFont(type(13));
    const QRectF gives = lane(gives_lane);
    const auto write = [&](double top, const QString& text, Qt::AlignmentFlag align) {
        painter.drawText(QRectF(gives.left(), top, gives.width(), half + 2), align,
                         painter.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(gives.width())));
    };
    write(gives.top(), tr("%1 Wh, %2 years").arg(figures::plain(f.wh, 0), figures::plain(f.years, 1)), Qt::AlignBottom);
    painter.setPen(c.muted);
    painter.setFont(type(11));
    QString more =
        f.warranty_years > 0 ? tr("warranty %1 y").arg(figures::plain(f.warranty_years, 1)) : tr("no warranty");
    if (f.days > 0)
        more += tr(", in %1 d").arg(figures::plain(f.days, 0));
    write(gives.top() + half + 2, more, Qt::AlignTop);
}

void RoutesView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    if (rows_.empty())
        return;
    painter.setPen(colours().muted);
    painter.setFont(type(11));
    const double head = scaled(24);
    const auto title = [&](const Lane& l, const QString& text) {
        painter.drawText(QRectF(l.from * width(), 0, (l.to - l.from) * width(), head),
                         Qt::AlignVCenter | Qt::TextDontClip, text);
    };
    title(money_lane, aim_ == WorthAim::device ? tr("a Wh-year") : tr("gain"));
    title(hours_lane, tr("hours"));
    title(chance_lane, tr("it works"));
    title(gives_lane, tr("what it gives"));
    const auto rows = places();
    for (std::size_t i = 0; i < rows_.size(); ++i)
        paint_row(painter, rows_[i], rows[i]);
}

void RoutesView::mousePressEvent(QMouseEvent* event) {
    const auto rows = places();
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (rows[i].contains(event->position()))
            choose(rows_[i].route);
}

void RoutesView::keyPressEvent(QKeyEvent* event) {
    const int by = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    const auto here =
        std::find_if(rows_.begin(), rows_.end(), [this](const RouteFigures& f) { return f.route == chosen_; });
    if (by == 0 || here == rows_.end()) {
        QWidget::keyPressEvent(event);
        return;
    }
    const auto next =
        std::clamp<std::ptrdiff_t>(here - rows_.begin() + by, 0, static_cast<std::ptrdiff_t>(rows_.size()) - 1);
    choose(rows_[static_cast<std::size_t>(next)].route);
}

void RoutesView::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    update();
}

void RoutesView::focusOutEvent(QFocusEvent* event) {
    QWidget::focusOutEvent(event);
    update();
}

} // namespace ingot::app
