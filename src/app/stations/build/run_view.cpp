#include "app/stations/build/run_view.h"

#include "app/parts/panel.h"
#include "app/parts/run_curves.h"
#include "app/theme/theme.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

QString duration(double seconds) {
    const int minutes = static_cast<int>(std::lround(seconds / 60));
    return minutes < 60 ? RunView::tr("%1 min").arg(minutes)
                        : RunView::tr("%1 h %2 min").arg(minutes / 60).arg(minutes % 60, 2, 10, QLatin1Char('0'));
}

double most_left_ah(const PackRun& run) {
    double most = 0;
    for (const PackRun::Group& group : run.groups)
        most = std::max(most, group.left_ah);
    return most;
}

const PackRun::Cell& hardest(const PackRun& run) {
    const PackRun::Cell* found = &run.cells.front().front();
    for (const auto& group : run.cells)
        for (const PackRun::Cell& cell : group)
            if (cell.peak_a > found->peak_a)
                found = &cell;
    return *found;
}

} // namespace

RunView::RunView(Workshop& workshop, QWidget* parent) : BuildView(workshop, parent) {
    using F = DesignFigure;
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* load = new Panel(tr("Load"), this);
    boxes_ = new DesignBoxes(tr("Load"),
                             {F::load_w, F::continuous_a, F::run_s, F::off_v, F::charger_a, F::balance_a, F::standby_a,
                              F::fuse_a, F::wire_mm2},
                             load);
    boxes_->setObjectName(QStringLiteral("run_boxes"));
    load->body()->addWidget(boxes_);
    outer->addWidget(load);
    auto* volts = new Panel(tr("Volts in use"), this);
    words_ = sentence({}, volts);
    words_->setObjectName(QStringLiteral("run_words"));
    volts->body()->addWidget(words_);
    curves_ = new RunCurves(volts);
    volts->body()->addWidget(curves_, 1);
    outer->addWidget(volts, 1);
    auto* beside = new Panel(tr("What would change it"), this);
    table_ = new QTableWidget(0, 6, beside);
    table_->setObjectName(QStringLiteral("run_variants"));
    table_->setAccessibleName(tr("Variants of the build"));
    table_->setHorizontalHeaderLabels(
        {tr("design"), tr("runs"), tr("Wh"), tr("ends first"), tr("stays in another"), tr("most in one unit")});
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(scaled(27));
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setTabKeyNavigation(false);
    table_->setShowGrid(false);
    constexpr int rows = 5;
    table_->setFixedHeight(scaled(36) + rows * scaled(27));
    beside->body()->addWidget(table_);
    outer->addWidget(beside);
    connect(boxes_, &FigureBoxes::chosen, this, &BuildView::hint_changed);
    connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) {
        if (row >= 0)
            curves_->choose(row);
    });
}

void RunView::refresh() {
    question_ = workshop().build().question(build());
    boxes_->show_design(question_.design);
    if (run_.build != build())
        run_ = {};
    show_run();
}

void RunView::set_beside(Id build) {
    beside_ = build;
}

std::optional<double> RunView::run_time_s() const {
    return run_.variants.empty() ? std::nullopt : std::optional(run_.variants.front().run.run_time_s);
}

void RunView::take_run(const BuildRun& run) {
    run_ = run;
    show_run();
    emit evidence_changed();
}

