#include "app/stations/open/open_station.h"

#include "app/parts/pack_picture.h"
#include "app/parts/panel.h"
#include "app/print/label_sheet.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QLineEdit>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

OpenStation::OpenStation(Workshop& workshop, QWidget* parent) : StationView(workshop, Station::open, parent) {
    open_ = add_command(tr("Make its &units"), QKeySequence(tr("Ctrl+U")),
                        tr("Give every unit of the pack a code, an origin and a home"), [this] { open_pack(); });
    print_ = add_command(tr("&Print labels…"), QKeySequence(tr("Ctrl+P")),
                         tr("Label sheet of the pack opened last, as PDF"), [this] { print_labels(); });

    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    panel_ = new Panel({}, this);
    packs_ = new QComboBox(panel_);
    packs_->setObjectName(QStringLiteral("open_pack"));
    packs_->setFont(type(20, true));
    packs_->setFocusPolicy(Qt::TabFocus);
    packs_->setAccessibleName(tr("Pack"));
    panel_->head()->insertWidget(0, packs_);
    picture_ = new PackPicture(panel_);
    panel_->body()->addWidget(picture_, 1);
    outer->addWidget(panel_, 3);

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

    last_ = new Panel(tr("Opened last"), this);
    last_->head()->addWidget(new PressButton(print_, last_));
    last_words_ = sentence({}, last_);
    last_words_->setObjectName(QStringLiteral("open_last"));
    last_->body()->addWidget(last_words_);
    outer->addWidget(last_, 1);

    connect(packs_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_)
            choose_pack(packs_->currentData().toLongLong());
    });
    connect(roll_, &QLineEdit::textChanged, this, [this] { show_plan(); });
    connect(tray_, &QLineEdit::textChanged, this, [this] { show_plan(); });
}

void OpenStation::refresh() {
    filling_ = true;
    packs_->clear();
    for (const auto& pack : workshop().packs())
        if (pack.stage == "open")
            packs_->addItem(QString::fromStdString(pack.label), QVariant::fromValue<qlonglong>(pack.id));
    int index = packs_->findData(QVariant::fromValue<qlonglong>(pack_));
    const bool changed = index < 0;
    if (index < 0 && packs_->count() > 0)
        index = 0;
    packs_->setCurrentIndex(index);
    packs_->setVisible(packs_->count() > 0);
    filling_ = false;
    if (changed)
        choose_pack(index < 0 ? 0 : packs_->itemData(index).toLongLong());
    else
        show_plan();
    const auto units = units_to_label();
    print_->setEnabled(!units.empty());
    if (units.empty()) {
        last_words_->setText(tr("No pack has been opened yet. Its units appear here, with their label sheet."));
    } else {
        const store::PackRecord* pack = workshop().pack(pack_to_label());
        QStringList codes;
        for (const Id id : units)
            codes << QString::fromStdString(workshop().unit(id)->code());
        last_words_->setText(
            tr("%1: %2 units, %3 to %4. Print their labels, stick one on each unit, then scan it at Test.")
                .arg(QString::fromStdString(pack->label))
                .arg(units.size())
                .arg(codes.front(), codes.back()));
    }
}

Id OpenStation::pack_to_label() const {
    if (last_opened_ != 0 || workshop().units().empty())
        return last_opened_;
    return workshop().units().back().record.pack_id;
}

std::vector<Id> OpenStation::units_to_label() const {
    const Id pack = pack_to_label();
    std::vector<Id> ids;
    for (const UnitState& unit : workshop().units())
        if (pack != 0 && unit.record.pack_id == pack)
            ids.push_back(unit.record.id);
    return ids;
}

