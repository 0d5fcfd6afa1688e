#include "app/parts/course_picture.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/prove_wording.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

constexpr double to_mv = 1000;
constexpr double seconds_a_minute = 60;

QString axis_time(double seconds) {
    const int minutes = static_cast<int>(std::lround(seconds / seconds_a_minute));
    return QStringLiteral("%1:%2").arg(minutes / 60).arg(minutes % 60, 2, 10, QLatin1Char('0'));
}

} // namespace

CoursePicture::CoursePicture(QWidget* parent) : Painted(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setAccessibleName(tr("The pack over time, simulated and read"));
}

QSize CoursePicture::minimumSizeHint() const {
    return {scaled(360), scaled(220)};
}

void CoursePicture::set(const PackCourse& course, const std::optional<BoardLog>& log, const ProofLimits& limits,
                        std::optional<double> run_time_s) {
    course_ = course;
    log_ = log;
    limits_ = limits;
    run_time_s_ = run_time_s;
    sum_v_.clear();
    low_v_ = 1e300;
    high_v_ = -1e300;
    end_s_ = 1;
    const auto widen = [&](double t, double v) {
        if (std::isnan(v))
            return;
        end_s_ = std::max(end_s_, t);
        low_v_ = std::min(low_v_, v);
        high_v_ = std::max(high_v_, v);
    };
    if (log_) {
        for (std::size_t r = 0; r < log_->rows(); ++r) {
            double sum = 0;
            for (const double v : log_->group_v[r])
                sum += v;
            sum_v_.push_back(sum);
            widen(log_->time_s[r], sum);
        }
        if (course_.load)
            for (std::size_t i = 0; i < course_.load->time_s.size(); ++i)
                widen(course_.load->time_s[i], course_.load->simulated_v[i]);
    } else if (course_.simulated) {
        for (const PackRun::Sample& sample : course_.simulated->curve)
            widen(sample.time_s, sample.terminal_v);
        end_s_ = std::max(end_s_, run_time_s_.value_or(0));
    }
    if (!(high_v_ > low_v_)) {
        low_v_ = std::min(low_v_, 0.0);
        high_v_ = low_v_ + 1;
    }
    const double margin = 0.06 * (high_v_ - low_v_);
    low_v_ -= margin;
    high_v_ += margin;
    parts_changed();
    update();
}

CoursePicture::Band CoursePicture::volts_band() const {
    const double all = height() - double(scaled(30));
    const double tall = log_ ? all * 0.48 : all;
    return {QRectF(scaled(64), scaled(6), width() - double(scaled(160)), tall - scaled(10)), low_v_, high_v_};
}
CoursePicture::Band CoursePicture::spread_band() const {
    const double all = height() - double(scaled(30));
    double most = limits_.most_v * 1.2;
    for (const double v : course_.reading.spread_v)
        if (!std::isnan(v))
            most = std::max(most, v * 1.05);
    return {QRectF(scaled(64), all * 0.50, width() - double(scaled(160)), all * 0.30), 0, most};
}
CoursePicture::Band CoursePicture::current_band() const {
    const double all = height() - double(scaled(30));
    double most = 0.1;
    for (const double a : course_.reading.charging_a)
        most = std::max(most, std::fabs(a) * 1.1);
    return {QRectF(scaled(64), all * 0.83, width() - double(scaled(160)), all * 0.17), -most, most};
}

QPointF CoursePicture::place(const Band& band, double time_s, double value) const {
    return {band.at.left() + band.at.width() * time_s / end_s_,
            band.at.bottom() - band.at.height() * (value - band.low) / (band.high - band.low)};
}

QString CoursePicture::said_of(const LogStretch& stretch) const {
    if (!stretch.last_spread_v || !stretch.widest_spread_v)
        return tr("not read");
    return tr("%1 mV a cell apart at its end, at most %2: group %3 highest, %4 lowest")
        .arg(figures::plain(*stretch.last_spread_v * to_mv, 0), figures::plain(*stretch.widest_spread_v * to_mv, 0))
        .arg(stretch.highest + 1)
        .arg(stretch.lowest + 1);
}

