#include "app/stations/open/open_station.h"

#include "app/parts/model_form.h"
#include "app/parts/pack_forms.h"
#include "app/parts/pack_picture.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/record_combo.h"
#include "app/print/label_sheet.h"
#include "app/print/manifest_sheet.h"
#include "app/theme/theme.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/models/shop_models.h"
#include "workshop/wording.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDate>
#include <QFileDialog>
#include <QFormLayout>
#include <QLineEdit>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace ingot::app {

OpenStation::OpenStation(Workshop& workshop, QWidget* parent) : StationView(workshop, Station::open, parent) {
    add_commands();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    build_pack(outer);
    build_plan(outer);
    build_last(outer);
    connect(packs_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_ && isVisible())
            choose_pack(packs_->chosen());
    });
    connect(roll_, &QLineEdit::textChanged, this, [this] { show_plan(); });
    connect(tray_, &QLineEdit::textChanged, this, [this] { show_plan(); });
}

void OpenStation::add_commands() {
    open_ = add_command(tr("Make its &units"), QKeySequence(tr("Ctrl+Return")),
                        tr("Give every unit of the pack a code, an origin and a home"), [this] { open_pack(); });
    some_ = add_command(tr("Take out only some groups…"), {},
                        tr("Their units get codes; the rest stays a pack under repair"), [this] { ask_groups(); });
    together_ = add_command(tr("Make its groups units…"), {},
                            tr("Each group stays joined, as a welded pair does, and is one unit with one code"),
                            [this] { ask_together(); });
    print_ = add_command(tr("&Print labels…"), QKeySequence(tr("Ctrl+P")),
                         tr("Label sheet of the pack opened last, as PDF"), [this] { print_labels(); });

    add_command(tr("Label &sheet…"), {}, tr("Size of the labels, QR or Code 128"), [this] { choose_label_sheet(); });
    units_ = add_command(tr("Look over its u&nits"), QKeySequence(tr("F6")),
                         tr("Findings by single keys, dead ones straight to recycling"),
                         [this] { emit room_wanted(Room::units, pack_to_label()); });
    trays_ = add_command(tr("&Trays"), QKeySequence(tr("F7")), tr("What stands where; fill a tray by scanning"),
                         [this] { emit room_wanted(Room::trays, 0); });
    strips_ = add_command(tr("Dra&w the strips"), QKeySequence(tr("F8")),
                          tr("Who is joined to whom, and which side slides free"),
                          [this] { emit room_wanted(Room::strips, pack_); });
    photo_ = add_command(tr("Attach a phot&o…"), {}, tr("A picture of the strips, kept in the workshop file"),
                         [this] { attach_photo(); });
    add_command(tr("Parts &found…"), {},
                tr("Board, sensor, fuse, connector, case parts: what is kept of it, and where"),
                [this] { note_found_parts(); });
    add_command(tr("What it turned out to be…"), {},
                tr("The true cause, for the shop's own reliability and its next packs of this kind"),
                [this] { ask_true_cause(pack_to_label()); });
    add_command(tr("New unit mo&del…"), {}, tr("What is printed on the units, with its rating, for the library"),
                [this] { make_model(); });
    add_command(tr("Send &back to Receive"), {}, tr("This pack waits at Receive again"), [this] {
        if (send_pack(pack_, AssemblyState::received, tr("send %1 back to Receive")))
            choose_pack(0);
    });
    manifest_ = add_command(tr("Recycling &manifest…"), {}, tr("What goes to recycling, by chemistry, as PDF and CSV"),
                            [this] { write_manifest(); });
}

