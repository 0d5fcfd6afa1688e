#include "app/parts/run_plot.h"

#include "app/parts/choice_row.h"
#include "app/parts/panel.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QSvgGenerator>
#include <QVBoxLayout>
#include <qcustomplot.h>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

constexpr std::size_t most_points = 4000;

std::vector<double> amounts_of(const LogSamples& log) {
    std::vector<double> out(log.size(), 0.0);
    for (std::size_t i = 1; i < log.size(); ++i)
        out[i] = out[i - 1] + 0.5 * (log.current_a[i] + log.current_a[i - 1]) * (log.time_s[i] - log.time_s[i - 1]) /
                                  seconds_per_hour;
    return out;
}

} // namespace

CurveBand band_of(const std::vector<LogSamples>& siblings, const QString& name) {
    CurveBand band;
    static_cast<DischargeBand&>(band) = discharge_band(siblings);
    band.name = name;
    return band;
}

RunPlot::RunPlot(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot(this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    auto* row = new QHBoxLayout;
    what_ = new ChoiceRow({tr("V"), tr("A"), QStringLiteral("\u00B0C"), tr("Ah")}, this);
    over_ = new ChoiceRow({tr("over time"), tr("discharge over Ah")}, this);
    reading_ = new QLabel(this);
    reading_->setFont(type(13));
    row->addWidget(what_);
    row->addWidget(over_);
    row->addStretch(1);
    row->addWidget(reading_);
    layout->addLayout(row);
    unit_ = caption({}, this); // upright, at the end of its axis
    layout->addWidget(unit_);
    layout->addWidget(plot_, 1);
    plot_->setInteractions(QCP::iRangeDrag | QCP::iRangeZoom);
    plot_->setMinimumHeight(120);
    plot_->setFocusPolicy(Qt::NoFocus);
    plot_->legend->setVisible(true);
    plot_->axisRect()->insetLayout()->setInsetAlignment(0, Qt::AlignRight | Qt::AlignTop);
    setAccessibleName(tr("Curves of the runs"));
    connect(what_, &ChoiceRow::changed, this, [this] {
        keep_view_ = false;
        draw();
    });
    connect(over_, &ChoiceRow::changed, this, [this] {
        keep_view_ = false;
        draw();
    });
    connect(plot_, &QCustomPlot::mouseMove, this, [this](QMouseEvent* event) { read_at(event->position()); });
    connect(plot_, &QCustomPlot::mouseWheel, this, [this] { keep_view_ = true; });
    connect(plot_, &QCustomPlot::mousePress, this, [this] { keep_view_ = true; });
    connect(plot_, &QCustomPlot::mouseDoubleClick, this, [this] {
        keep_view_ = false;
        draw();
    });
    plot_->setMouseTracking(true);
    connect(&Theme::instance(), &Theme::changed, this, [this] { draw(); });
    dress();
}

bool RunPlot::over_amount() const {
    return over_->chosen() == 1;
}

void RunPlot::show_over_amount(bool amount) {
    over_->choose(amount ? 1 : 0);
    keep_view_ = false;
    draw();
}

void RunPlot::dress() {
    const Colours& c = colours();
    plot_->setBackground(QBrush(c.surface));
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
        axis->setBasePen(QPen(c.ink, 1));
        axis->setTickPen(QPen(c.ink, 1));
        axis->setSubTickPen(QPen(c.hairline, 1));
        axis->setTickLabelColor(c.muted);
        axis->setLabelColor(c.muted);
        axis->setTickLabelFont(type(12));
        axis->setLabelFont(type(12));
        axis->grid()->setPen(QPen(c.hairline, 1));
    }
    plot_->legend->setBrush(Qt::NoBrush);
    plot_->legend->setBorderPen(Qt::NoPen);
    plot_->legend->setTextColor(c.muted);
    plot_->legend->setFont(type(12));
}

void RunPlot::set(std::vector<RunCurve> curves, double cutoff_v, CurveBand band) {
    curves_ = std::move(curves);
    cutoff_v_ = cutoff_v;
    band_ = std::move(band);
    draw();
}

