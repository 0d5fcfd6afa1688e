#include "app/stations/page.h"

#include "app/parts/cause_form.h"
#include "app/parts/pack_forms.h"
#include "app/parts/questions.h"
#include "app/print/label_sheet.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/meter.h"
#include "workshop/triage_wording.h"
#include "workshop/wording.h"

#include <QCoreApplication>
#include <QFileDialog>
#include <QLocale>

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

void Page::take_reading(const bench::MeterReading& reading, Quantity quantity, const std::string& instrument) {
    Q_UNUSED(quantity);
    Q_UNUSED(instrument);
    take_line(QString::fromStdString(reading.shown));
    emit hint_changed();
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
    emit undo_pushed(new StepCommand(text, forward, back,
                                     [this](const Problem& problem) { emit told(wording::problem(problem), true); }));
}

void Page::add_particulars(EvidenceContent& content, Id pack) const {
    for (const auto& [kind, value] : workshop_.receive().particulars(pack))
        if (kind == ParticularKind::parts_found)
            for (const auto& [part, words] : read_found_parts(value))
                content.notes << tr("Found in it, %1: %2")
                                     .arg(wording::found_part(part).toLower(), QString::fromStdString(words));
        else if (kind != ParticularKind::true_cause && kind != ParticularKind::hours)
            content.notes << tr("%1: %2").arg(wording::particular(kind), QString::fromStdString(value));
    if (const auto outcome = workshop_.triage().outcome(pack))
        content.notes << tr("Turned out to be: %1.").arg(wording::faults(outcome->causes));
    else if (const auto causes = workshop_.triage().causes_by_units(pack); !causes.empty())
        content.notes << tr("As its units read: %1. Record what it turned out to be (Work).")
                             .arg(wording::faults(causes).toLower());
}

void Page::add_causes_by_units(EvidenceContent& content, Id id) const {
    const UnitState* unit = workshop_.unit(id);
    if (unit == nullptr || workshop_.triage().outcome(unit->record.pack))
        return;
    if (const auto causes = workshop_.triage().causes_by_units(unit->record.pack); !causes.empty())
        content.notes << tr("Its pack, as its units read: %1. Record what it turned out to be (Work).")
                             .arg(wording::faults(causes).toLower());
}

void Page::ask_pack_particulars(Id pack) {
    if (workshop_.pack(pack) == nullptr) {
        emit told(tr("Choose a pack first."), true);
        return;
    }
    if (const auto answer = ask_particulars(this, workshop_.receive().particulars(pack)))
        fine(workshop_.receive().note_particulars(pack, 0, *answer));
}

void Page::ask_break_set(Id assembly) {
    const Assembly* set = workshop_.pack(assembly);
    const auto known = workshop_.receive().particulars(assembly);
    const auto matched = known.find(ParticularKind::matched_set);
    if (set == nullptr || matched == known.end()) {
        emit told(tr("That is no matched set."), true);
        return;
    }
    const QString label = QString::fromStdString(set->label);
    const auto reason = ask_reason(this, tr("Break the matched set"),
                                   tr("Why are the units of %1 used one by one from now on?").arg(label));
    if (reason)
        do_step(
            tr("break %1").arg(label),
            [this, assembly, why = reason->toStdString()] { return workshop_.receive().break_set(assembly, why); },
            [this, assembly, by = matched->second] { return workshop_.receive().keep_as_set(assembly, by); });
}

void Page::ask_true_cause(Id pack) {
    if (workshop_.pack(pack) == nullptr) {
        emit told(tr("Choose a pack first."), true);
        return;
    }
    if (recalling_ == nullptr) {
        recalling_ = new Job(this);
        recalling_->setObjectName(QStringLiteral("explaining"));
    }
    workshop_.triage().explain_as_it_came(*recalling_, pack, [this, pack](const Explained& said) {
        const Assembly* record = workshop_.pack(pack);
        const auto causes = record != nullptr ? ask_causes(this, workshop_, *record, said) : std::nullopt;
        if (!causes || !fine(workshop_.triage().record_outcome(pack, *causes, said)))
            return;
        const Reliability shop = reliability(workshop_.triage().outcomes());
        emit told(tr("Recorded. Right first in %1 of %n packs, where %2 was claimed.", nullptr, shop.packs)
                      .arg(shop.right)
                      .arg(QLocale().toString(shop.stated, 'f', 1)),
                  false);
    });
}

void Page::print_pack_label(Id pack) {
    const Assembly* record = workshop_.assembly(pack);
    if (record == nullptr) {
        emit told(tr("Choose a pack first."), true);
        return;
    }
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Pack label"), QStringLiteral("pack-label.pdf"), tr("PDF (*.pdf)"));
    if (path.isEmpty())
        return;
    const LabelChoice choice = chosen_labels();
    const Chemistry* chemistry = workshop_.library().chemistry(record->chemistry);
    const Label label{QString::fromStdString(record->label),
                      QStringLiteral("%1S%2P").arg(record->layout.series).arg(record->layout.parallel),
                      chemistry != nullptr ? QString::fromStdString(chemistry->name) : QString()};
    // A pack's label holds more than a unit's: always a QR code.
    if (write_label_sheet(path, {label}, label_sheets()[static_cast<std::size_t>(choice.sheet)], LabelCode::qr))
        emit told(tr("Label written to %1.").arg(path), false);
    else
        emit told(tr("%1 could not be written. Choose another place.").arg(path), true);
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

void Page::bring_in_readings(Id pack) {
    if (pack == 0)
        return;
    const QString path = QFileDialog::getOpenFileName(this, tr("Readings of this pack"), {},
                                                      tr("Readings (*.csv *.txt);;All files (*)"));
    if (path.isEmpty())
        return;
    const auto text = exchange::read_text(path.toStdString());
    if (!fine(text))
        return;
    const auto read = workshop().triage().import_group_readings(pack, text.value(), path.toStdString());
    if (fine(read))
        emit told(tr("%n readings brought in.", nullptr, read.value()), false);
}

EvidenceContent unit_evidence(const Workshop& workshop, Id id) {
    const auto tr = [](const char* text) { return QCoreApplication::translate("ingot::app", text); };
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
    if (const Assembly* set = workshop.pack(workshop.inventory().set_of(*unit)))
        content.notes << tr("Of the matched set %1: used whole, until somebody breaks it.")
                             .arg(QString::fromStdString(set->label));
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
    for (const auto& [kind, value] : workshop.receive().particulars(0, id))
        content.notes << tr("%1: %2").arg(wording::particular(kind), QString::fromStdString(value));
    return content;
}

} // namespace ingot::app