void OpenStation::build_pack(QBoxLayout* outer) {
    panel_ = new Panel({}, this);
    packs_ = new RecordCombo(QStringLiteral("open_pack"), panel_);
    packs_->setAccessibleName(tr("Pack"));
    packs_->set_records(new PacksModel(workshop(), packs_), [this](Id id) {
        const Assembly* pack = workshop().pack(id);
        return pack != nullptr && pack->state == AssemblyState::to_open;
    });
    panel_->head()->insertWidget(0, packs_);
    panel_->head()->addWidget(new PressButton(strips_, panel_));
    panel_->head()->addWidget(new PressButton(photo_, panel_));
    panel_->head()->addWidget(new PressButton(trays_, panel_));
    picture_ = new PackPicture(panel_);
    panel_->body()->addWidget(picture_, 1);
    outer->addWidget(panel_, 3);

    steps_panel_ = new Panel(tr("Taking it apart"), this);
    steps_ = new QVBoxLayout;
    steps_->setSpacing(0);
    steps_panel_->body()->addLayout(steps_);
    outer->addWidget(steps_panel_);
}

void OpenStation::build_plan(QBoxLayout* outer) {
    auto* plan = new Panel(tr("Its units"), this);
    auto* form = new QHBoxLayout;
    form->setSpacing(18);
    model_ = new QComboBox(plan);
    model_->setObjectName(QStringLiteral("open_model"));
    model_->setEditable(true);
    model_->setMinimumWidth(200);
    roll_ = new QLineEdit(QStringLiteral("K4"), plan);
    roll_->setObjectName(QStringLiteral("open_roll"));
    roll_->setMaximumWidth(60);
    roll_->setMaxLength(2);
    tray_ = new QLineEdit(plan);
    tray_->setObjectName(QStringLiteral("open_tray"));
    tray_->setMaximumWidth(90);
    for (const auto& [name, input] : {std::pair<QString, QWidget*>{tr("model printed on them"), model_},
                                      {tr("label roll"), roll_},
                                      {tr("tray"), tray_}}) {
        auto* box = new QVBoxLayout;
        box->setSpacing(1);
        box->addWidget(caption(name, plan));
        box->addWidget(input);
        input->setAccessibleName(name);
        form->addLayout(box);
    }
    form->addStretch(1);
    form->addWidget(new PressButton(open_, plan, true), 0, Qt::AlignBottom);
    plan->body()->addLayout(form);
    plan_ = sentence({}, plan);
    plan->body()->addWidget(plan_);
    outer->addWidget(plan);
}

void OpenStation::build_last(QBoxLayout* outer) {
    last_ = new Panel(tr("Opened last"), this);
    last_->head()->addWidget(new PressButton(manifest_, last_));
    last_->head()->addWidget(new PressButton(units_, last_));
    last_->head()->addWidget(new PressButton(print_, last_));
    last_words_ = sentence({}, last_);
    last_words_->setObjectName(QStringLiteral("open_last"));
    last_words_->setFont(type(13));
    last_->body()->addWidget(last_words_);
    outer->addWidget(last_, 1);
}

void OpenStation::refresh() {
    filling_ = true;
    const bool changed = !packs_->lists(pack_);
    packs_->choose(changed ? packs_->first() : pack_);
    packs_->setVisible(packs_->count() > 0);
    filling_ = false;
    if (changed)
        choose_pack(packs_->chosen());
    else
        show_plan();
    const auto units = units_to_label();
    print_->setEnabled(!units.empty());
    units_->setEnabled(!units.empty() && workshop().writable());
    photo_->setEnabled(workshop().pack(pack_) != nullptr && workshop().writable());
    strips_->setEnabled(photo_->isEnabled());
    show_steps();
    if (units.empty()) {
        last_words_->setText(tr("No pack has been opened yet. Its units appear here, with their label sheet."));
    } else {
        const Assembly* pack = workshop().pack(pack_to_label());
        QStringList codes;
        for (const Id id : units)
            codes << QString::fromStdString(workshop().unit(id)->code());
        last_words_->setText(
            tr("%1: %n units, %2 to %3. Print their labels, stick one on each unit, then scan it at Test.", nullptr,
               static_cast<int>(units.size()))
                .arg(QString::fromStdString(pack->label))
                .arg(codes.front(), codes.back()) +
            yield_words());
    }
}

