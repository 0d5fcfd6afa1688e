#include "app/stations/receive/receive_station.h"

#include "app/parts/pack_forms.h"
#include "app/parts/pack_picture.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/record_table.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/models/shop_models.h"
#include "workshop/wording.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDate>
#include <QGridLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QRegularExpression>
#include <QSpinBox>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

QWidget* field(const QString& name, QWidget* input, QWidget* parent) {
    auto* box = new QWidget(parent);
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(1);
    auto* label = caption(name, box);
    label->setBuddy(input);
    layout->addWidget(label);
    layout->addWidget(input);
    input->setAccessibleName(name);
    return box;
}

} // namespace

ReceiveStation::ReceiveStation(Workshop& workshop, QWidget* parent) : StationView(workshop, Station::receive, parent) {
    add_ = add_command(tr("&Add pack"), QKeySequence(tr("Ctrl+Return")), tr("Add the pack that is typed below"),
                       [this] { add_pack(); });
    to_triage_ =
        add_command(tr("Send to &Triage"), QKeySequence(tr("Ctrl+T")), tr("The selected pack goes to Triage"), [this] {
            if (send_pack(selected_, AssemblyState::in_triage, tr("send %1 to Triage")))
                select(0);
        });
    all_to_open_ = add_command(tr("All of its kin&d to Open"), {},
                               tr("Packs of the same lot, chemistry and layout are opened without a diagnosis each"),
                               [this] { send_kind_to_open(); });
    add_command(tr("The device's own readings…"), {},
                tr("A snapshot that was read through the device's port: before the gate, too"), [this] {
                    if (selected_ == 0)
                        emit told(tr("Choose a pack first."), true);
                    else
                        bring_in_readings(selected_);
                });
    refuse_ =
        add_command(tr("&Refuse pack…"), {}, tr("The selected pack is not taken in; say why"), [this] { refuse(); });
    again_ =
        add_command(tr("&Same again"), QKeySequence(tr("F4")),
                    tr("Another pack like the last one, label counted up, claims and all"), [this] { same_again(); });
    worth_ = add_command(tr("&Worth it?"), QKeySequence(tr("F9")), tr("Repair, rebuild, convert, buy or break?"),
                         [this] { emit room_wanted(Room::worth, selected_); });
    add_command(tr("Loose &units…"), {},
                tr("Bought or left-over cells and modules without a pack: codes and a home at once"),
                [this] { take_in_loose(); });
    add_command(
        tr("By its passport…"), {},
        tr("A pack that was built and proved, here or on another bench: what its passport says is not asked again"),
        [this] { take_in_by_passport(); });
    particulars_ = add_command(tr("Parti&culars…"), {},
                               tr("Device, charger, protection board, age, repairs, price, customer's words"),
                               [this] { ask_pack_particulars(selected_); });
    add_command(tr("Correct the la&yout…"), {},
                tr("Groups, units and cells were not what was thought; say how you know"),
                [this] { correct_layout(); });
    add_command(tr("Pac&k label…"), QKeySequence(tr("Ctrl+P")), tr("To be scanned at any station, as PDF"),
                [this] { print_pack_label(selected_); });
    add_command(tr("New &lot…"), QKeySequence(tr("Ctrl+L")), tr("Add a lot: where packs come from"), [this] {
        QuestionBox box(this, tr("New lot"));
        const QLineEdit* label = box.add_line(tr("Label, such as MOW-08"));
        const QLineEdit* source = box.add_optional_line(tr("Where it comes from"));
        if (!box.ask())
            return;
        Lot lot;
        lot.label = label->text().trimmed().toStdString();
        lot.source = source->text().trimmed().toStdString();
        lot.received = QDate::currentDate().toString(Qt::ISODate).toStdString();
        if (fine(this->workshop().receive().add_lot(lot))) {
            refresh();
            lot_->setCurrentText(QString::fromStdString(lot.label));
            count_up_label();
        }
    });
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    outer->addWidget(make_list(), 2);
    outer->addWidget(make_selected(), 4);
    outer->addWidget(make_form());
}

