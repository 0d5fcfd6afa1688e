// Simulate's commands: the load that changes, another build beside, the circuit for other programs.
#include "app/parts/questions.h"
#include "app/parts/record_combo.h"
#include "app/stations/build/build_station.h"
#include "app/stations/build/run_view.h"
#include "exchange/pack_design_json.h"
#include "exchange/text_file.h"
#include "workshop/wording.h"

#include <QDir>
#include <QFileDialog>

namespace ingot::app {

std::string BuildStation::builds_label(Id build) const {
    const Assembly* record = workshop().build_of(build);
    return record == nullptr ? std::string() : record->label;
}

void BuildStation::add_run_commands() {
    profile_ = add_command(tr("Load profile…"), {}, tr("A load that changes: one that ships with Ingot, or a file"),
                           [this] { ask_profile(); });
    steady_ = add_command(tr("Steady load again"), {},
                          tr("The profile is put away; the watts or amperes of the design count"),
                          [this] { fine(workshop().build().set_figure(build_, DesignFigure::load_profile, "")); });
    beside_ = add_command(tr("Beside another build…"), {},
                          tr("The same load on another build, in figures and in shape"), [this] { ask_beside(); });
    spice_ = add_command(tr("Circuit for SPICE…"), {}, tr("The pack under this load as a netlist"),
                         [this] { save_spice(); });
}

void BuildStation::ask_profile() {
    const QDir shipped(QString::fromStdString(Workshop::shipped_folder("data")) + QStringLiteral("/loads"));
    QStringList paths;
    QStringList names;
    for (const QFileInfo& file : shipped.entryInfoList({QStringLiteral("*.csv")}, QDir::Files, QDir::Name)) {
        paths << file.absoluteFilePath();
        names << file.completeBaseName().replace(QLatin1Char('-'), QLatin1Char(' '));
    }
    names << tr("from a file…");
    const auto chosen =
        ask_choice(this, tr("Load profile"), tr("Which load does the pack carry, round after round?"), names);
    if (!chosen)
        return;
    const QString path = *chosen < paths.size()
                             ? paths[*chosen]
                             : QFileDialog::getOpenFileName(this, tr("Load profile"), {}, tr("CSV (*.csv)"));
    if (path.isEmpty())
        return;
    const auto text = exchange::read_text(path.toStdString());
    if (!fine(text))
        return;
    if (const auto load = exchange::read_pack_load(text.value(), path.toStdString()); fine(load))
        fine(workshop().build().set_figure(build_, DesignFigure::load_profile, text.value()));
}

void BuildStation::ask_beside() {
    QStringList labels{tr("none")};
    std::vector<Id> ids{0};
    for (const Assembly& build : workshop().builds())
        if (build.id != build_ && !workshop().inventory().wants_units(build)) {
            labels << QString::fromStdString(build.label);
            ids.push_back(build.id);
        }
    if (ids.size() == 1) {
        emit told(tr("There is no other build with units."), true);
        return;
    }
    if (const auto chosen =
            ask_choice(this, tr("Beside another build"), tr("Which build carries the same load?"), labels, 1)) {
        const Id other = ids[static_cast<std::size_t>(*chosen)];
        const BuildQuestion question = workshop().build().question(other);
        if (other != 0 && (!question.without_capacity.empty() || !question.without_resistance.empty())) {
            emit told(tr("%1 cannot be run beside it: units of it have no capacity or no resistance. Measure them at "
                         "Test.")
                          .arg(labels[*chosen]),
                      true);
            return;
        }
        run_view_->set_beside(other);
        run_stale_ = true;
        work();
    }
}

void BuildStation::save_spice() {
    const auto run_time_s = run_view_->run_time_s();
    if (!run_time_s) {
        emit told(tr("It does not run yet: what is missing stands here."), true);
        return;
    }
    const auto netlist = spice_of_build(workshop().build().question(build_), run_view_->joints_ohm(), *run_time_s);
    if (!fine(netlist))
        return;
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Circuit for SPICE"), builds_->currentText() + QStringLiteral(".cir"), tr("SPICE netlists (*.cir)"));
    if (!path.isEmpty() && fine(exchange::write_text(path.toStdString(), netlist.value())))
        emit told(tr("Circuit written to %1.").arg(path), false);
}

} // namespace ingot::app
