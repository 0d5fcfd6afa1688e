#include "app/parts/run_curves.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {
constexpr double seconds_per_hour = 3600;
}

RunCurves::RunCurves(QWidget* parent) : Painted(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setAccessibleName(tr("Volts over time"));
}

void RunCurves::set(const BuildRun& run, std::optional<double> wanted_s, std::optional<double> off_v) {
    run_ = run;
    wanted_s_ = wanted_s;
    off_v_ = off_v;
    end_s_ = wanted_s.value_or(1);
    low_v_ = off_v.value_or(1e300);
    high_v_ = 0;
    for (const VariantRun& variant : run_.variants)
        for (const PackRun::Sample& sample : variant.run.curve) {
            end_s_ = std::max(end_s_, sample.time_s);
            low_v_ = std::min(low_v_, sample.terminal_v);
            high_v_ = std::max(high_v_, sample.terminal_v);
        }
    if (!(high_v_ > low_v_))
        high_v_ = low_v_ + 1;
    const double margin = 0.06 * (high_v_ - low_v_);
    low_v_ -= margin;
    high_v_ += margin;
    end_s_ *= 1.04;
    parts_changed();
    update();
}

void RunCurves::choose(int left, int right) {
    left_ = left;
    right_ = right;
    parts_changed();
    update();
}

QRectF RunCurves::field() const {
    return {double(scaled(52)), double(scaled(8)), width() - double(scaled(66)), height() - double(scaled(36))};
}

QPointF RunCurves::place(double time_s, double volts) const {
    const QRectF at = field();
    return {at.left() + at.width() * time_s / end_s_,
            at.bottom() - at.height() * (volts - low_v_) / (high_v_ - low_v_)};
}

std::vector<PaintedPart> RunCurves::parts() const {
    std::vector<PaintedPart> out;
    for (int i = 0; i < static_cast<int>(run_.variants.size()); ++i) {
        const VariantRun& variant = run_.variants[static_cast<std::size_t>(i)];
        if (variant.run.curve.empty())
            continue;
        const PackRun::Sample& last = variant.run.curve.back();
        const QPointF at = place(last.time_s, last.terminal_v);
        constexpr double reach = 6;
        out.push_back({wording::run_variant(variant.variant),
                       tr("ends after %1 at %2")
                           .arg(figures::seconds(variant.run.run_time_s), figures::volts(last.terminal_v, 1)),
                       QRectF(at.x() - reach, at.y() - reach, 2 * reach, 2 * reach), i == left_ || i == right_,
                       QAccessible::ListItem});
    }
    return out;
}

void RunCurves::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    const QRectF at = field();
    painter.setFont(type(12));
    const double span = high_v_ - low_v_;
    double step = std::pow(10.0, std::floor(std::log10(span / 3)));
    for (const double times : {1.0, 2.0, 5.0, 10.0})
        if (span / (step * times) <= 5) {
            step *= times;
            break;
        }
    for (double v = std::ceil(low_v_ / step) * step; v <= high_v_; v += step) {
        painter.setPen(c.hairline);
        painter.drawLine(QPointF(at.left(), place(0, v).y()), QPointF(at.right(), place(0, v).y()));
        painter.setPen(c.muted);
        painter.drawText(QRectF(0, place(0, v).y() - scaled(9), scaled(46), scaled(18)),
                         Qt::AlignRight | Qt::AlignVCenter, figures::plain(v, step < 1 ? 1 : 0));
    }
    double hours = 0.25;
    while (end_s_ / seconds_per_hour / hours > 7)
        hours *= 2;
    for (double t = 0; t <= end_s_; t += hours * seconds_per_hour) {
        painter.setPen(c.muted);
        const int minutes = static_cast<int>(std::lround(t / 60));
        painter.drawText(QRectF(place(t, low_v_).x() - scaled(30), at.bottom() + 2, scaled(60), scaled(18)),
                         Qt::AlignHCenter,
                         QStringLiteral("%1:%2").arg(minutes / 60).arg(minutes % 60, 2, 10, QLatin1Char('0')));
    }
    if (off_v_) {
        painter.fillRect(QRectF(at.left(), place(0, *off_v_).y(), at.width(), at.bottom() - place(0, *off_v_).y()),
                         hatch(c.hairline));
        painter.setPen(QPen(c.ink, 2));
        painter.drawLine(QPointF(at.left(), place(0, *off_v_).y()), QPointF(at.right(), place(0, *off_v_).y()));
        painter.setFont(type(12, true));
        painter.drawText(QRectF(at.left() + 6, place(0, *off_v_).y() - scaled(18), at.width(), scaled(16)),
                         Qt::AlignLeft, tr("device off below %1").arg(figures::volts(*off_v_, 1)));
    }
    if (wanted_s_) {
        painter.setPen(QPen(c.moss, 2, Qt::DotLine));
        const double x = place(*wanted_s_, low_v_).x();
        painter.drawLine(QPointF(x, at.top()), QPointF(x, at.bottom()));
        painter.setPen(c.moss_text);
        painter.setFont(type(12, true));
        painter.drawText(QRectF(x - scaled(124), at.top(), scaled(120), scaled(16)), Qt::AlignRight, tr("wanted"));
    }
    // Those that are compared last, on top of the others.
    for (const int rank : {0, 1, 2})
        for (int i = 0; i < static_cast<int>(run_.variants.size()); ++i) {
            const auto& curve = run_.variants[static_cast<std::size_t>(i)].run.curve;
            const int own = i == left_ ? 2 : i == right_ ? 1 : 0;
            if (own != rank || curve.empty())
                continue;
            const QColor colour = own == 2 ? c.steel : own == 1 ? c.ink : c.muted;
            QPainterPath path;
            for (const PackRun::Sample& sample : curve) {
                const QPointF p = place(sample.time_s, sample.terminal_v);
                path.elementCount() == 0 ? path.moveTo(p) : path.lineTo(p);
            }
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(colour, own == 2 ? 3 : own == 1 ? 2 : 1, own == 0 ? Qt::DotLine : Qt::SolidLine));
            painter.drawPath(path);
            painter.setPen(colour);
            painter.setBrush(colour);
            painter.drawEllipse(path.currentPosition(), own == 0 ? 2.5 : 4.0, own == 0 ? 2.5 : 4.0);
        }
}

} // namespace ingot::app