std::vector<PaintedPart> CoursePicture::parts() const {
    std::vector<PaintedPart> out;
    if (!log_) {
        if (course_.simulated)
            out.push_back({tr("Simulated run"), wording::run_time(course_.simulated->run_time_s), volts_band().at,
                           false, QAccessible::ListItem});
        return out;
    }
    const Band spread = spread_band();
    constexpr std::size_t most_parts = 200;
    for (const LogStretch& stretch : course_.reading.stretches) {
        if (out.size() >= most_parts)
            break;
        const double from = place(spread, log_->time_s[stretch.from], 0).x();
        const double to = place(spread, log_->time_s[stretch.to - 1], 0).x();
        out.push_back({tr("%1, %2 to %3")
                           .arg(wording::log_stretch(stretch.kind), axis_time(log_->time_s[stretch.from]),
                                axis_time(log_->time_s[stretch.to - 1])),
                       said_of(stretch), QRectF(from, spread.at.top(), std::max(2.0, to - from), spread.at.height()),
                       false, QAccessible::ListItem});
    }
    for (const LogJump& jump : course_.reading.jumps) {
        const QPointF at = place(spread, jump.time_s, 0);
        out.push_back({tr("Group %1 jumped").arg(jump.group + 1),
                       tr("%1 a cell at %2").arg(figures::millivolts_signed(jump.by_v), axis_time(jump.time_s)),
                       QRectF(at.x() - 4, spread.at.top(), 8, spread.at.height()), false, QAccessible::ListItem});
    }
    return out;
}

// Long logs are drawn by the lowest and highest of each pixel.
void CoursePicture::draw_line(QPainter& painter, const Band& band, const std::vector<double>& time_s,
                              const std::vector<double>& values, const QPen& pen) const {
    QPainterPath path;
    double column = -1;
    double low = 0;
    double high = 0;
    const auto flush = [&] {
        if (column < 0)
            return;
        path.elementCount() == 0 ? path.moveTo(column, high) : path.lineTo(column, high);
        path.lineTo(column, low);
    };
    for (std::size_t i = 0; i < time_s.size() && i < values.size(); ++i) {
        if (std::isnan(values[i]))
            continue;
        const QPointF p = place(band, time_s[i], values[i]);
        const double x = std::round(p.x() * 2) / 2;
        if (x != column) {
            flush();
            column = x;
            low = high = p.y();
        }
        low = std::max(low, p.y());
        high = std::min(high, p.y());
    }
    flush();
    painter.setBrush(Qt::NoBrush);
    painter.setPen(pen);
    painter.drawPath(path);
}

void CoursePicture::draw_times(QPainter& painter, double below) const {
    double step = 60;
    for (const double longer : {120.0, 300.0, 600.0, 900.0, 1800.0, 3600.0, 7200.0, 14400.0, 28800.0, 86400.0})
        if (end_s_ / step > 7)
            step = longer;
    const Band band = volts_band();
    painter.setPen(colours().muted);
    painter.setFont(type(12));
    for (double t = 0; t <= end_s_; t += step)
        painter.drawText(QRectF(place(band, t, low_v_).x() - scaled(30), below, scaled(60), scaled(18)),
                         Qt::AlignHCenter, axis_time(t));
    painter.drawText(QRectF(band.at.right() + 8, below, scaled(60), scaled(18)), Qt::AlignLeft, tr("h:min"));
}