void OpenStation::choose_pack(Id id) {
    pack_ = id;
    const store::PackRecord* pack = workshop().pack(id);
    panel_->set_title(pack == nullptr ? tr("No pack waits to be opened") : QString());
    picture_->setVisible(pack != nullptr);
    model_->clear();
    if (pack != nullptr) {
        for (const auto& [model_id, model] : workshop().library().models)
            if (model.chemistry == pack->chemistry && model.cells_in_series == pack->layout.cells_per_unit)
                model_->addItem(QString::fromStdString(model.name), QString::fromStdString(model_id));
        const int printed = model_->findData(QString::fromStdString(pack->model));
        if (printed >= 0)
            model_->setCurrentIndex(printed);
        // The roll that this chemistry used last, else the one that stands there.
        for (const UnitState& unit : workshop().units())
            if (unit.facts.chemistry == pack->chemistry) {
                roll_->setText(QString::fromStdString(unit.record.code.roll));
                if (!unit.record.tray.empty())
                    tray_->setText(QString::fromStdString(unit.record.tray));
            }
    }
    show_plan();
    emit evidence_changed();
}

void OpenStation::show_plan() {
    const store::PackRecord* pack = workshop().pack(pack_);
    open_->setEnabled(pack != nullptr && workshop().writable());
    if (pack == nullptr) {
        plan_->setText(tr("Send a pack here from Triage. Each of its units gets a code, remembers its pack, group and "
                          "place, and has a home."));
        return;
    }
    const auto volts = workshop().group_readings(pack_, Condition::rest).by_group;
    std::vector<QString> words;
    for (int g = 1; g <= pack->layout.series && !volts.empty(); ++g)
        words.push_back(volts.contains(g) ? figures::plain(volts.at(g), 2) : QStringLiteral("\u2013"));
    picture_->set(pack->layout, words);
    const std::string roll = roll_->text().trimmed().toUpper().toStdString();
    if (!parse_unit_code(UnitCode{roll, 1}.text())) {
        plan_->setText(tr("A label roll is a letter and one more character, such as K4."));
        return;
    }
    const int first = workshop().next_number(roll);
    const int count = pack->layout.units();
    plan_->setText(tr("%1 units get the codes %2 to %3%4.")
                       .arg(count)
                       .arg(QString::fromStdString(UnitCode{roll, first}.text()),
                            QString::fromStdString(UnitCode{roll, first + count - 1}.text()),
                            tray_->text().trimmed().isEmpty()
                                ? tr(", without a home yet")
                                : tr(" and the next free wells of tray %1").arg(tray_->text().trimmed())));
}

void OpenStation::open_pack() {
    const QString model =
        model_->currentIndex() >= 0 && model_->itemText(model_->currentIndex()) == model_->currentText()
            ? model_->currentData().toString()
            : model_->currentText().trimmed();
    const auto made = workshop().open_pack(pack_, roll_->text().trimmed().toUpper().toStdString(), model.toStdString(),
                                           tray_->text().trimmed().toStdString());
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
        const store::PackRecord* pack = workshop().pack(unit->record.pack_id);
        labels.push_back({QString::fromStdString(unit->code()),
                          tr("%1, group %2, place %3")
                              .arg(QString::fromStdString(pack->label))
                              .arg(unit->record.group)
                              .arg(unit->record.place),
                          QString::fromStdString(unit->record.model)});
    }
    return write_label_sheet(path, labels);
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
        if (pack.stage == "open" && QString::fromStdString(pack.label).compare(line, Qt::CaseInsensitive) == 0) {
            packs_->setCurrentIndex(packs_->findData(QVariant::fromValue<qlonglong>(pack.id)));
            return true;
        }
    return line.isEmpty();
}

EvidenceContent OpenStation::evidence() const {
    EvidenceContent content;
    content.caution = "open";
    const store::PackRecord* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return content;
    content.subject = QString::fromStdString(pack->label);
    content.line = wording::triage_summary(workshop().triage(pack_));
    content.notes << tr("Mark the halves, sketch the strip layout, note polarity and which side is free to slide.")
                  << tr("Unplug the board first. Cut one wire at a time and tape its end.")
                  << tr("About half the units of a discarded pack are usable.");
    return content;
}

} // namespace ingot::app