// The teardown plan of the pack, ticked step by step.
void OpenStation::show_steps() {
    const Assembly* pack = workshop().pack(pack_);
    const exchange::TeardownPlan* plan = pack != nullptr ? workshop().open().teardown_plan(*pack) : nullptr;
    steps_panel_->setVisible(plan != nullptr);
    if (plan == nullptr)
        return;
    if (plan->id != shown_plan_) {
        while (QLayoutItem* item = steps_->takeAt(0)) {
            delete item->widget();
            delete item;
        }
        shown_plan_ = plan->id;
        steps_panel_->set_title(tr("Taking it apart: %1").arg(QString::fromStdString(plan->name)));
        for (const exchange::TeardownStep& step : plan->steps) {
            auto* box = new QCheckBox(QString::fromStdString(step.text), steps_panel_);
            box->setObjectName(QStringLiteral("step_") + QString::fromStdString(step.id));
            box->setFont(type(13));
            box->setFocusPolicy(Qt::TabFocus);
            box->setToolTip(QString::fromStdString(step.caution));
            connect(box, &QCheckBox::clicked, this, [this, id = step.id](bool on) {
                const auto tick = [this, pack = pack_, id](bool done) {
                    return [this, pack, id, done] { return workshop().open().tick_step(pack, id, done); };
                };
                do_step(tr("a step of taking apart"), tick(on), tick(!on));
                emit evidence_changed();
            });
            steps_->addWidget(box);
        }
    }
    for (const exchange::TeardownStep& step : plan->steps)
        if (auto* box =
                steps_panel_->findChild<QCheckBox*>(QStringLiteral("step_") + QString::fromStdString(step.id))) {
            box->setChecked(workshop().open().step_done(pack_, step.id));
            box->setEnabled(workshop().writable());
        }
}

// Of the lot that was opened last: how many of its units are fit for use.
QString OpenStation::yield_words() const {
    const Assembly* pack = workshop().pack(pack_to_label());
    if (pack == nullptr)
        return {};
    QString words;
    const auto say = [&](YieldBy by, const std::string& of, const QString& name) {
        for (const Yield& yield : workshop().open().yields(by))
            if (yield.of == of && yield.units > 0)
                words += QLatin1Char(' ') + tr("%1: %2 units, %3 usable, %4 scrap, %5 not judged yet.")
                                                .arg(name)
                                                .arg(yield.units)
                                                .arg(yield.usable)
                                                .arg(yield.scrap)
                                                .arg(yield.undecided);
    };
    for (const auto& lot : workshop().lots())
        if (lot.id == pack->lot) {
            say(YieldBy::lot, lot.label, tr("Lot %1 so far").arg(QString::fromStdString(lot.label)));
            if (!lot.source.empty())
                say(YieldBy::source, lot.source, tr("From %1").arg(QString::fromStdString(lot.source)));
        }
    const UnitState* unit = units_to_label().empty() ? nullptr : workshop().unit(units_to_label().front());
    if (unit != nullptr)
        say(YieldBy::model, unit->record.model, tr("Model %1").arg(QString::fromStdString(unit->record.model)));
    return words;
}

void OpenStation::attach_photo() {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Photo of the pack"), {}, tr("Pictures (*.jpg *.jpeg *.png)"));
    if (path.isEmpty())
        return;
    const auto bytes = exchange::read_text(path.toStdString());
    if (fine(bytes) && fine(workshop().open().attach_photo(pack_, path.toStdString(), bytes.value()))) {
        emit told(tr("Photo kept with the pack."), false);
        emit evidence_changed();
    }
}

bool OpenStation::write_manifest_to(const QString& path) {
    const auto manifest = workshop().open().recycling_manifest();
    const QString csv =
        (path.endsWith(QStringLiteral(".pdf"), Qt::CaseInsensitive) ? path.chopped(4) : path) + QStringLiteral(".csv");
    return write_manifest_sheet(path, manifest, QString::fromStdString(workshop().name()),
                                QDate::currentDate().toString(Qt::ISODate)) &&
           fine(exchange::write_text(csv.toStdString(), OpenService::manifest_csv(manifest)));
}

