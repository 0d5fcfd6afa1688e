// What leaves Build for the welder: both faces in true size, strips to cut, wiring.
#include "app/parts/record_combo.h"
#include "app/print/drawing_pages.h"
#include "app/stations/build/build_station.h"
#include "app/stations/build/layout_view.h"
#include "exchange/text_file.h"
#include "exchange/weld_map.h"
#include "workshop/build_plan.h"

#include <QFileDialog>

namespace ingot::app {

namespace {

exchange::WeldMap weld_map_of(const BuildQuestion& question, const Layout& layout, const std::string& label) {
    return {layout, label, question.design.number(DesignFigure::case_width_m).value_or(0),
            question.design.number(DesignFigure::case_height_m).value_or(0), question.stock.value_or(StripStock{})};
}

} // namespace

void BuildStation::add_paper_commands() {
    weld_map_ = add_command(tr("Weld map…"), {}, tr("Both faces in true size, as PDF or SVG, to lay under the strips"),
                            [this] { save_weld_map(); });
    cut_list_ = add_command(tr("Cut list…"), {}, tr("The strips to cut, as CSV"), [this] { save_cut_list(); });
    wiring_ = add_command(tr("Wiring…"), {}, tr("Groups, sense leads, fuse and board, as SVG or PDF"),
                          [this] { save_wiring(); });
}

// The plan that is shown; nothing: it was not worked out yet, or there is none, which is said.
const LayoutProposal* BuildStation::plan_on_paper() {
    const BuildPlan& plan = layout_->plan();
    if (plan.build == build_ && plan.now() != nullptr)
        return plan.now();
    emit told(tr("There is no layout yet: open Layout; what is missing stands there."), true);
    return nullptr;
}

void BuildStation::save_weld_map() {
    const LayoutProposal* now = plan_on_paper();
    if (now == nullptr)
        return;
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Weld map"), builds_->currentText() + QStringLiteral("-welds.pdf"),
                                     tr("PDF (*.pdf);;SVG, a file a face (*.svg)"));
    if (!path.isEmpty() && write_weld_map_to(path))
        emit told(tr("Weld map written to %1. Measure its bar of 50 mm before anything is cut.").arg(path), false);
}

bool BuildStation::write_weld_map_to(const QString& path) {
    const LayoutProposal* now = plan_on_paper();
    if (now == nullptr)
        return false;
    const BuildQuestion question = workshop().build().question(build_);
    const exchange::WeldMap map = weld_map_of(question, now->layout, builds_label(build_));
    const std::string front = exchange::write_weld_map(map, StripDrawing::Face::front);
    const std::string back = exchange::write_weld_map(map, StripDrawing::Face::back);
    if (!path.endsWith(QStringLiteral(".svg"), Qt::CaseInsensitive)) {
        const bool done = write_drawing_pages(path, builds_->currentText(),
                                              {QString::fromStdString(front), QString::fromStdString(back)});
        if (!done)
            emit told(tr("%1 could not be written. Choose another place.").arg(path), true);
        return done;
    }
    const QString stem = path.left(path.size() - 4);
    return fine(exchange::write_text((stem + QStringLiteral("-front.svg")).toStdString(), front)) &&
           fine(exchange::write_text((stem + QStringLiteral("-back.svg")).toStdString(), back));
}

void BuildStation::save_cut_list() {
    const LayoutProposal* now = plan_on_paper();
    if (now == nullptr)
        return;
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Cut list"), builds_->currentText() + QStringLiteral("-strips.csv"), tr("CSV (*.csv)"));
    const BuildQuestion question = workshop().build().question(build_);
    if (!path.isEmpty() &&
        fine(exchange::write_text(path.toStdString(),
                                  exchange::write_cut_list(weld_map_of(question, now->layout, builds_label(build_))))))
        emit told(tr("Cut list written to %1.").arg(path), false);
}

void BuildStation::save_wiring() {
    const Assembly* record = workshop().build_of(build_);
    if (record == nullptr)
        return;
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Wiring"), builds_->currentText() + QStringLiteral("-wiring.svg"), tr("SVG (*.svg);;PDF (*.pdf)"));
    if (path.isEmpty())
        return;
    const std::string drawing = exchange::write_wiring(record->label, record->layout.series, record->layout.parallel,
                                                       workshop().build().design(build_));
    const bool pdf = path.endsWith(QStringLiteral(".pdf"), Qt::CaseInsensitive);
    if (pdf ? write_drawing_pages(path, builds_->currentText(), {QString::fromStdString(drawing)})
            : fine(exchange::write_text(path.toStdString(), drawing)))
        emit told(tr("Wiring written to %1.").arg(path), false);
    else if (pdf)
        emit told(tr("%1 could not be written. Choose another place.").arg(path), true);
}

} // namespace ingot::app
