#include "app/rooms/units_page.h"

#include "app/parts/panel.h"
#include "app/parts/photo_view.h"
#include "app/parts/questions.h"
#include "app/parts/tray_picture.h"
#include "app/print/label_sheet.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QFileDialog>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

namespace {

constexpr QLatin1Char dead_key('d');
constexpr QLatin1Char model_key('m');

// The letter that notes a finding: the first of its name that is still free.
std::vector<std::pair<QChar, const exchange::LookFinding*>> finding_keys(const exchange::Library& library) {
    std::vector<std::pair<QChar, const exchange::LookFinding*>> out;
    QString taken = QString(dead_key) + model_key;
    for (const auto& finding : library.findings)
        for (const QChar letter : QString::fromStdString(finding.name).toLower())
            if (letter.isLetter() && !taken.contains(letter)) {
                taken += letter;
                out.emplace_back(letter, &finding);
                break;
            }
    return out;
}

QString short_code(const UnitState& unit) {
    return QString::number(unit.record.code.number).rightJustified(4, QLatin1Char('0'));
}

} // namespace

UnitsPage::UnitsPage(Workshop& workshop, QWidget* parent) : PackRoom(workshop, Room::units, parent) {
    home_ = add_command(tr("&Home…"), QKeySequence(tr("F4")), tr("Tray and well"), [this] { set_home(); });
    label_ = add_command(tr("&Print its label…"), QKeySequence(tr("Ctrl+P")),
                         tr("One label, at the place on the sheet that is still free"), [this] { print_label(); });
    QAction* trays = add_command(tr("&Trays"), QKeySequence(tr("F7")), tr("What stands where"),
                                 [this] { emit room_wanted(Room::trays, 0); });
    QAction* back = add_way_back();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    panel_ = new Panel(title(), this);
    for (QAction* command : {trays, back})
        panel_->head()->addWidget(new PressButton(command, panel_));
    auto* middle = new QHBoxLayout;
    picture_ = new TrayPicture(panel_);
    picture_->setObjectName(QStringLiteral("units_picture"));
    picture_->setAccessibleName(tr("Units, one row a group"));
    picture_->setProperty(single_letters, true);
    middle->addWidget(picture_, 3);
    photos_ = new PhotoView(workshop, panel_);
    middle->addWidget(photos_, 2);
    panel_->body()->addLayout(middle, 1);
    words_ = sentence({}, panel_);
    words_->setObjectName(QStringLiteral("units_words"));
    words_->setFont(type(15));
    auto* foot = new QHBoxLayout;
    foot->addWidget(words_, 1);
    foot->addWidget(new PressButton(home_, panel_));
    foot->addWidget(new PressButton(label_, panel_));
    panel_->body()->addLayout(foot);
    outer->addWidget(panel_, 1);
    auto* keys = new Panel(tr("One key each"), this);
    build_keys(keys);
    outer->addWidget(keys);
    connect(picture_, &TrayPicture::chosen_changed, this, [this] {
        say({});
        emit evidence_changed();
    });
    connect(picture_, &TrayPicture::key_pressed, this, &UnitsPage::act);
}

// What each letter does stands on a cap that can be pressed, too.
void UnitsPage::build_keys(Panel* panel) {
    auto* caps = new QGridLayout;
    caps->setHorizontalSpacing(6);
    caps->setVerticalSpacing(6);
    constexpr int across = 4;
    int at = 0;
    const auto add = [&](QChar letter, const QString& words) {
        auto* cap = new PressButton(QStringLiteral("%1   %2").arg(letter.toUpper()).arg(words), panel);
        cap->setObjectName(QStringLiteral("key_%1").arg(letter));
        connect(cap, &PressButton::clicked, this, [this, letter] {
            act(letter);
            picture_->setFocus();
        });
        caps->addWidget(cap, at / across, at % across);
        ++at;
    };
    add(dead_key, tr("Dead"));
    for (const auto& [letter, finding] : finding_keys(workshop().library()))
        add(letter, QString::fromStdString(finding->name));
    add(model_key, tr("Model"));
    panel->body()->addLayout(caps);
    model_ = new QComboBox(panel);
    model_->setObjectName(QStringLiteral("units_model"));
    model_->setAccessibleName(tr("Model for M"));
    panel->head()->addWidget(caption(tr("model for M"), panel));
    panel->head()->addWidget(model_);
    panel->body()->addWidget(sentence(
        tr("D sends it to recycling. The same letter again takes it back. Arrows walk, one row a group. Hands off "
           "what is swollen, warm or leaking: it goes outdoors, away from what burns."),
        panel));
}