void OpenStation::write_manifest() {
    if (workshop().open().recycling_manifest().empty()) {
        emit told(tr("Nothing has gone to recycling yet. Look over the units and press D on the dead ones."), true);
        return;
    }
    const QString path = QFileDialog::getSaveFileName(this, tr("Recycling manifest"), QStringLiteral("recycling.pdf"),
                                                      tr("PDF (*.pdf)"));
    if (path.isEmpty())
        return;
    if (write_manifest_to(path))
        emit told(tr("Manifest written to %1, and as CSV beside it.").arg(path), false);
    else
        emit told(tr("%1 could not be written. Choose another place.").arg(path), true);
}

// Of the pack in sight, else of the one that was opened last.
void OpenStation::note_found_parts() {
    const Assembly* pack = workshop().pack(pack_ != 0 ? pack_ : pack_to_label());
    if (pack == nullptr) {
        emit told(tr("Choose a pack first."), true);
        return;
    }
    using Kind = ParticularKind;
    const auto known = workshop().receive().particulars(pack->id);
    const auto before = known.find(Kind::parts_found);
    const std::string line = before == known.end() ? std::string() : before->second;
    const auto answer = ask_found_parts(this, *pack, read_found_parts(line));
    if (!answer)
        return;
    const auto to = [this, id = pack->id](const std::string& words) {
        return [this, id, words] { return workshop().receive().note_particulars(id, 0, {{Kind::parts_found, words}}); };
    };
    do_step(tr("parts found in %1").arg(QString::fromStdString(pack->label)), to(write_found_parts(*answer)), to(line));
}

Id OpenStation::pack_to_label() const {
    if (last_opened_ != 0 || workshop().units().empty())
        return last_opened_;
    return workshop().units().back().record.pack;
}

std::vector<Id> OpenStation::units_to_label() const {
    const Id pack = pack_to_label();
    std::vector<Id> ids;
    for (const UnitState& unit : workshop().units())
        if (pack != 0 && unit.record.pack == pack)
            ids.push_back(unit.record.id);
    return ids;
}

void OpenStation::choose_pack(Id id) {
    pack_ = id;
    const Assembly* pack = workshop().pack(id);
    panel_->set_title(pack == nullptr ? tr("No pack waits to be opened") : QString());
    picture_->setVisible(pack != nullptr);
    model_->clear();
    if (pack != nullptr) {
        for (const auto& [model_id, model] : workshop().library().models)
            if (model.chemistry == pack->chemistry && model.cells_in_series == pack->layout.cells_per_unit)
                model_->addItem(QString::fromStdString(model.name), QString::fromStdString(model_id));
        // What is known to be in it, else what came out of its lot last; nothing that nobody read off a unit (N49).
        std::string print = pack->model;
        for (const UnitState& unit : workshop().units())
            if (const Assembly* from = workshop().pack(unit.record.pack);
                pack->model.empty() && from != nullptr && from->lot == pack->lot && from->format == pack->format &&
                from->chemistry == pack->chemistry)
                print = unit.record.model;
        const int printed = model_->findData(QString::fromStdString(print));
        model_->setCurrentIndex(printed);
        if (printed < 0)
            model_->setEditText(QString::fromStdString(print));
        // The roll that this chemistry used last, else the one that stands there.
        for (const UnitState& unit : workshop().units())
            if (unit.facts.chemistry == pack->chemistry) {
                roll_->setText(QString::fromStdString(unit.record.code.roll));
                if (!unit.record.tray.empty())
                    tray_->setText(QString::fromStdString(unit.record.tray));
            }
    }
    show_plan();
    show_steps();
    emit evidence_changed();
}