QWidget* ReceiveStation::make_list() {
    auto* panel = new Panel(tr("Packs at Receive"), this);
    table_ = new RecordTable(QStringLiteral("receive_packs"), panel);
    table_->set_records(new PacksModel(workshop(), table_),
                        {QStringLiteral("label"), QStringLiteral("chemistry"), QStringLiteral("layout"),
                         QStringLiteral("claimed"), QStringLiteral("state")});
    table_->filter()->set_choice([this](Id id) {
        const Assembly* pack = workshop().pack(id);
        return pack != nullptr && pack->state == AssemblyState::received;
    });
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setMinimumHeight(96);
    table_->setAccessibleName(tr("Packs at Receive"));
    connect(table_, &RecordTable::chosen, this, [this](Id pack) { select(pack); });
    panel->body()->addWidget(table_);
    return panel;
}

QWidget* ReceiveStation::make_selected() {
    selected_panel_ = new Panel(tr("No pack is selected"), this);
    auto* triage = new PressButton(to_triage_, selected_panel_, true);
    auto* refuse = new PressButton(refuse_, selected_panel_);
    selected_panel_->head()->addWidget(new PressButton(particulars_, selected_panel_));
    selected_panel_->head()->addWidget(new PressButton(worth_, selected_panel_));
    selected_panel_->head()->addWidget(refuse);
    selected_panel_->head()->addWidget(triage);
    gate_ = new Panel({}, selected_panel_);
    gate_->set_kind(Panel::Kind::caution);
    gate_->setObjectName(QStringLiteral("gate"));
    selected_panel_->body()->addWidget(gate_);
    picture_ = new PackPicture(selected_panel_);
    selected_panel_->body()->addWidget(picture_, 1);
    objections_ = sentence({}, selected_panel_);
    objections_->setObjectName(QStringLiteral("receive_objections"));
    selected_panel_->body()->addWidget(objections_);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(16);
    grid->setVerticalSpacing(2);
    int n = 0;
    constexpr int columns = 5;
    for (const auto& finding : workshop().library().findings) {
        auto* box = new QCheckBox(QString::fromStdString(finding.name), selected_panel_);
        box->setFont(type(14));
        box->setFocusPolicy(Qt::TabFocus);
        box->setToolTip(QStringLiteral("%1: %2").arg(wording::consequence(finding.consequence),
                                                     QString::fromStdString(finding.consequence_text)));
        findings_[finding.id] = box;
        grid->addWidget(box, n / columns, n % columns);
        ++n;
        connect(box, &QCheckBox::clicked, this, [this, id = finding.id](bool on) { toggle_finding(id, on); });
    }
    selected_panel_->body()->addLayout(grid);
    finding_words_ = sentence({}, selected_panel_);
    selected_panel_->body()->addWidget(finding_words_);
    return selected_panel_;
}

