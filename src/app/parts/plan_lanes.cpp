#include "app/parts/plan_lanes.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QLocale>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

double axis_h() {
    return scaled(34);
}
constexpr double least_shown_h = 12;
constexpr double grid_h = 0.25; // a dragged job starts at a quarter of an hour

} // namespace

PlanLanes::PlanLanes(QWidget* parent) : Painted(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Plan of the bays"));
}

void PlanLanes::set(const std::optional<BaySchedule::Planned>& planned) {
    planned_ = planned;
    hours_shown_ = planned_ ? std::max(least_shown_h, planned_->plan.makespan_h * 1.02) : 24;
    if (!planned_ || chosen_ >= static_cast<int>(planned_->plan.jobs.size()))
        chosen_ = -1;
    update();
}

double PlanLanes::label_w() const {
    return planned_ && !planned_->channels.empty() ? scaled(108) : scaled(34);
}

double PlanLanes::x_of(double hour) const {
    return label_w() + (width() - label_w() - 6) * hour / hours_shown_;
}

double PlanLanes::hour_at(double x) const {
    return (x - label_w()) * hours_shown_ / (width() - label_w() - 6);
}

double PlanLanes::lane_height() const {
    const int bays = planned_ ? planned_->problem.bays : 8;
    return (height() - axis_h() - 2) / std::max(bays, 1);
}

QRectF PlanLanes::place_of(std::size_t placed) const {
    if (!planned_ || placed >= planned_->plan.jobs.size())
        return {};
    const PlacedJob& job = planned_->plan.jobs[placed];
    const double h = lane_height();
    const double top = axis_h() + job.bay * h;
    const double left = x_of(std::max(0.0, job.start_h));
    return {left, top + h * 0.42, std::max(3.0, x_of(job.end_h) - left - 1), std::max(4.0, h * 0.46)};
}

void PlanLanes::paintEvent(QPaintEvent* /*event*/) {
    if (!planned_)
        return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    paint_nobody_there(painter);
    paint_hours(painter);
    paint_bays(painter);
    for (std::size_t i = 0; i < planned_->plan.jobs.size(); ++i)
        paint_job(painter, i);
    // The bound, and now.
    const double bound = x_of(planned_->plan.bound_h);
    painter.setPen(QPen(c.brass, 2, Qt::DashLine));
    painter.drawLine(QPointF(bound, axis_h() - 8), QPointF(bound, height()));
    painter.setPen(QPen(c.ember, 3));
    painter.drawLine(QPointF(x_of(0), axis_h() - 10), QPointF(x_of(0), height()));
    if (hasFocus()) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(c.steel, 1));
        painter.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
    }
}

// Nobody there: hatched, over all lanes.
void PlanLanes::paint_nobody_there(QPainter& painter) const {
    const PlanProblem& problem = planned_->problem;
    const Colours& c = colours();
    if (problem.attended.always())
        return;
    constexpr double step_h = 0.25;
    double from = -1;
    for (double hour = 0; hour <= hours_shown_ + step_h; hour += step_h) {
        const bool there = problem.attended.attended(hour) && hour <= hours_shown_;
        if (!there && from < 0)
            from = hour;
        if ((there || hour > hours_shown_) && from >= 0) {
            const QRectF away(x_of(from), axis_h() - 4, x_of(std::min(hour, hours_shown_)) - x_of(from),
                              height() - axis_h() + 2);
            painter.fillRect(away, c.well);
            painter.fillRect(away, hatch(c.hairline));
            from = -1;
        }
    }
}

void PlanLanes::paint_hours(QPainter& painter) const {
    const Colours& c = colours();
    // Hours, in steps that leave room for their names.
    constexpr std::array steps{1, 2, 3, 6, 12, 24, 48, 96};
    double step = 96;
    for (const int s : steps)
        if (x_of(s) - x_of(0) > 62) {
            step = s;
            break;
        }
    const double into_hour = static_cast<double>(planned_->begin.time().minute()) / 60;
    painter.setFont(type(12));
    const double begin_clock = static_cast<double>(planned_->begin.time().hour());
    for (double hour = -into_hour; hour < hours_shown_; hour += 1) {
        const auto clock = static_cast<int>(std::lround(begin_clock + hour + into_hour));
        if (hour < 0 || clock % static_cast<int>(step) != 0)
            continue;
        const QDateTime at = BaySchedule::at(*planned_, hour);
        painter.setPen(QPen(c.hairline, 1));
        painter.drawLine(QPointF(x_of(hour), axis_h() - 6), QPointF(x_of(hour), height()));
        painter.setPen(c.muted);
        painter.drawText(QRectF(x_of(hour) - 40, 0, 80, axis_h() - 8), Qt::AlignHCenter | Qt::AlignBottom,
                         step >= 24 || clock % 24 == 0 ? QLocale().toString(at, QStringLiteral("ddd d"))
                                                       : at.toString(QStringLiteral("HH:mm")));
    }
}