void OpenStation::show_plan() {
    const Assembly* pack = workshop().pack(pack_);
    for (QAction* action : {open_, some_, together_})
        action->setEnabled(pack != nullptr && workshop().writable());
    if (pack == nullptr) {
        plan_->setText(tr("Send a pack here from Triage. Each of its units gets a code, remembers its pack, group and "
                          "place, and has a home."));
        return;
    }
    const auto volts = workshop().triage().group_readings(pack_, Condition::rest);
    std::vector<QString> words;
    for (int g = 1; g <= pack->layout.series && !volts.empty(); ++g)
        words.push_back(volts.contains(g) ? figures::plain(volts.at(g), 2) : QStringLiteral("\u2013"));
    picture_->set(pack->layout, words);
    const std::string roll = roll_->text().trimmed().toUpper().toStdString();
    if (!parse_unit_code(UnitCode{roll, 1}.text())) {
        plan_->setText(tr("A label roll is a letter and one more character, such as K4."));
        return;
    }
    const int first = workshop().open().next_number(roll);
    const int count = pack->layout.units();
    plan_->setText(tr("%n units get the codes %1 to %2%3.", nullptr, count)
                       .arg(QString::fromStdString(UnitCode{roll, first}.text()),
                            QString::fromStdString(UnitCode{roll, first + count - 1}.text()),
                            tray_->text().trimmed().isEmpty()
                                ? tr(", without a home yet")
                                : tr(" and the next free wells of tray %1").arg(tray_->text().trimmed())));
}

// Made on the spot, where it is chosen (N3): of the pack's chemistry, with what is typed already.
void OpenStation::make_model() {
    const Assembly* pack = workshop().pack(pack_);
    UnitModel first;
    if (pack != nullptr) {
        first.chemistry = pack->chemistry;
        first.format = pack->format;
        first.cells_in_series = pack->layout.cells_per_unit;
        if (model_->findText(model_->currentText()) < 0)
            first.id = model_->currentText().trimmed().toStdString();
    }
    const auto model = ask_model(this, workshop().library(), first);
    if (!model || !fine(workshop().catalogue().save_model(*model)))
        return;
    choose_pack(pack_);
    model_->setCurrentIndex(model_->findData(QString::fromStdString(model->id)));
}

// A model is of one unit: what is printed on a cell is not what a pair of them holds.
void OpenStation::ask_together() {
    const Assembly* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return;
    if (pack->layout.units_per_group() == 1) {
        emit told(tr("A group of this pack is one unit already."), true);
        return;
    }
    const auto model = ask_line(
        this, tr("Make its groups units"),
        tr("Each group of %1 stays joined and gets one code. What shall these units be called? Not as the single "
           "cells are: a pair holds twice as much.")
            .arg(pack->layout.units_per_group()),
        tr("%1 × %2").arg(model_->currentText().trimmed()).arg(pack->layout.units_per_group()),
        [](const QString& typed) { return typed.trimmed().isEmpty() ? tr("Give a name.") : QString(); });
    if (!model)
        return;
    model_->setCurrentText(model->trimmed());
    open_pack({}, true);
}

void OpenStation::ask_groups() {
    const Assembly* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return;
    const int series = pack->layout.series;
    const auto text = ask_line(
        this, tr("Take out only some groups"),
        tr("Which groups come out, such as 2, 3? The pack stays live around them: cover what is bare, part the "
           "series links first, never bridge two strips."),
        {}, [series](const QString& typed) {
            return figures::typed_groups(typed, series) ? QString()
                                                        : tr("Give groups from 1 to %1, each once.").arg(series);
        });
    if (text)
        open_pack(*figures::typed_groups(*text, series));
}

void OpenStation::open_pack(const std::vector<int>& groups, bool together) {
    const QString model =
        model_->currentIndex() >= 0 && model_->itemText(model_->currentIndex()) == model_->currentText()
            ? model_->currentData().toString()
            : model_->currentText().trimmed();
    const auto made =
        workshop().open().open_pack(pack_, roll_->text().trimmed().toUpper().toStdString(), model.toStdString(),
                                    tray_->text().trimmed().toStdString(), groups, together);
    if (!fine(made))
        return;
    last_opened_ = pack_;
    refresh();
    emit evidence_changed();
}