QWidget* ReceiveStation::make_form() {
    auto* panel = new Panel(tr("Add a pack"), this);
    lot_ = new QComboBox(panel);
    label_ = new QLineEdit(panel);
    label_->setObjectName(QStringLiteral("pack_label"));
    chemistry_ = new QComboBox(panel);
    chemistry_->setObjectName(QStringLiteral("pack_chemistry"));
    for (const auto& [id, chemistry] : workshop().library().chemistries)
        chemistry_->addItem(QString::fromStdString(chemistry.name), QString::fromStdString(id));
    chemistry_->setCurrentIndex(chemistry_->findData(QStringLiteral("nmc")));
    series_ = new QSpinBox(panel);
    series_->setObjectName(QStringLiteral("pack_series"));
    series_->setRange(1, 200);
    series_->setValue(7);
    parallel_ = new QSpinBox(panel);
    parallel_->setObjectName(QStringLiteral("pack_parallel"));
    parallel_->setRange(1, 200);
    parallel_->setValue(4);
    cells_ = new QSpinBox(panel);
    cells_->setObjectName(QStringLiteral("pack_cells"));
    cells_->setRange(1, 24);
    constexpr int most_between = 12;
    between_taps_ = new QSpinBox(panel);
    between_taps_->setObjectName(QStringLiteral("pack_units_per_tap"));
    between_taps_->setRange(1, most_between);
    between_taps_->setToolTip(tr("Units in series that the device reads by one tap: 2 for blocks of two modules"));
    format_ = new QComboBox(panel);
    format_->setObjectName(QStringLiteral("pack_format"));
    format_->addItem(tr("none"), QString());
    for (const auto& [id, format] : workshop().library().formats)
        format_->addItem(QString::fromStdString(id), QString::fromStdString(id));
    format_->setCurrentIndex(format_->findData(QStringLiteral("18650")));
    capacity_ = new QLineEdit(panel);
    capacity_->setObjectName(QStringLiteral("pack_capacity"));
    voltage_ = new QLineEdit(panel);
    voltage_->setObjectName(QStringLiteral("pack_voltage"));
    intake_ = new QLineEdit(panel);
    intake_->setObjectName(QStringLiteral("pack_intake"));
    intake_->setPlaceholderText(tr("V"));
    intake_->setToolTip(tr("What the terminals show as it comes in"));
    capacity_->setPlaceholderText(tr("Ah"));
    voltage_->setPlaceholderText(tr("V"));
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(field(tr("lot"), lot_, panel), 2);
    row->addWidget(field(tr("label"), label_, panel), 4);
    row->addWidget(field(tr("chemistry"), chemistry_, panel), 3);
    row->addWidget(field(tr("series"), series_, panel), 1);
    row->addWidget(field(tr("parallel"), parallel_, panel), 1);
    row->addWidget(field(tr("cells per unit"), cells_, panel), 1);
    row->addWidget(field(tr("format"), format_, panel), 2);
    panel->body()->addLayout(row);
    auto* second = new QHBoxLayout;
    second->setSpacing(8);
    second->addWidget(field(tr("units per tap"), between_taps_, panel), 1);
    second->addWidget(field(tr("claimed Ah"), capacity_, panel), 1);
    second->addWidget(field(tr("claimed V"), voltage_, panel), 1);
    second->addWidget(field(tr("intake V"), intake_, panel), 1);
    form_words_ = sentence({}, panel);
    form_words_->setObjectName(QStringLiteral("form_objections"));
    form_words_->setFont(type(13));
    second->addWidget(form_words_, 6);
    second->addWidget(new PressButton(again_, panel), 0, Qt::AlignBottom);
    second->addWidget(new PressButton(add_, panel, true), 0, Qt::AlignBottom);
    panel->body()->addLayout(second);
    for (QLineEdit* edit : {label_, capacity_, voltage_, intake_}) {
        connect(edit, &QLineEdit::returnPressed, this, [this] { add_pack(); });
        connect(edit, &QLineEdit::textChanged, this, [this] { show_form_objections(); });
    }
    for (QSpinBox* spin : {series_, parallel_, cells_, between_taps_})
        connect(spin, &QSpinBox::valueChanged, this, [this] { show_form_objections(); });
    for (QComboBox* combo : {chemistry_, format_})
        connect(combo, &QComboBox::currentIndexChanged, this, [this] { show_form_objections(); });
    connect(lot_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_)
            count_up_label();
    });
    return panel;
}

void ReceiveStation::refresh() {
    filling_ = true;
    const QString lot = lot_->currentText();
    const int lots_before = lot_->count();
    lot_->clear();
    for (const auto& l : workshop().lots())
        lot_->addItem(QString::fromStdString(l.label), QVariant::fromValue<qlonglong>(l.id));
    lot_->setCurrentIndex(lot.isEmpty() || lots_before == 0 ? lot_->count() - 1 : lot_->findText(lot));
    filling_ = false;
    if (label_->text().isEmpty())
        count_up_label();
    if (table_->filter()->row_of(selected_) < 0)
        select(table_->filter()->rowCount() > 0 ? table_->filter()->id_at(0) : 0);
    else
        select(selected_);
    add_->setEnabled(workshop().writable());
    show_form_objections();
}

// What is held apart or behind its gate stays.
void ReceiveStation::send_kind_to_open() {
    std::vector<std::pair<Id, AssemblyState>> open;
    std::vector<std::pair<Id, AssemblyState>> back;
    for (const Id id : workshop().receive().waiting_like(selected_)) {
        open.emplace_back(id, AssemblyState::to_open);
        back.emplace_back(id, workshop().pack(id)->state);
    }
    const auto to = [this](const std::vector<std::pair<Id, AssemblyState>>& states) {
        return [this, states] { return workshop().receive().set_states(states); };
    };
    const int packs = static_cast<int>(open.size());
    if (open.empty() || !do_step(tr("send %n packs to Open", nullptr, packs), to(open), to(back)))
        return;
    emit told(tr("%n packs wait at Open.", nullptr, packs), false);
    select(0);
}

void ReceiveStation::select(Id pack) {
    selected_ = pack;
    table_->select(pack);
    show_selected();
    emit evidence_changed();
}