void PlanLanes::paint_bays(QPainter& painter) const {
    const PlanProblem& problem = planned_->problem;
    const Colours& c = colours();
    const double h = lane_height();
    for (int bay = 0; bay < problem.bays; ++bay) {
        const double top = axis_h() + bay * h;
        painter.setPen(QPen(c.hairline, 1));
        painter.drawLine(QPointF(0, top + h), QPointF(width(), top + h));
        painter.setPen(c.ink);
        painter.setFont(type(h > 22 ? 15 : 12, true));
        const bool channel = bay >= planned_->tester_bays;
        if (channel)
            painter.setFont(type(12));
        // Of a long name the channel stays.
        QString name = planned_->short_place(bay);
        if (const QFontMetricsF metrics(painter.font()); channel) {
            const QString number = name.mid(name.lastIndexOf(QLatin1Char(' ')));
            name = metrics.elidedText(name.chopped(number.size()), Qt::ElideRight,
                                      label_w() - 8 - metrics.horizontalAdvance(number)) +
                   number;
        }
        painter.drawText(QRectF(0, top, label_w() - 8, h), Qt::AlignRight | Qt::AlignVCenter, name);
        if (static_cast<std::size_t>(bay) < problem.out_of_use.size() &&
            problem.out_of_use[static_cast<std::size_t>(bay)]) {
            const QRectF closed(label_w(), top + 3, width() - label_w() - 6, h - 6);
            painter.fillRect(closed, c.plum_ground);
            painter.fillRect(closed, hatch(c.plum));
        }
    }
}

void PlanLanes::paint_job(QPainter& painter, std::size_t i) const {
    const Colours& c = colours();
    const double h = lane_height();
    const PlacedJob& job = planned_->plan.jobs[i];
    const PlanJob& wanted = planned_->problem.jobs[job.job];
    QRectF at = place_of(i);
    if (dragging_ && static_cast<int>(i) == chosen_)
        at.translate(dragged_to_ - pressed_at_);
    const bool here = static_cast<int>(i) == chosen_;
    const bool runs = wanted.start_h && *wanted.start_h <= 0;
    // Waiting to be lifted out: a thin line up to then.
    painter.setPen(QPen(c.steel, 1, Qt::DotLine));
    painter.drawLine(QPointF(at.right(), at.center().y()), QPointF(x_of(job.lifted_h), at.center().y()));
    painter.setPen(QPen(here ? c.ink : c.steel, here ? 2.5 : 1));
    painter.setBrush(runs ? c.steel : c.steel_mid);
    painter.drawRect(at);
    if (wanted.start_h && !runs) { // insisted on: a pin
        painter.setBrush(c.ink);
        painter.setPen(Qt::NoPen);
        painter.drawPolygon(QPolygonF{at.topLeft(), at.topLeft() + QPointF(8, 0), at.topLeft() + QPointF(0, 8)});
    }
    if (h >= 20 && at.width() > 26) {
        painter.setFont(type(12));
        painter.setPen(c.ink);
        painter.drawText(
            QRectF(at.left(), at.top() - h * 0.42, at.width() + 30, h * 0.42), Qt::AlignLeft | Qt::AlignVCenter,
            QFontMetricsF(painter.font()).elidedText(QString::fromStdString(wanted.unit), Qt::ElideRight, at.width()));
    }
}

