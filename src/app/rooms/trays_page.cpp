#include "app/rooms/trays_page.h"

#include "app/parts/panel.h"
#include "app/parts/tray_picture.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QLineEdit>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

TraysPage::TraysPage(Workshop& workshop, QWidget* parent) : Page(workshop, parent) {
    setObjectName(QStringLiteral("trays"));
    QAction* back = add_way_back();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* panel = new Panel({}, this);
    trays_ = new QComboBox(panel);
    trays_->setObjectName(QStringLiteral("tray_names"));
    trays_->setFont(type(18, true));
    trays_->setAccessibleName(tr("Tray"));
    panel->head()->insertWidget(0, trays_);
    columns_ = new QLineEdit(panel);
    columns_->setObjectName(QStringLiteral("tray_columns"));
    columns_->setAccessibleName(tr("Wells across"));
    rows_ = new QLineEdit(panel);
    rows_->setObjectName(QStringLiteral("tray_rows"));
    rows_->setAccessibleName(tr("Wells down"));
    for (const auto& [edit, words] : {std::pair{columns_, tr("wells across")}, std::pair{rows_, tr("down")}}) {
        edit->setFixedWidth(scaled(48));
        panel->head()->addWidget(caption(words, panel));
        panel->head()->addWidget(edit);
        connect(edit, &QLineEdit::editingFinished, this, &TraysPage::resize_tray);
    }
    panel->head()->addWidget(new PressButton(back, panel));
    picture_ = new TrayPicture(panel);
    picture_->setObjectName(QStringLiteral("tray_picture"));
    panel->body()->addWidget(picture_, 1);
    words_ = sentence({}, panel);
    words_->setObjectName(QStringLiteral("tray_words"));
    words_->setFont(type(15));
    panel->body()->addWidget(words_);
    outer->addWidget(panel, 1);
    connect(trays_, &QComboBox::currentTextChanged, this, [this] {
        fill();
        emit hint_changed();
    });
    connect(picture_, &TrayPicture::chosen_changed, this, [this] {
        say_well();
        emit evidence_changed();
    });
}

void TraysPage::refresh() {
    for (const std::string& name : workshop().open().tray_names())
        if (trays_->findText(QString::fromStdString(name)) < 0)
            trays_->addItem(QString::fromStdString(name));
    columns_->setEnabled(workshop().writable() && trays_->count() > 0);
    rows_->setEnabled(columns_->isEnabled());
    fill();
}

void TraysPage::fill() {
    tray_ = trays_->currentText().toStdString();
    const Tray size = workshop().open().tray(tray_);
    columns_->setText(QString::number(size.columns));
    rows_->setText(QString::number(size.rows));
    in_well_.assign(static_cast<std::size_t>(size.columns) * static_cast<std::size_t>(size.rows), 0);
    std::vector<Well> wells(in_well_.size());
    int beyond = 0;
    for (const UnitState& unit : workshop().units()) {
        if (tray_.empty() || unit.record.tray != tray_ || unit.record.well < 1)
            continue;
        const auto at = static_cast<std::size_t>(unit.record.well - 1);
        if (at >= wells.size()) {
            ++beyond;
            continue;
        }
        in_well_[at] = unit.record.id;
        wells[at].text = QString::number(unit.record.code.number).rightJustified(4, QLatin1Char('0'));
        wells[at].mark = unit.verdict.duty;
        wells[at].warned = unit.quarantined;
        wells[at].spoken =
            QStringLiteral("%1, %2").arg(QString::fromStdString(unit.code()), wording::duty(unit.verdict.duty));
    }
    picture_->set(size.columns, std::move(wells));
    if (beyond > 0)
        words_->setText(tr("%n units stand beyond this size. Correct the wells.", nullptr, beyond));
    else if (tray_.empty())
        words_->setText(
            tr("No tray yet. Scan or type the name of one, such as S3; then scan the units that go into it."));
    else if (chosen() != 0)
        say_well();
}

void TraysPage::resize_tray() {
    const int across = columns_->text().toInt();
    const int down = rows_->text().toInt();
    const Tray now = workshop().open().tray(tray_);
    if (tray_.empty() || (across == now.columns && down == now.rows))
        return;
    const auto size = [this, name = tray_](int columns, int rows) {
        return [this, name, columns, rows] { return workshop().open().set_tray_size(name, columns, rows); };
    };
    if (!do_step(tr("size of tray %1").arg(QString::fromStdString(tray_)), size(across, down),
                 size(now.columns, now.rows)))
        fill();
}

Id TraysPage::chosen() const {
    const auto at = static_cast<std::size_t>(picture_->chosen());
    return picture_->chosen() < 0 || at >= in_well_.size() ? 0 : in_well_[at];
}

void TraysPage::say_well() {
    const UnitState* unit = workshop().unit(chosen());
    const int well = picture_->chosen() + 1;
    words_->setText(unit == nullptr
                        ? tr("Well %1 is free.").arg(well)
                        : tr("Well %1 of tray %2: %3, %4. %5")
                              .arg(well)
                              .arg(QString::fromStdString(tray_), QString::fromStdString(unit->code()),
                                   wording::duty(unit->verdict.duty),
                                   unit->facts.capacity_ah ? figures::unit_capacity(*unit->facts.capacity_ah)
                                                           : tr("not tested yet")));
}

QString TraysPage::scan_hint() const {
    return tray_.empty() ? tr("a tray's name")
                         : tr("a unit for tray %1, or another tray").arg(QString::fromStdString(tray_));
}

bool TraysPage::take_line(const QString& line) {
    if (line.isEmpty())
        return true;
    const std::string text = line.toStdString();
    const auto unit = workshop().find_unit(text);
    if (unit) {
        put(unit.value());
        return true;
    }
    constexpr int longest_tray_name = 6; // shorter than any unit's code
    const bool name = std::all_of(line.begin(), line.end(), [](QChar c) { return c.isLetterOrNumber(); }) &&
                      std::any_of(line.begin(), line.end(), [](QChar c) { return c.isDigit(); }) &&
                      line[0].isLetter() && line.size() <= longest_tray_name;
    if (!name) // a command, a pack; a code that no unit has is objected to by the window
        return false;
    if (trays_->findText(line) < 0)
        trays_->addItem(line);
    trays_->setCurrentText(line);
    words_->setText(tr("Tray %1. Scan the units that go into it.").arg(line));
    return true;
}

void TraysPage::put(Id id) {
    const UnitState* unit = workshop().unit(id);
    if (tray_.empty()) {
        emit told(tr("Scan a tray first."), true);
        return;
    }
    const Unit before = unit->record;
    const auto well = workshop().open().put_in_tray(id, tray_);
    if (!fine(well))
        return;
    const auto home = [this, id](const std::string& tray, int at) {
        return [this, id, tray, at] { return workshop().open().set_home(id, tray, at); };
    };
    keep_step(tr("home of %1").arg(QString::fromStdString(before.code.text())), home(tray_, well.value()),
              home(before.tray, before.well));
    fill();
    picture_->choose(well.value() - 1);
    say_well();
    emit evidence_changed();
}

EvidenceContent TraysPage::evidence() const {
    EvidenceContent content;
    if (const Id unit = chosen(); unit != 0)
        content = unit_evidence(workshop(), unit);
    return content;
}

} // namespace ingot::app