void RunView::show_run() {
    const bool any = !run_.variants.empty();
    curves_->setVisible(any);
    table_->parentWidget()->setVisible(any);
    words_->setVisible(!any);
    words_->setText(build() == 0             ? tr("Match a set and reserve it; here it runs before it is joined.")
                    : run_.objection.empty() ? tr("Running …")
                                             : wording::sentence(run_.objection));
    curves_->set(run_, question_.design.number(DesignFigure::run_s), question_.design.number(DesignFigure::off_v));
    const int before = std::max(0, table_->currentRow());
    table_->setRowCount(static_cast<int>(run_.variants.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const VariantRun& variant = run_.variants[static_cast<std::size_t>(row)];
        const PackRun& base = run_.variants.front().run;
        const auto cell = [&](int column, const QString& text) {
            auto* item = new QTableWidgetItem(text);
            if (column > 0)
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            table_->setItem(row, column, item);
        };
        const double more = variant.run.run_time_s - base.run_time_s;
        cell(0, variant.label.empty() ? wording::run_variant(variant.variant) : QString::fromStdString(variant.label));
        cell(1, row == 0
                    ? duration(variant.run.run_time_s)
                    : tr("%1 (%2%3)")
                          .arg(duration(variant.run.run_time_s),
                               more < 0 ? QString(QChar(0x2212)) : QStringLiteral("+"), duration(std::fabs(more))));
        cell(2, figures::plain(variant.run.usable_wh, 0));
        cell(3, tr("group %1").arg(variant.run.ended_by + 1));
        cell(4, figures::pack_capacity(most_left_ah(variant.run)));
        cell(5, figures::amperes(hardest(variant.run).peak_a));
    }
    if (any)
        table_->setCurrentCell(std::min(before, table_->rowCount() - 1), 0);
}

bool RunView::take_line(const QString& line) {
    return type_figure(*boxes_, line);
}

void RunView::echo(const QString& typed) {
    if (boxes_->figure())
        boxes_->set_active(boxes_->active(), typed);
}

QString RunView::scan_hint() const {
    const auto figure = boxes_->figure();
    if (!figure || build() == 0)
        return tr("choose a box, then type");
    return tr("number: %1, %2").arg(wording::design_figure(*figure), wording::design_unit(*figure));
}

EvidenceContent RunView::evidence() const {
    EvidenceContent content;
    if (build() == 0)
        return content;
    content.subject = label();
    if (run_.variants.empty())
        return content;
    const VariantRun& base = run_.variants.front();
    const auto wanted = question_.design.number(DesignFigure::run_s);
    content.verdict = !wanted                          ? tr("Runs %1").arg(duration(base.run.run_time_s))
                      : base.run.run_time_s >= *wanted ? tr("Runs long enough")
                                                       : tr("Too short");
    content.line =
        run_.profile ? tr("A load that changes, %1 on average, from full to the first group at %2")
                           .arg(run_.power ? tr("%1 W").arg(figures::plain(run_.load, 0)) : figures::amperes(run_.load),
                                figures::volts(run_.until_v, 2))
        : run_.power ? tr("%1 W from full to the first group at %2")
                           .arg(figures::plain(run_.load, 0), figures::volts(run_.until_v, 2))
                     : tr("%1 from full to the first group at %2")
                           .arg(figures::amperes(run_.load), figures::volts(run_.until_v, 2));
    content.notes << (run_.uncertain_share
                          ? tr("<b>%1 ± %2</b> from what the capacities were measured with, %3 Wh.")
                                .arg(duration(base.run.run_time_s),
                                     duration(base.run.run_time_s * *run_.uncertain_share),
                                     figures::plain(base.run.usable_wh, 0))
                          : tr("<b>%1</b>, %2 Wh. How sure the capacities are is not known.")
                                .arg(duration(base.run.run_time_s), figures::plain(base.run.usable_wh, 0)));
    if (wanted)
        content.notes << tr("Wanted: %1.").arg(duration(*wanted));
    content.notes << tr("Group %1 ends it; up to %2 stay in another.")
                         .arg(base.run.ended_by + 1)
                         .arg(figures::pack_capacity(most_left_ah(base.run)));
    const PackRun::Cell& most = hardest(base.run);
    content.notes << (question_.continuous_rating_a > 0
                          ? tr("Most in one unit: %1, %2 on average; its model may give %3.")
                                .arg(figures::amperes(most.peak_a), figures::amperes(most.mean_a),
                                     figures::amperes(question_.continuous_rating_a))
                          : tr("Most in one unit: %1, %2 on average.")
                                .arg(figures::amperes(most.peak_a), figures::amperes(most.mean_a)));
    if (base.device_off_s)
        content.notes
            << tr("The device itself goes off after %1, before any group is empty.").arg(duration(*base.device_off_s));
    content.notes << (run_.joints_known ? tr("Strips and leads: %1.").arg(figures::milliohms(run_.joints_ohm))
                                        : tr("Strips are not counted: the layout does not know them yet."));
    content.notes << tr("Temperature and ageing are not in it.");
    content.notes << wording::first_charge(run_, question_).join(QLatin1Char(' '))
                  << wording::on_the_shelf(run_, question_).join(QLatin1Char(' '));
    if (question_.continuous_rating_a > 0 && most.mean_a > question_.continuous_rating_a) {
        content.hazard_title = tr("More than a unit may give");
        content.hazard_line = tr("More units in each group, or a smaller load.");
    }
    return content;
}

} // namespace ingot::app