bool OpenStation::print_labels_to(const QString& path) {
    std::vector<Label> labels;
    for (const Id id : units_to_label()) {
        const UnitState* unit = workshop().unit(id);
        const Assembly* pack = workshop().pack(unit->record.pack);
        labels.push_back({QString::fromStdString(unit->code()),
                          tr("%1, group %2, place %3")
                              .arg(QString::fromStdString(pack->label))
                              .arg(unit->record.group)
                              .arg(unit->record.place),
                          QString::fromStdString(unit->record.model)});
    }
    const LabelChoice choice = chosen_labels();
    return write_label_sheet(path, labels, label_sheets()[static_cast<std::size_t>(choice.sheet)], choice.kind);
}

void OpenStation::choose_label_sheet() {
    QStringList sizes;
    for (const LabelSheet& sheet : label_sheets())
        for (const auto& kind : {tr("QR"), tr("Code 128")})
            sizes << QStringLiteral("%1, %2").arg(sheet.name, kind);
    const LabelChoice now = chosen_labels();
    const int last = 2 * now.sheet + (now.kind == LabelCode::code128 ? 1 : 0);
    const auto index = ask_choice(this, tr("Label sheet"), tr("Labels and their code:"), sizes, last);
    if (!index)
        return;
    choose_labels({*index / 2, *index % 2 == 0 ? LabelCode::qr : LabelCode::code128});
}

void OpenStation::print_labels() {
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Label sheet"), QStringLiteral("labels.pdf"), tr("PDF (*.pdf)"));
    if (path.isEmpty())
        return;
    if (print_labels_to(path))
        emit told(tr("Labels written to %1.").arg(path), false);
    else
        emit told(tr("%1 could not be written. Choose another place.").arg(path), true);
}

bool OpenStation::take_line(const QString& line) {
    for (const auto& pack : workshop().packs())
        if (pack.state == AssemblyState::to_open &&
            QString::fromStdString(pack.label).compare(line, Qt::CaseInsensitive) == 0) {
            packs_->choose(pack.id);
            return true;
        }
    return line.isEmpty();
}

// The shop's own packs of the kind, as soon as there are any; else what the trade says.
QString OpenStation::expected_yield(const Assembly& pack) const {
    const auto yield = workshop().open().yield_of_kind(pack);
    if (!yield)
        return tr("No unit of this kind was judged here yet. Elsewhere 50 to 90 of 100 units of such packs are usable "
                  "(common practice).");
    const int judged = yield->usable + yield->scrap;
    const QString of = yield->of.empty() ? tr("packs like this") : QString::fromStdString(yield->of);
    return tr("%1 of %2 units judged here from %3 are usable; at that rate %4 of this pack's %5.")
        .arg(yield->usable)
        .arg(judged)
        .arg(of)
        .arg(std::lround(static_cast<double>(pack.layout.units()) * yield->usable / judged))
        .arg(pack.layout.units());
}

EvidenceContent OpenStation::evidence() const {
    EvidenceContent content;
    content.caution = "open";
    const Assembly* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return content;
    content.subject = QString::fromStdString(pack->label);
    content.line = wording::triage_summary(workshop().triage().result(pack_));
    if (workshop().open().strips_drawn(pack_))
        content.notes << tr("Its strips are drawn.");
    if (const int photos = workshop().open().photo_count(pack_); photos > 0)
        content.notes << tr("%n photos are kept with it.", nullptr, photos);
    if (const exchange::TeardownPlan* plan = workshop().open().teardown_plan(*pack)) {
        for (const exchange::TeardownStep& step : plan->steps)
            if (!workshop().open().step_done(pack_, step.id)) {
                content.hand_title = QString::fromStdString(step.text);
                content.hand_line = QString::fromStdString(step.caution);
                break;
            }
    }
    content.notes << expected_yield(*pack);
    add_particulars(content, pack_);
    return content;
}

} // namespace ingot::app