void ReceiveStation::show_selected() {
    const Assembly* pack = workshop().pack(selected_);
    const bool here = pack != nullptr;
    for (QWidget* widget : {static_cast<QWidget*>(picture_), static_cast<QWidget*>(finding_words_)})
        widget->setVisible(here);
    for (auto& [id, box] : findings_)
        box->setVisible(here);
    to_triage_->setEnabled(here && workshop().writable() && !workshop().receive().pack_quarantined(selected_) &&
                           !workshop().receive().gate_closed(*pack));
    refuse_->setEnabled(here && workshop().writable());
    all_to_open_->setEnabled(to_triage_->isEnabled());
    worth_->setEnabled(here);
    again_->setEnabled(workshop().writable());
    gate_->setVisible(here && workshop().receive().gate_closed(*pack));
    if (!here) {
        selected_panel_->set_title(tr("Nothing waits here"));
        objections_->setText(tr("Add a pack below: its chemistry, groups in series, units in parallel and what its "
                                "label claims. A pack looks like "
                                "7S4P: seven groups in series of four units each."));
        return;
    }
    selected_panel_->set_title(QString::fromStdString(pack->label));
    picture_->set(pack->layout);
    QStringList words;
    for (const ClaimFinding& finding : workshop().receive().objections(*pack))
        words << wording::objection(finding, pack->layout);
    const QString nothing_doubted = pack->claim.capacity_ah || pack->claim.voltage_v
                                        ? tr("The claim fits the layout.")
                                        : tr("Its label claims nothing that could be checked.");
    objections_->setText(words.isEmpty() ? nothing_doubted : words.join(QStringLiteral("\n")));
    objections_->setFont(type(14, !words.isEmpty()));
    const auto noted = workshop().receive().findings_of_pack(selected_);
    QStringList consequences;
    for (const auto& finding : workshop().library().findings) {
        const bool on = std::find(noted.begin(), noted.end(), finding.id) != noted.end();
        findings_[finding.id]->setChecked(on);
        findings_[finding.id]->setEnabled(workshop().writable());
        if (on)
            consequences << QStringLiteral("<b>%1: %2.</b> %3")
                                .arg(QString::fromStdString(finding.name), wording::consequence(finding.consequence),
                                     QString::fromStdString(finding.consequence_text));
    }
    finding_words_->setText(consequences.isEmpty() ? tr("Tick what you see, smell or feel.")
                                                   : consequences.join(QStringLiteral("<br>")));
    if (gate_->isVisibleTo(selected_panel_) && gate_->body()->count() == 0) {
        const auto& cautions = workshop().library().cautions;
        if (const auto found = cautions.find("gate"); found != cautions.end()) {
            gate_->set_title(QString::fromStdString(found->second.title));
            for (const auto& line : found->second.sentences) {
                auto* text = sentence(QString::fromStdString(line), gate_);
                text->setFont(type(13));
                gate_->body()->addWidget(text);
            }
        }
        auto* pass = new PressButton(tr("All of this is done: pass the &gate"), gate_);
        pass->setObjectName(QStringLiteral("pass_gate"));
        connect(pass, &PressButton::clicked, this, [this] { fine(workshop().receive().pass_gate(selected_)); });
        gate_->body()->addWidget(pass, 0, Qt::AlignLeft);
    }
}

Assembly ReceiveStation::typed_pack() const {
    Assembly pack;
    pack.lot = lot_->currentData().toLongLong();
    pack.label = label_->text().trimmed().toStdString();
    pack.chemistry = chemistry_->currentData().toString().toStdString();
    pack.format = format_->currentData().toString().toStdString();
    pack.layout = {series_->value(), parallel_->value(), cells_->value(), between_taps_->value()};
    pack.claim.capacity_ah = figures::typed(capacity_->text());
    pack.claim.voltage_v = figures::typed(voltage_->text());
    return pack;
}

void ReceiveStation::show_form_objections() {
    if (filling_)
        return;
    const Assembly pack = typed_pack();
    QStringList words;
    for (const auto& [edit, name] : {std::pair{capacity_, tr("Claimed Ah")}, std::pair{voltage_, tr("Claimed V")},
                                     std::pair{intake_, tr("Intake V")}})
        if (!edit->text().trimmed().isEmpty() && !figures::typed(edit->text()))
            words << tr("%1 is not a number.").arg(name);
    for (const ClaimFinding& finding : workshop().receive().objections(pack))
        words << wording::objection(finding, pack.layout);
    if (workshop().receive().needs_gate(pack) && !intake_->text().trimmed().isEmpty())
        words << tr("Over 60 V when full: no reading before its gate is passed. Leave the intake voltage blank.");
    else if (workshop().receive().needs_gate(pack))
        words << tr("Over 60 V when full: it will be held at a gate with its cautions.");
    QPalette palette = form_words_->palette();
    palette.setColor(QPalette::WindowText, words.isEmpty() ? colours().muted : colours().plum);
    form_words_->setPalette(palette);
    form_words_->setText(words.isEmpty() ? tr("Enter adds the pack; the next label is counted up.")
                                         : words.join(QStringLiteral("\n")));
}