void UnitsPage::set_pack(Id id) {
    const bool other = id != pack();
    PackRoom::set_pack(id);
    model_->clear();
    if (const Assembly* pack = record())
        for (const auto& [model_id, model] : workshop().library().models)
            if (model.chemistry == pack->chemistry)
                model_->addItem(QString::fromStdString(model.name), QString::fromStdString(model_id));
    refresh();
    if (other && !units_.empty())
        picture_->choose(0);
    say({});
    emit evidence_changed();
}

void UnitsPage::refresh() {
    panel_->set_title(title());
    photos_->show_pack(pack());
    units_.clear();
    std::vector<Well> wells;
    if (const Assembly* pack = record()) {
        units_.assign(static_cast<std::size_t>(pack->layout.units()), 0);
        wells.resize(units_.size());
        for (const UnitState& unit : workshop().units()) {
            if (unit.record.pack != pack->id || unit.record.group < 1)
                continue;
            const auto at =
                static_cast<std::size_t>((unit.record.group - 1) * pack->layout.units_per_group() +
                                         std::max(0, unit.record.place - 1)); // a whole group stands at its first place
            if (at >= units_.size())
                continue;
            units_[at] = unit.record.id;
            Well& well = wells[at];
            well.text = short_code(unit);
            well.gone = unit.record.whereabouts == Whereabouts::recycled;
            if (!well.gone)
                well.mark = unit.verdict.duty;
            well.warned = unit.quarantined || !unit.findings.empty();
            well.spoken =
                QStringLiteral("%1, %2").arg(QString::fromStdString(unit.code()),
                                             well.gone ? tr("gone to recycling") : wording::duty(unit.verdict.duty));
        }
    }
    const bool any = std::any_of(units_.begin(), units_.end(), [](Id id) { return id != 0; });
    const int parallel = record() != nullptr ? record()->layout.units_per_group() : 1;
    picture_->setEnabled(any);
    picture_->set(parallel, std::move(wells));
    home_->setEnabled(chosen() != nullptr && workshop().writable());
    label_->setEnabled(chosen() != nullptr);
    say({});
}

const UnitState* UnitsPage::chosen() const {
    const auto at = static_cast<std::size_t>(picture_->chosen());
    return picture_->chosen() < 0 || at >= units_.size() ? nullptr : workshop().unit(units_[at]);
}

QWidget* UnitsPage::hands_on() const {
    return picture_->isEnabled() ? picture_ : nullptr;
}

// What happened, and what the chosen unit is; both stay until the next step.
void UnitsPage::say(const QString& words) {
    const UnitState* unit = chosen();
    home_->setEnabled(unit != nullptr && workshop().writable());
    label_->setEnabled(unit != nullptr);
    if (unit == nullptr) {
        words_->setText(record() == nullptr ? tr("Go to Open, choose a pack and come from there.")
                        : hands_on() == nullptr
                            ? tr("No units yet: at Open, \"Make its units\" gives each of them a code.")
                            : words);
        return;
    }
    QStringList findings;
    for (const std::string& code : unit->findings)
        if (const exchange::LookFinding* finding = workshop().library().finding(code))
            findings << QStringLiteral("%1: %2").arg(QString::fromStdString(finding->name),
                                                     QString::fromStdString(finding->consequence_text));
    QString line = tr("%1, group %2, place %3, %4.")
                       .arg(QString::fromStdString(unit->code()))
                       .arg(unit->record.group)
                       .arg(unit->record.place)
                       .arg(QString::fromStdString(unit->record.model));
    if (unit->record.whereabouts == Whereabouts::recycled)
        findings.prepend(tr("Gone to recycling; D brings it back."));
    for (const QString& more : {findings.join(QLatin1Char(' ')), words})
        if (!more.isEmpty())
            line += QLatin1Char(' ') + more;
    words_->setText(line);
}

void UnitsPage::act(QChar letter) {
    const UnitState* found = chosen();
    if (found == nullptr)
        return;
    if (!workshop().writable()) {
        emit told(tr("This workshop is open for reading only. Nothing was recorded."), true);
        return;
    }
    const UnitState unit = *found; // the list moves under it
    if (letter == dead_key) {
        recycle(unit);
    } else if (letter == model_key) {
        set_model(unit);
    } else {
        const auto keys = finding_keys(workshop().library());
        const auto key = std::find_if(keys.begin(), keys.end(), [&](const auto& k) { return k.first == letter; });
        if (key == keys.end()) {
            say(tr("%1 notes nothing. Nothing was recorded.").arg(letter.toUpper()));
            return;
        }
        note(unit, *key->second);
    }
    refresh();
    emit evidence_changed();
}