void CoursePicture::draw_volts(QPainter& painter) const {
    const Colours& c = colours();
    const Band band = volts_band();
    painter.setPen(c.hairline);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(band.at);
    painter.setFont(type(12));
    painter.setPen(c.muted);
    const double margin = 0.06 / 1.12 * (high_v_ - low_v_);
    for (const double v : {low_v_ + margin, high_v_ - margin})
        painter.drawText(QRectF(0, place(band, 0, v).y() - scaled(9), scaled(58), scaled(18)),
                         Qt::AlignRight | Qt::AlignVCenter, figures::volts(v, 1));
    const QPen simulated(c.ink, 1.6, Qt::DashLine);
    const auto named = [&](double y, const QString& words, const QColor& colour) {
        painter.setPen(colour);
        painter.setFont(type(12, true));
        painter.drawText(QRectF(band.at.right() + 8, y - scaled(9), scaled(88), scaled(18)),
                         Qt::AlignLeft | Qt::AlignVCenter, words);
    };
    if (log_) {
        draw_line(painter, band, log_->time_s, sum_v_, QPen(c.steel, 2));
        if (course_.load) {
            draw_line(painter, band, course_.load->time_s, course_.load->simulated_v, simulated);
            named(band.at.top() + scaled(26), tr("simulated"), c.ink);
        }
        named(band.at.top() + scaled(10), tr("read"), c.steel);
        return;
    }
    if (!course_.simulated)
        return;
    std::vector<double> times;
    std::vector<double> volts;
    for (const PackRun::Sample& sample : course_.simulated->curve) {
        times.push_back(sample.time_s);
        volts.push_back(sample.terminal_v);
    }
    draw_line(painter, band, times, volts, simulated);
    named(band.at.top() + scaled(10), tr("simulated"), c.ink);
    if (run_time_s_) {
        const double x = place(band, *run_time_s_, low_v_).x();
        painter.setPen(QPen(c.steel, 2));
        painter.drawLine(QPointF(x, band.at.top()), QPointF(x, band.at.bottom()));
        painter.setFont(type(12, true));
        painter.drawText(QRectF(x - scaled(126), band.at.bottom() - scaled(20), scaled(120), scaled(18)),
                         Qt::AlignRight, tr("ran %1").arg(wording::run_time(*run_time_s_)));
    }
}

void CoursePicture::draw_spread(QPainter& painter) const {
    const Colours& c = colours();
    const Band band = spread_band();
    const auto zone = [&](double from, double to, const QBrush& brush) {
        painter.fillRect(
            QRectF(QPointF(band.at.left(), place(band, 0, to).y()), QPointF(band.at.right(), place(band, 0, from).y())),
            brush);
    };
    QColor moss = c.moss;
    moss.setAlphaF(0.14F);
    zone(0, limits_.acceptable_v, moss);
    zone(limits_.acceptable_v, limits_.most_v, c.brass_ground);
    zone(limits_.most_v, band.high, hatch(c.hairline));
    painter.setFont(type(12));
    painter.setPen(c.muted);
    for (const double v : {limits_.acceptable_v, limits_.most_v})
        painter.drawText(QRectF(band.at.right() + 8, place(band, 0, v).y() - scaled(9), scaled(88), scaled(18)),
                         Qt::AlignLeft | Qt::AlignVCenter, tr("%1 mV a cell").arg(figures::plain(v * to_mv, 0)));
    painter.setPen(c.ink);
    painter.setFont(type(12, true));
    painter.drawText(QRectF(0, band.at.top(), scaled(58), scaled(34)), Qt::AlignRight | Qt::TextWordWrap,
                     tr("groups apart"));
    draw_line(painter, band, log_->time_s, course_.reading.spread_v, QPen(c.steel, 1.8));
    for (const LogJump& jump : course_.reading.jumps) {
        const double x = place(band, jump.time_s, 0).x();
        painter.setPen(QPen(c.plum, 1.4));
        painter.drawLine(QPointF(x, band.at.top()), QPointF(x, band.at.bottom()));
        painter.setFont(type(12, true));
        painter.drawText(QRectF(x + 3, band.at.top(), scaled(60), scaled(16)), Qt::AlignLeft,
                         tr("group %1").arg(jump.group + 1));
    }
}

void CoursePicture::draw_current(QPainter& painter) const {
    const Colours& c = colours();
    const Band band = current_band();
    painter.setPen(c.hairline);
    painter.drawLine(place(band, 0, 0), place(band, end_s_, 0));
    draw_line(painter, band, log_->time_s, course_.reading.charging_a, QPen(c.ink, 1.4));
    painter.setPen(c.muted);
    painter.setFont(type(12));
    painter.drawText(QRectF(0, band.at.top(), scaled(58), scaled(18)), Qt::AlignRight, tr("charges"));
    painter.drawText(QRectF(0, band.at.bottom() - scaled(18), scaled(58), scaled(18)), Qt::AlignRight, tr("drawn"));
    painter.drawText(QRectF(band.at.right() + 8, band.at.top(), scaled(88), scaled(18)), Qt::AlignLeft,
                     tr("most %1").arg(figures::amperes(band.high / 1.1)));
}

void CoursePicture::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    draw_volts(painter);
    if (log_) {
        draw_spread(painter);
        draw_current(painter);
    }
    draw_times(painter, height() - double(scaled(22)));
}

} // namespace ingot::app