QString PlanLanes::spoken(std::size_t placed) const {
    const PlacedJob& job = planned_->plan.jobs[placed];
    const auto moment = [this](double hour) {
        return QLocale().toString(BaySchedule::at(*planned_, hour), QLocale::ShortFormat);
    };
    return tr("%1, %2, from %3 to %4, lifted out %5")
        .arg(QString::fromStdString(planned_->problem.jobs[job.job].unit), planned_->place(job.bay))
        .arg(moment(job.start_h), moment(job.end_h), moment(job.lifted_h));
}

std::vector<PaintedPart> PlanLanes::parts() const {
    std::vector<PaintedPart> out;
    if (planned_)
        for (std::size_t i = 0; i < planned_->plan.jobs.size(); ++i)
            out.push_back({QString::fromStdString(planned_->problem.jobs[planned_->plan.jobs[i].job].unit), spoken(i),
                           place_of(i), static_cast<int>(i) == chosen_, QAccessible::ListItem});
    return out;
}

void PlanLanes::choose(int placed) {
    chosen_ = planned_ && placed >= 0 && placed < static_cast<int>(planned_->plan.jobs.size()) ? placed : -1;
    if (chosen_ >= 0) {
        setAccessibleDescription(spoken(static_cast<std::size_t>(chosen_)));
        emit chosen_changed(planned_->units[planned_->plan.jobs[static_cast<std::size_t>(chosen_)].job]);
    }
    parts_changed();
    update();
}

void PlanLanes::insist(int placed, double hour, int bay) {
    const PlacedJob& job = planned_->plan.jobs[static_cast<std::size_t>(placed)];
    const double snapped = std::max(0.0, std::round(hour / grid_h) * grid_h);
    emit insisted(planned_->units[job.job], BaySchedule::at(*planned_, snapped),
                  std::clamp(bay, 0, planned_->problem.bays - 1));
}

void PlanLanes::mousePressEvent(QMouseEvent* event) {
    pressed_at_ = dragged_to_ = event->position();
    dragging_ = false;
    if (!planned_)
        return;
    for (std::size_t i = 0; i < planned_->plan.jobs.size(); ++i)
        if (place_of(i).adjusted(-2, -8, 2, 4).contains(pressed_at_)) {
            choose(static_cast<int>(i));
            return;
        }
    choose(-1);
}

void PlanLanes::mouseMoveEvent(QMouseEvent* event) {
    constexpr double least = 6;
    if (chosen_ < 0 || (event->buttons() & Qt::LeftButton) == 0)
        return;
    const PlanJob& job = planned_->problem.jobs[planned_->plan.jobs[static_cast<std::size_t>(chosen_)].job];
    if (job.start_h && *job.start_h <= 0) // it runs: nothing to insist on
        return;
    dragged_to_ = event->position();
    dragging_ = dragging_ || (dragged_to_ - pressed_at_).manhattanLength() > least;
    update();
}

void PlanLanes::mouseReleaseEvent(QMouseEvent* event) {
    if (!dragging_ || chosen_ < 0)
        return;
    dragging_ = false;
    const QRectF at = place_of(static_cast<std::size_t>(chosen_)).translated(event->position() - pressed_at_);
    insist(chosen_, hour_at(at.left()), static_cast<int>((at.center().y() - axis_h()) / lane_height()));
    update();
}

void PlanLanes::keyPressEvent(QKeyEvent* event) {
    if (!planned_ || planned_->plan.jobs.empty()) {
        QWidget::keyPressEvent(event);
        return;
    }
    const bool move = (event->modifiers() & Qt::ShiftModifier) != 0 && chosen_ >= 0;
    const auto job = [&] { return planned_->plan.jobs[static_cast<std::size_t>(chosen_)]; };
    switch (event->key()) {
    case Qt::Key_Left:
        move ? insist(chosen_, job().start_h - grid_h, job().bay) : choose(std::max(0, chosen_ - 1));
        return;
    case Qt::Key_Right:
        move ? insist(chosen_, job().start_h + grid_h, job().bay)
             : choose(std::min(static_cast<int>(planned_->plan.jobs.size()) - 1, chosen_ + 1));
        return;
    case Qt::Key_Up:
    case Qt::Key_Down:
        if (move) {
            insist(chosen_, job().start_h, job().bay + (event->key() == Qt::Key_Up ? -1 : 1));
            return;
        }
        break;
    default:
        break;
    }
    QWidget::keyPressEvent(event);
}

} // namespace ingot::app
