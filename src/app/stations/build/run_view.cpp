#include "app/stations/build/run_view.h"

#include "app/parts/panel.h"
#include "app/parts/run_compare.h"
#include "app/parts/run_curves.h"
#include "app/theme/theme.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QLabel>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

QString variant_name(const VariantRun& variant) {
    return variant.label.empty() ? wording::run_variant(variant.variant) : QString::fromStdString(variant.label);
}

} // namespace

RunView::RunView(Workshop& workshop, QWidget* parent) : BuildView(workshop, parent) {
    using F = DesignFigure;
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* load = new Panel({}, this);
    boxes_ = new DesignBoxes(tr("Load"),
                             {F::load_w, F::continuous_a, F::run_s, F::off_v, F::charger_a, F::balance_a, F::standby_a,
                              F::fuse_a, F::wire_mm2},
                             load);
    boxes_->setObjectName(QStringLiteral("run_boxes"));
    load->body()->addWidget(boxes_);
    outer->addWidget(load);
    auto* volts = new Panel(tr("Volts in use"), this);
    const auto side = [&](const char* name, const QString& said) {
        auto* box = new QComboBox(volts);
        box->setObjectName(QLatin1String(name));
        box->setAccessibleName(said);
        box->setToolTip(said);
        connect(box, &QComboBox::activated, this, &RunView::show_pair);
        volts->head()->addWidget(box);
        return box;
    };
    left_ = side("run_left", tr("Design on the left"));
    volts->head()->addWidget(caption(tr("beside"), volts));
    right_ = side("run_right", tr("Design on the right"));
    words_ = sentence({}, volts);
    words_->setObjectName(QStringLiteral("run_words"));
    volts->body()->addWidget(words_);
    curves_ = new RunCurves(volts);
    volts->body()->addWidget(curves_, 1);
    outer->addWidget(volts, 1);
    beside_panel_ = new Panel({}, this);
    compare_ = new RunCompare(beside_panel_);
    beside_panel_->body()->addWidget(compare_);
    outer->addWidget(beside_panel_);
    connect(boxes_, &FigureBoxes::chosen, this, &BuildView::hint_changed);
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
    beside_panel_->setVisible(any);
    words_->setVisible(!any);
    words_->setText(build() == 0             ? tr("Match a set and reserve it; here it runs before it is joined.")
                    : run_.objection.empty() ? tr("Running …")
                                             : wording::sentence(run_.objection));
    curves_->set(run_, question_.design.number(DesignFigure::run_s), question_.design.number(DesignFigure::off_v));
    for (QComboBox* side : {left_, right_}) {
        const QString before = side->currentText();
        side->clear();
        for (const VariantRun& variant : run_.variants)
            side->addItem(variant_name(variant));
        const int same = side->findText(before);
        side->setCurrentIndex(same >= 0 ? same : side == left_ ? 0 : std::min(1, side->count() - 1));
        side->setVisible(any);
    }
    show_pair();
}

void RunView::show_pair() {
    const int left = std::max(0, left_->currentIndex());
    const int right = std::max(0, right_->currentIndex());
    curves_->choose(left, right);
    compare_->set(run_, question_, left, right);
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
    content.verdict = !wanted                          ? tr("Runs %1").arg(wording::run_time(base.run.run_time_s))
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
                                .arg(wording::run_time(base.run.run_time_s),
                                     wording::run_time(base.run.run_time_s * *run_.uncertain_share),
                                     figures::plain(base.run.usable_wh, 0))
                          : tr("<b>%1</b>, %2 Wh. How sure the capacities are is not known.")
                                .arg(wording::run_time(base.run.run_time_s), figures::plain(base.run.usable_wh, 0)));
    if (wanted)
        content.notes << tr("Wanted: %1.").arg(wording::run_time(*wanted));
    content.notes << tr("Group %1 ends it; up to %2 stay in another.")
                         .arg(base.run.ended_by + 1)
                         .arg(figures::pack_capacity(most_left_ah(base.run)));
    const PackRun::Cell& most = hardest_unit(base.run);
    content.notes << (question_.continuous_rating_a > 0
                          ? tr("Most in one unit: %1, %2 on average; its model may give %3.")
                                .arg(figures::amperes(most.peak_a), figures::amperes(most.mean_a),
                                     figures::amperes(question_.continuous_rating_a))
                          : tr("Most in one unit: %1, %2 on average.")
                                .arg(figures::amperes(most.peak_a), figures::amperes(most.mean_a)));
    if (base.device_off_s)
        content.notes << tr("The device itself goes off after %1, before any group is empty.")
                             .arg(wording::run_time(*base.device_off_s));
    content.notes << (base.joints_known ? tr("Strips and leads: %1.").arg(figures::milliohms(base.joints_ohm))
                                        : tr("Strips are not counted: the layout does not know them yet."));
    content.notes << wording::warmth(base);
    content.notes << wording::first_charge(base, question_).join(QLatin1Char(' '))
                  << wording::on_the_shelf(base, question_, run_.shelf_soc).join(QLatin1Char(' '));
    for (const VariantRun& variant : run_.variants) {
        const double more = variant.run.run_time_s - base.run.run_time_s;
        if (variant.variant != RunVariant::as_built)
            content.notes << tr("%1: %2%3.")
                                 .arg(variant_name(variant), more < 0 ? QString(QChar(0x2212)) : QStringLiteral("+"),
                                      wording::run_time(std::fabs(more)));
    }
    content.notes << tr("What warmth and age do to the cells is not in it.");
    if (question_.continuous_rating_a > 0 && most.mean_a > question_.continuous_rating_a) {
        content.hazard_title = tr("More than a unit may give");
        content.hazard_line = tr("More units in each group, or a smaller load.");
    }
    return content;
}

} // namespace ingot::app