void ReceiveStation::count_up_label() {
    const QString lot = lot_->currentText();
    if (lot.isEmpty())
        return;
    int largest = 0;
    const QRegularExpression pattern(QStringLiteral("(\\d+)$"));
    for (const auto& pack : workshop().packs()) {
        const QString label = QString::fromStdString(pack.label);
        if (label.startsWith(lot))
            largest = std::max(largest, pattern.match(label).captured(1).toInt());
    }
    label_->setText(tr("%1 · pack %2").arg(lot).arg(largest + 1));
}

void ReceiveStation::add_pack() {
    if (lot_->count() == 0) { // a first lot, so that one can start at once
        Lot lot;
        lot.label = "LOT-01";
        lot.received = QDate::currentDate().toString(Qt::ISODate).toStdString();
        if (!fine(workshop().receive().add_lot(lot)))
            return;
        refresh();
    }
    const Assembly pack = typed_pack();
    for (const QLineEdit* edit : {capacity_, voltage_, intake_})
        if (!edit->text().trimmed().isEmpty() && !figures::typed(edit->text())) {
            emit told(tr("\"%1\" is not a number. Write it like 10.4 or 10,4, or leave it blank.").arg(edit->text()),
                      true);
            return;
        }
    if (workshop().receive().needs_gate(pack) && figures::typed(intake_->text())) {
        emit told(
            tr("This pack can hold more than 60 V: no reading before its gate is passed. Leave the intake voltage "
               "blank."),
            true);
        return;
    }
    const auto id = workshop().receive().add_pack(pack);
    if (!fine(id))
        return;
    if (const auto volts = figures::typed(intake_->text()))
        fine(workshop().triage().record_group_reading(id.value(), 0, *volts, Condition::rest, "bench meter"));
    intake_->clear();
    count_up_label();
    refresh();
    select(id.value());
    label_->setFocus();
    label_->selectAll();
}

void ReceiveStation::same_again() {
    if (workshop().packs().empty()) {
        emit told(tr("There is no pack yet to repeat. Fill in the first one."), true);
        return;
    }
    const Assembly last = workshop().packs().back();
    filling_ = true;
    lot_->setCurrentIndex(lot_->findData(QVariant::fromValue<qlonglong>(last.lot)));
    chemistry_->setCurrentIndex(chemistry_->findData(QString::fromStdString(last.chemistry)));
    format_->setCurrentIndex(format_->findData(QString::fromStdString(last.format)));
    series_->setValue(last.layout.series);
    parallel_->setValue(last.layout.parallel);
    cells_->setValue(last.layout.cells_per_unit);
    between_taps_->setValue(last.layout.units_per_tap);
    capacity_->setText(last.claim.capacity_ah ? figures::plain(*last.claim.capacity_ah, 2) : QString());
    voltage_->setText(last.claim.voltage_v ? figures::plain(*last.claim.voltage_v, 1) : QString());
    filling_ = false;
    count_up_label();
    add_pack();
}

void ReceiveStation::toggle_finding(const std::string& code, bool on) {
    if (selected_ == 0)
        return;
    if (on) {
        fine(workshop().receive().note_finding(selected_, 0, code));
        return;
    }
    const auto reason =
        ask_reason(this, tr("Strike out a finding"), tr("Why was it wrong? It stays on record, struck out."));
    if (reason)
        fine(workshop().receive().strike_finding(selected_, 0, code, reason->toStdString()));
    show_selected();
}