void RunPlot::draw() {
    dress();
    const QCPRange x = plot_->xAxis->range();
    const QCPRange y = plot_->yAxis->range();
    plot_->clearGraphs();
    plot_->clearItems();
    const Colours& c = colours();
    const bool amount = over_amount();
    const int what = amount ? 0 : what_->chosen();
    what_->setEnabled(!amount);
    plot_->xAxis->setLabel(amount ? tr("Ah taken out") : tr("hours"));
    const QString units[] = {tr("V"), tr("A"), QStringLiteral("\u00B0C"), tr("Ah")};
    unit_->setText(units[what]);
    if (band_shown()) {
        QCPGraph* high = plot_->addGraph();
        QCPGraph* low = plot_->addGraph();
        for (std::size_t i = 0; i < band_.amount_ah.size(); ++i) {
            high->addData(band_.amount_ah[i], band_.high_v[i]);
            low->addData(band_.amount_ah[i], band_.low_v[i]);
        }
        high->setPen(Qt::NoPen);
        low->setPen(Qt::NoPen);
        high->setBrush(c.steel_ground);
        high->setChannelFillGraph(low);
        high->setName(band_.name);
        low->removeFromLegend();
    }
    const QColor inks[] = {c.steel, c.brass, c.moss, c.plum, c.ink};
    int n = 0;
    for (const RunCurve& curve : curves_) {
        std::vector<double> xs;
        std::vector<double> ys;
        if (amount) {
            DischargeCurve discharge = discharge_curve(curve.samples);
            xs = std::move(discharge.amount_ah);
            ys = std::move(discharge.volts);
        } else {
            const auto amounts = what == 3 ? amounts_of(curve.samples) : std::vector<double>();
            const auto& values = what == 0   ? curve.samples.voltage_v
                                 : what == 1 ? curve.samples.current_a
                                 : what == 2 ? curve.samples.temperature_c
                                             : amounts;
            for (std::size_t i = 0; i < values.size(); ++i) {
                xs.push_back(curve.samples.time_s[i] / seconds_per_hour);
                ys.push_back(values[i]);
            }
        }
        QCPGraph* graph = plot_->addGraph();
        QVector<QCPGraphData> drawn;
        const std::size_t every = std::max<std::size_t>(1, xs.size() / most_points);
        for (std::size_t i = 0; i < xs.size(); i += every)
            drawn.append({xs[i], ys[i]});
        graph->data()->set(drawn, true);
        QPen pen(inks[n % 5], curve.faint ? 1.2 : 2);
        if (n > 0)
            pen.setStyle(n % 2 == 1 ? Qt::DashLine : Qt::DotLine);
        graph->setPen(pen);
        graph->setName(curve.name);
        ++n;
    }
    if (cutoff_v_ > 0 && what == 0) {
        auto* line = new QCPItemStraightLine(plot_);
        line->point1->setCoords(0, cutoff_v_);
        line->point2->setCoords(1, cutoff_v_);
        line->setPen(QPen(c.plum, 1.5));
        auto* label = new QCPItemText(plot_);
        label->position->setType(QCPItemPosition::ptPlotCoords);
        label->setPositionAlignment(Qt::AlignLeft | Qt::AlignBottom);
        label->setText(tr("cutoff %1").arg(figures::volts(cutoff_v_)));
        label->setFont(type(12));
        label->setColor(c.plum);
        label->position->setCoords(0, cutoff_v_);
    }
    if (keep_view_) {
        plot_->xAxis->setRange(x);
        plot_->yAxis->setRange(y);
    } else {
        plot_->rescaleAxes();
        if (cutoff_v_ > 0 && what == 0)
            plot_->yAxis->setRangeLower(std::min(plot_->yAxis->range().lower, cutoff_v_));
        plot_->yAxis->scaleRange(1.08);
        plot_->xAxis->setRangeLower(0);
    }
    plot_->replot();
}

void RunPlot::read_at(const QPointF& at) {
    const double x = plot_->xAxis->pixelToCoord(at.x());
    QStringList parts;
    for (int g = 0; g < plot_->graphCount(); ++g) {
        QCPGraph* graph = plot_->graph(g);
        if (graph->pen() == Qt::NoPen || graph->data()->isEmpty())
            continue;
        const auto next = graph->data()->findBegin(x);
        if (next != graph->data()->constEnd())
            parts << QStringLiteral("%1 %2").arg(graph->name(), figures::plain(next->value, 3));
    }
    reading_->setText(
        tr("at %1 %2: %3")
            .arg(figures::plain(x, 2), over_amount() ? tr("Ah") : tr("h"), parts.join(QStringLiteral(", "))));
}

QString RunPlot::read_off() const {
    return reading_->text();
}

bool RunPlot::save_picture(const QString& path) {
    constexpr int width = 1200;
    constexpr int height = 700;
    if (QFileInfo(path).suffix().compare(QStringLiteral("svg"), Qt::CaseInsensitive) != 0)
        return plot_->savePng(path, width, height);
    QSvgGenerator svg;
    svg.setFileName(path);
    svg.setSize({width, height});
    svg.setViewBox(QRect(0, 0, width, height));
    QCPPainter painter;
    if (!painter.begin(&svg))
        return false;
    painter.setMode(QCPPainter::pmVectorized);
    painter.setMode(QCPPainter::pmNoCaching);
    plot_->toPainter(&painter, width, height);
    return painter.end();
}

} // namespace ingot::app
