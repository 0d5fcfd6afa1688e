#include "app/stations/page.h"

#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QCoreApplication>

namespace ingot::app {

Page::Page(Workshop& workshop, QWidget* parent) : QWidget(parent), workshop_(workshop) {}

QAction* Page::add_command(const QString& text, const QKeySequence& keys, const QString& tip,
                           const std::function<void()>& run) {
    auto* action = new QAction(text, this);
    action->setShortcut(keys);
    action->setToolTip(tip);
    connect(action, &QAction::triggered, this, [run] { run(); });
    commands_.append(action);
    return action;
}

QAction* Page::add_way_back() {
    return add_command(tr("Bac&k"), QKeySequence(tr("Esc")), tr("Where this page was entered from"),
                       [this] { emit left(); });
}

bool Page::do_step(const QString& text, const Act& forward, const Act& back) {
    if (!fine(forward()))
        return false;
    keep_step(text, forward, back);
    return true;
}

void Page::keep_step(const QString& text, const Act& forward, const Act& back) {
    emit undo_pushed(new StepCommand(text, forward, back, [this](const Problem& problem) {
        emit told(QString::fromStdString(problem.text()), true);
    }));
}

bool Page::send_pack(Id pack, AssemblyState state, const QString& text, const std::string& reason) {
    const Assembly* record = workshop_.pack(pack);
    const auto to = [this, pack, reason](AssemblyState where) {
        return [this, pack, where, reason] { return workshop_.receive().set_state(pack, where, reason); };
    };
    if (record == nullptr || !may_follow(state, record->state))
        return fine(to(state)());
    return do_step(text.arg(QString::fromStdString(record->label)), to(state), to(record->state));
}

EvidenceContent unit_evidence(const Workshop& workshop, Id id) {
    const auto tr = [](const char* text) { return QCoreApplication::translate("stations", text); };
    EvidenceContent content;
    const UnitState* unit = workshop.unit(id);
    if (unit == nullptr)
        return content;
    const UnitModel* model = workshop.library().model(unit->record.model);
    content.subject =
        QStringLiteral("%1 · %2").arg(QString::fromStdString(unit->code()),
                                      QString::fromStdString(model != nullptr ? model->name : unit->record.model));
    content.mark = unit->verdict.duty;
    content.verdict = wording::duty(unit->verdict.duty);
    content.line = wording::duty_meaning(unit->verdict.duty);
    if (unit->verdict.overruled_from)
        content.line = tr("overruled; the rules say %1").arg(wording::duty(*unit->verdict.overruled_from));
    content.reasons = unit->verdict.evidence;
    content.unit = id;
    content.decided_by = QString::fromStdString(workshop.sort().rules().name) +
                         QStringLiteral(", v%1").arg(workshop.sort().rules().version);
    if (const Assembly* pack = workshop.pack(unit->record.pack))
        content.notes << tr("From %1, group %2, place %3.")
                             .arg(QString::fromStdString(pack->label))
                             .arg(unit->record.group)
                             .arg(unit->record.place);
    if (!unit->record.tray.empty())
        content.notes
            << tr("Home: tray %1, well %2.").arg(QString::fromStdString(unit->record.tray)).arg(unit->record.well);
    for (const std::string& code : unit->findings)
        if (const exchange::LookFinding* finding = workshop.library().finding(code))
            content.notes << QStringLiteral("%1: %2").arg(QString::fromStdString(finding->name),
                                                          QString::fromStdString(finding->consequence_text));
    if (unit->record.whereabouts == Whereabouts::reserved)
        content.notes << tr("Reserved for a build.");
    if (unit->quarantined)
        content.caution = "quarantine";
    return content;
}

} // namespace ingot::app