void UnitsPage::recycle(const UnitState& unit) {
    const Act out = [this, id = unit.record.id] { return workshop().open().recycle_unit(id); };
    const Act back = [this, id = unit.record.id] {
        return workshop().open().take_out_of_recycling(id, tr("taken back at the bench").toStdString());
    };
    const bool gone = unit.record.whereabouts == Whereabouts::recycled;
    const QString code = QString::fromStdString(unit.code());
    do_step(gone ? tr("bring %1 back").arg(code) : tr("send %1 to recycling").arg(code), gone ? back : out,
            gone ? out : back);
}

void UnitsPage::note(const UnitState& unit, const exchange::LookFinding& finding) {
    const Act put = [this, id = unit.record.id, code = finding.id] {
        return workshop().receive().note_finding(0, id, code);
    };
    const Act strike = [this, id = unit.record.id, code = finding.id] {
        return workshop().receive().strike_finding(0, id, code, tr("taken back at the bench").toStdString());
    };
    const bool stands = std::find(unit.findings.begin(), unit.findings.end(), finding.id) != unit.findings.end();
    if (do_step(QStringLiteral("%1: %2").arg(QString::fromStdString(unit.code()), QString::fromStdString(finding.name)),
                stands ? strike : put, stands ? put : strike) &&
        !stands && finding.consequence >= Consequence::quarantine)
        emit told(QString::fromStdString(finding.consequence_text), true);
}

void UnitsPage::set_model(const UnitState& unit) {
    const std::string after = model_->currentData().toString().toStdString();
    if (after.empty() || after == unit.record.model)
        return;
    const auto model = [this, id = unit.record.id](const std::string& to) {
        return [this, id, to] { return workshop().open().set_unit_model(id, to); };
    };
    do_step(tr("model of %1").arg(QString::fromStdString(unit.code())), model(after), model(unit.record.model));
}

void UnitsPage::set_home() {
    const UnitState* unit = chosen();
    if (unit == nullptr)
        return;
    const Unit record = unit->record;
    const auto wanted = ask_home(this, record);
    if (!wanted)
        return;
    const auto home = [this, id = record.id](const std::string& tray, int well) {
        return [this, id, tray, well] { return workshop().open().set_home(id, tray, well); };
    };
    do_step(tr("home of %1").arg(QString::fromStdString(record.code.text())), home(wanted->tray, wanted->well),
            home(record.tray, record.well));
}

bool UnitsPage::print_label_to(const QString& path, int first) {
    const UnitState* unit = chosen();
    const Assembly* pack = record();
    if (unit == nullptr || pack == nullptr)
        return false;
    const Label label{QString::fromStdString(unit->code()),
                      tr("%1, group %2, place %3")
                          .arg(QString::fromStdString(pack->label))
                          .arg(unit->record.group)
                          .arg(unit->record.place),
                      QString::fromStdString(unit->record.model)};
    const LabelChoice choice = chosen_labels();
    return write_label_sheet(path, {label}, label_sheets()[static_cast<std::size_t>(choice.sheet)], choice.kind, first);
}

void UnitsPage::print_label() {
    const LabelSheet sheet = label_sheets()[static_cast<std::size_t>(chosen_labels().sheet)];
    const auto first = ask_figure(this, tr("Print its label"),
                                  tr("At which label of the sheet? Counted along the rows; 1 is the first."), {}, 1,
                                  sheet.columns * sheet.rows, 1);
    if (!first)
        return;
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Label"), QStringLiteral("label.pdf"), tr("PDF (*.pdf)"));
    if (path.isEmpty())
        return;
    if (print_label_to(path, static_cast<int>(*first)))
        emit told(tr("The label is in %1.").arg(path), false);
    else
        emit told(tr("%1 could not be written. Choose another place.").arg(path), true);
}

bool UnitsPage::show_unit(Id id) {
    const auto found = std::find(units_.begin(), units_.end(), id);
    if (id == 0 || found == units_.end())
        return false;
    picture_->choose(static_cast<int>(found - units_.begin()));
    say({});
    emit evidence_changed();
    return true;
}

bool UnitsPage::take_line(const QString& line) {
    const auto unit = workshop().find_unit(line.toStdString());
    return line.isEmpty() || (unit.ok() && show_unit(unit.value()));
}

EvidenceContent UnitsPage::evidence() const {
    EvidenceContent content;
    const UnitState* unit = chosen();
    if (unit != nullptr)
        content = unit_evidence(workshop(), unit->record.id);
    if (content.caution.empty())
        content.caution = "open";
    return content;
}

} // namespace ingot::app
