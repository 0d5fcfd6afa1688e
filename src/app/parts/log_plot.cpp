#include "app/parts/log_plot.h"

#include "app/parts/panel.h"
#include "app/theme/theme.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <qcustomplot.h>

#include <algorithm>

namespace ingot::app {

namespace {

// What is drawn of a long log: the smallest and largest of each of so many slices, so that no spike is lost.
constexpr std::size_t slices = 2000;

QVector<QCPGraphData> thinned(const std::vector<double>& time_s, const std::vector<double>& values) {
    QVector<QCPGraphData> out;
    constexpr double per_hour = 3600;
    const std::size_t each = std::max<std::size_t>(1, values.size() / slices);
    for (std::size_t from = 0; from < values.size(); from += each) {
        const std::size_t to = std::min(values.size(), from + each);
        const auto begin = values.begin() + static_cast<std::ptrdiff_t>(from);
        const auto end = values.begin() + static_cast<std::ptrdiff_t>(to);
        auto low = std::min_element(begin, end);
        auto high = std::max_element(begin, end);
        if (low > high)
            std::swap(low, high);
        out.append({time_s[static_cast<std::size_t>(low - values.begin())] / per_hour, *low});
        if (low != high)
            out.append({time_s[static_cast<std::size_t>(high - values.begin())] / per_hour, *high});
    }
    return out;
}

} // namespace

LogPlot::LogPlot(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot(this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    auto* units = new QHBoxLayout; // upright, at the end of each axis
    units->addWidget(caption(tr("V"), this));
    units->addStretch(1);
    units->addWidget(caption(tr("A"), this));
    layout->addLayout(units);
    layout->addWidget(plot_, 1);
    plot_->addGraph(plot_->xAxis, plot_->yAxis);
    plot_->addGraph(plot_->xAxis, plot_->yAxis2);
    plot_->yAxis2->setVisible(true);
    plot_->setInteractions(QCP::iRangeDrag | QCP::iRangeZoom);
    plot_->setMinimumHeight(150);
    plot_->setFocusPolicy(Qt::NoFocus);
    setAccessibleName(tr("Voltage and current of the log"));
    dress();
    connect(&Theme::instance(), &Theme::changed, this, [this] {
        dress();
        plot_->replot();
    });
}

void LogPlot::dress() {
    const Colours& c = colours();
    plot_->setBackground(QBrush(c.surface));
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis, plot_->yAxis2}) {
        axis->setBasePen(QPen(c.ink, 1));
        axis->setTickPen(QPen(c.ink, 1));
        axis->setSubTickPen(QPen(c.hairline, 1));
        axis->setTickLabelColor(c.muted);
        axis->setLabelColor(c.muted);
        axis->setTickLabelFont(type(12));
        axis->setLabelFont(type(12));
        axis->grid()->setPen(QPen(c.hairline, 1));
    }
    plot_->yAxis2->grid()->setVisible(false);
    plot_->xAxis->setLabel(tr("hours"));
    plot_->graph(0)->setPen(QPen(c.steel, 2));
    plot_->graph(1)->setPen(QPen(c.muted, 1.5, Qt::DashLine));
}

void LogPlot::set(const LogSamples& samples, const CapacityResult& result) {
    plot_->clearItems();
    plot_->graph(0)->data()->set(thinned(samples.time_s, samples.voltage_v), true);
    plot_->graph(1)->data()->set(thinned(samples.time_s, samples.current_a), true);
    plot_->rescaleAxes();
    plot_->yAxis->scaleRange(1.1);
    plot_->yAxis2->scaleRange(1.2);
    if (result.discharge) { // the discharge that counts
        const Step& step = result.steps[result.discharge->last_step];
        constexpr double per_hour = 3600;
        auto* area = new QCPItemRect(plot_);
        area->topLeft->setType(QCPItemPosition::ptPlotCoords);
        area->bottomRight->setType(QCPItemPosition::ptPlotCoords);
        area->topLeft->setCoords(step.start_s / per_hour, plot_->yAxis->range().upper);
        area->bottomRight->setCoords(step.end_s / per_hour, plot_->yAxis->range().lower);
        QColor shade = colours().steel_mid;
        shade.setAlpha(70);
        area->setBrush(shade);
        area->setPen(Qt::NoPen);
        auto* cutoff = new QCPItemStraightLine(plot_);
        cutoff->point1->setCoords(0, step.end_v);
        cutoff->point2->setCoords(1, step.end_v);
        cutoff->setPen(QPen(colours().brass, 1, Qt::DashLine));
    }
    plot_->replot();
}

void LogPlot::clear() {
    plot_->clearItems();
    plot_->graph(0)->data()->clear();
    plot_->graph(1)->data()->clear();
    plot_->replot();
}

} // namespace ingot::app