void ReceiveStation::take_in_loose() {
    const Id lot = lot_->currentData().toLongLong();
    if (lot == 0) {
        emit told(tr("Units belong to a lot. Make the lot first."), true);
        return;
    }
    const auto answer = ask_loose_units(this, workshop(), lot);
    if (!answer)
        return;
    const auto made = workshop().receive().take_in_loose(*answer, workshop().open());
    if (!fine(made))
        return;
    const Assembly* origin = workshop().pack(workshop().unit(made.value().front())->record.pack);
    QStringList doubts;
    for (const ClaimFinding& finding : workshop().receive().objections(*origin))
        doubts << wording::objection(finding, origin->layout);
    emit told(tr("%n units, %1 to %2. Print their labels at Open, then scan them at Test.", nullptr,
                 static_cast<int>(made.value().size()))
                      .arg(QString::fromStdString(workshop().unit(made.value().front())->code()),
                           QString::fromStdString(workshop().unit(made.value().back())->code())) +
                  (doubts.isEmpty() ? QString() : QLatin1Char(' ') + doubts.join(QLatin1Char(' '))),
              !doubts.isEmpty());
}

void ReceiveStation::correct_layout() {
    const Assembly* pack = workshop().pack(selected_);
    if (pack == nullptr) {
        emit told(tr("Choose a pack first."), true);
        return;
    }
    const auto answer = ask_layout(this, *pack);
    if (!answer)
        return;
    const auto to = [this, id = pack->id](const PackLayout& layout, const std::string& reason) {
        return [this, id, layout, reason] { return workshop().receive().correct_layout(id, layout, reason); };
    };
    do_step(tr("correct the layout of %1").arg(QString::fromStdString(pack->label)), to(answer->layout, answer->reason),
            to(pack->layout, "taken back"));
}

void ReceiveStation::refuse() {
    const Assembly* pack = workshop().pack(selected_);
    if (pack == nullptr)
        return;
    const auto reason =
        ask_reason(this, tr("Refuse the pack"),
                   tr("Why is %1 refused? It stays on record.").arg(QString::fromStdString(pack->label)));
    if (reason && send_pack(selected_, AssemblyState::refused, tr("refuse %1"), reason->toStdString()))
        select(0);
}

bool ReceiveStation::take_line(const QString& line) {
    for (const auto& pack : workshop().packs())
        if (pack.state == AssemblyState::received &&
            QString::fromStdString(pack.label).compare(line, Qt::CaseInsensitive) == 0) {
            select(pack.id);
            return true;
        }
    return line.isEmpty();
}

EvidenceContent ReceiveStation::evidence() const {
    EvidenceContent content;
    content.caution = "receive";
    const Assembly* pack = workshop().pack(selected_);
    if (pack == nullptr)
        return content;
    content.subject = QString::fromStdString(pack->label);
    const Chemistry* chemistry = workshop().library().chemistry(pack->chemistry);
    const bool quarantined = workshop().receive().pack_quarantined(pack->id);
    if (quarantined) {
        content.mark = Duty::quarantine;
        content.verdict = wording::duty(Duty::quarantine);
        content.line = tr("until it is closed with what was found");
        content.caution = "quarantine";
    } else if (workshop().receive().gate_closed(*pack)) {
        content.mark = Duty::quarantine;
        content.verdict = tr("Held at the gate");
        content.caution = "gate";
    } else {
        content.verdict = workshop().receive().objections(*pack).empty() ? tr("May go on") : tr("Claim doubted");
    }
    if (chemistry != nullptr) {
        content.notes << tr("In series %1: %2 nominal, %3 full, %4 at the test cutoff.")
                             .arg(pack->layout.cells_in_series())
                             .arg(figures::volts(pack->layout.cells_in_series() * chemistry->nominal_v(), 1),
                                  figures::volts(full_voltage(pack->layout, *chemistry), 1),
                                  figures::volts(pack->layout.cells_in_series() * chemistry->test_cutoff_v, 1));
        if (const CellFormat* format = workshop().library().format(pack->format); format != nullptr)
            if (const FormatCapacity* holds = format->capacity_for(chemistry->id))
                content.notes << tr("%1 in this chemistry: %2 to %3 a cell, so %4 at most with %5 in parallel.")
                                     .arg(QString::fromStdString(format->id), figures::plain(holds->smallest_ah, 1),
                                          figures::pack_capacity(holds->largest_ah),
                                          figures::pack_capacity(holds->largest_ah * pack->layout.parallel))
                                     .arg(pack->layout.parallel);
    }
    for (const ClaimFinding& finding : workshop().receive().objections(*pack))
        content.notes << wording::objection(finding, pack->layout);
    add_particulars(content, pack->id);
    return content;
}

void ReceiveStation::pose() {
    capacity_->setText(QStringLiteral("10.4"));
    voltage_->setText(QStringLiteral("25.9"));
}

} // namespace ingot::app
