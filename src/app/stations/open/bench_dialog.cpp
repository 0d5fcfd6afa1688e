#include "app/stations/open/bench_dialog.h"

#include "app/parts/panel.h"
#include "app/parts/strip_picture.h"
#include "app/parts/tray_picture.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QLineEdit>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

namespace {

// The letter that notes a finding: the first of its name that is still free. D and M are taken.
std::vector<std::pair<QChar, const exchange::LookFinding*>> finding_keys(const exchange::Library& library) {
    std::vector<std::pair<QChar, const exchange::LookFinding*>> out;
    QString taken = QStringLiteral("dm");
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

UnitsDialog::UnitsDialog(QWidget* parent, Workshop& workshop, Id pack)
    : QDialog(parent), workshop_(workshop), pack_(pack) {
    setObjectName(QStringLiteral("units"));
    const Assembly* record = workshop.pack(pack);
    setWindowTitle(record != nullptr ? tr("Units of %1").arg(QString::fromStdString(record->label)) : tr("Units"));
    resize(820, 600);
    auto* layout = new QVBoxLayout(this);
    QStringList keys;
    for (const auto& [letter, finding] : finding_keys(workshop.library()))
        keys << QStringLiteral("%1 %2").arg(letter.toUpper()).arg(QString::fromStdString(finding->name).toLower());
    auto* help = sentence(tr("Arrows walk, one row a group. D dead: to recycling. M the model below. %1.")
                              .arg(keys.join(QStringLiteral(", "))),
                          this);
    help->setFont(type(13));
    layout->addWidget(help);
    picture_ = new TrayPicture(this);
    picture_->setObjectName(QStringLiteral("units_picture"));
    picture_->setAccessibleName(tr("Units, one row a group"));
    layout->addWidget(picture_, 1);
    auto* row = new QHBoxLayout;
    row->addWidget(caption(tr("model for M"), this));
    model_ = new QComboBox(this);
    model_->setObjectName(QStringLiteral("units_model"));
    model_->setAccessibleName(tr("Model for M"));
    for (const auto& [id, model] : workshop.library().models)
        if (record != nullptr && model.chemistry == record->chemistry)
            model_->addItem(QString::fromStdString(model.name), QString::fromStdString(id));
    row->addWidget(model_);
    row->addStretch(1);
    layout->addLayout(row);
    words_ = sentence({}, this);
    words_->setObjectName(QStringLiteral("units_words"));
    words_->setFont(type(15));
    words_->setMinimumHeight(48);
    layout->addWidget(words_);
    connect(picture_, &TrayPicture::chosen_changed, this, [this] { show_chosen(); });
    connect(picture_, &TrayPicture::key_pressed, this, &UnitsDialog::act);
    fill();
    picture_->choose(0);
    picture_->setFocus();
    show_chosen();
}

void UnitsDialog::fill() {
    const Assembly* pack = workshop_.pack(pack_);
    if (pack == nullptr)
        return;
    units_.assign(static_cast<std::size_t>(pack->layout.units()), 0);
    std::vector<Well> wells(units_.size());
    for (const UnitState& unit : workshop_.units()) {
        if (unit.record.pack != pack_ || unit.record.group < 1 || unit.record.place < 1)
            continue;
        const auto at =
            static_cast<std::size_t>((unit.record.group - 1) * pack->layout.parallel + unit.record.place - 1);
        if (at >= units_.size() || unit.record.whereabouts == Whereabouts::recycled)
            continue;
        units_[at] = unit.record.id;
        wells[at].text = short_code(unit);
        wells[at].warned = unit.quarantined || !unit.findings.empty();
        wells[at].spoken =
            QStringLiteral("%1, %2").arg(QString::fromStdString(unit.code()), wording::duty(unit.verdict.duty));
    }
    picture_->set(pack->layout.parallel, std::move(wells));
}

Id UnitsDialog::chosen() const {
    return picture_->chosen() < 0 ? 0 : units_[static_cast<std::size_t>(picture_->chosen())];
}

void UnitsDialog::show_chosen() {
    const UnitState* unit = workshop_.unit(chosen());
    if (unit == nullptr) {
        words_->setText(picture_->chosen() < 0 ? QString() : tr("Gone to recycling."));
        return;
    }
    QStringList findings;
    for (const std::string& code : unit->findings)
        if (const exchange::LookFinding* finding = workshop_.library().finding(code))
            findings << QStringLiteral("%1: %2").arg(QString::fromStdString(finding->name),
                                                     QString::fromStdString(finding->consequence_text));
    words_->setText(tr("%1, group %2, place %3, %4. %5")
                        .arg(QString::fromStdString(unit->code()))
                        .arg(unit->record.group)
                        .arg(unit->record.place)
                        .arg(QString::fromStdString(unit->record.model), findings.join(QLatin1Char(' '))));
}

void UnitsDialog::act(QChar letter) {
    const Id id = chosen();
    if (id == 0)
        return;
    Result<bool> done = true;
    if (letter == QLatin1Char('d')) {
        done = workshop_.open().recycle_unit(id);
    } else if (letter == QLatin1Char('m')) {
        const UnitState* unit = workshop_.unit(id);
        const QString before = unit != nullptr ? QString::fromStdString(unit->record.model) : QString();
        const QString after = model_->currentData().toString();
        done = workshop_.open().set_unit_model(id, after.toStdString());
        if (done && before != after)
            emit model_set(id, before, after);
    } else {
        const auto keys = finding_keys(workshop_.library());
        const auto found = std::find_if(keys.begin(), keys.end(), [&](const auto& k) { return k.first == letter; });
        if (found == keys.end()) {
            words_->setText(tr("%1 notes nothing. Nothing was recorded.").arg(letter.toUpper()));
            return;
        }
        done = workshop_.receive().note_finding(0, id, found->second->id);
    }
    if (!done) {
        words_->setText(QString::fromStdString(done.problem().text()));
        return;
    }
    fill();
    show_chosen();
}

StripsDialog::StripsDialog(QWidget* parent, Workshop& workshop, Id pack)
    : QDialog(parent), workshop_(workshop), pack_(pack) {
    setObjectName(QStringLiteral("strips"));
    const Assembly* record = workshop.pack(pack);
    setWindowTitle(record != nullptr ? tr("Strips of %1").arg(QString::fromStdString(record->label)) : tr("Strips"));
    resize(860, 440);
    auto* layout = new QVBoxLayout(this);
    auto* help =
        sentence(tr("Choose a group, then the one it is joined to: the strip appears, or goes. Arrows walk, Space "
                    "chooses, F says which face is free to slide. Draw it before anything is cut."),
                 this);
    help->setFont(type(13));
    layout->addWidget(help);
    picture_ = new StripPicture(this);
    picture_->setObjectName(QStringLiteral("strip_picture"));
    if (record != nullptr)
        picture_->set(workshop.open().strip_drawing(pack), record->layout.series);
    layout->addWidget(picture_, 1);
    words_ = sentence({}, this);
    words_->setObjectName(QStringLiteral("strip_words"));
    words_->setMinimumHeight(40);
    layout->addWidget(words_);
    connect(picture_, &StripPicture::drawn, this, &StripsDialog::keep);
    picture_->setFocus();
    say();
}

void StripsDialog::keep() {
    const auto done = workshop_.open().keep_strip_drawing(pack_, picture_->drawing());
    if (!done) {
        words_->setText(QString::fromStdString(done.problem().text()));
        return;
    }
    say();
}

void StripsDialog::say() {
    const Assembly* record = workshop_.pack(pack_);
    if (record == nullptr)
        return;
    QStringList gaps;
    for (const int g : picture_->drawing().gaps(record->layout.series))
        gaps << tr("%1 to %2").arg(g).arg(g + 1);
    words_->setText(
        (workshop_.open().strips_drawn(pack_) ? tr("Kept.") : tr("This is the usual way; nothing is kept yet.")) +
        QLatin1Char(' ') +
        (gaps.isEmpty() ? tr("The series path is whole.")
                        : tr("No strip yet from group %1.").arg(gaps.join(QStringLiteral(", ")))));
}

TraysDialog::TraysDialog(QWidget* parent, Workshop& workshop) : QDialog(parent), workshop_(workshop) {
    setObjectName(QStringLiteral("trays"));
    setWindowTitle(tr("Trays"));
    resize(720, 640);
    auto* layout = new QVBoxLayout(this);
    auto* row = new QHBoxLayout;
    trays_ = new QComboBox(this);
    trays_->setObjectName(QStringLiteral("tray_names"));
    trays_->setFont(type(18, true));
    trays_->setAccessibleName(tr("Tray"));
    for (const std::string& name : workshop.open().tray_names())
        trays_->addItem(QString::fromStdString(name));
    row->addWidget(trays_);
    row->addStretch(1);
    row->addWidget(caption(tr("wells across"), this));
    columns_ = new QLineEdit(this);
    columns_->setObjectName(QStringLiteral("tray_columns"));
    rows_ = new QLineEdit(this);
    rows_->setObjectName(QStringLiteral("tray_rows"));
    for (QLineEdit* edit : {columns_, rows_})
        edit->setFixedWidth(48);
    columns_->setAccessibleName(tr("Wells across"));
    rows_->setAccessibleName(tr("Wells down"));
    row->addWidget(columns_);
    row->addWidget(caption(tr("down"), this));
    row->addWidget(rows_);
    layout->addLayout(row);
    picture_ = new TrayPicture(this);
    picture_->setObjectName(QStringLiteral("tray_picture"));
    layout->addWidget(picture_, 1);
    scan_ = new QLineEdit(this);
    scan_->setObjectName(QStringLiteral("tray_scan"));
    scan_->setPlaceholderText(tr("Scan a tray, then the units that go into it"));
    scan_->setAccessibleName(tr("Scan"));
    layout->addWidget(scan_);
    words_ = sentence({}, this);
    words_->setObjectName(QStringLiteral("tray_words"));
    words_->setMinimumHeight(40);
    layout->addWidget(words_);
    connect(trays_, &QComboBox::currentTextChanged, this, [this] { fill(); });
    connect(scan_, &QLineEdit::returnPressed, this, &TraysDialog::scanned);
    for (QLineEdit* edit : {columns_, rows_})
        connect(edit, &QLineEdit::editingFinished, this, [this] {
            const int across = columns_->text().toInt();
            const int down = rows_->text().toInt();
            const Tray now = workshop_.open().tray(tray_);
            if (tray_.empty() || (across == now.columns && down == now.rows))
                return;
            const auto done = workshop_.open().set_tray_size(tray_, across, down);
            if (!done)
                words_->setText(QString::fromStdString(done.problem().text()));
            fill();
        });
    connect(picture_, &TrayPicture::chosen_changed, this, [this](int well) {
        const UnitState* unit = workshop_.unit(in_well_[static_cast<std::size_t>(well)]);
        words_->setText(unit == nullptr
                            ? tr("Well %1 is free.").arg(well + 1)
                            : tr("Well %1: %2, %3. %4")
                                  .arg(well + 1)
                                  .arg(QString::fromStdString(unit->code()), wording::duty(unit->verdict.duty),
                                       unit->facts.capacity_ah ? figures::unit_capacity(*unit->facts.capacity_ah)
                                                               : tr("not tested yet")));
    });
    fill();
    scan_->setFocus();
}

// A field that loses the focus while the dialog goes must change nothing.
TraysDialog::~TraysDialog() {
    columns_->disconnect(this);
    rows_->disconnect(this);
}

void TraysDialog::fill() {
    tray_ = trays_->currentText().toStdString();
    const Tray size = workshop_.open().tray(tray_);
    columns_->setText(QString::number(size.columns));
    rows_->setText(QString::number(size.rows));
    in_well_.assign(static_cast<std::size_t>(size.columns) * static_cast<std::size_t>(size.rows), 0);
    std::vector<Well> wells(in_well_.size());
    int beyond = 0;
    for (const UnitState& unit : workshop_.units()) {
        if (tray_.empty() || unit.record.tray != tray_ || unit.record.well < 1)
            continue;
        const auto at = static_cast<std::size_t>(unit.record.well - 1);
        if (at >= wells.size()) {
            ++beyond;
            continue;
        }
        in_well_[at] = unit.record.id;
        wells[at].text = short_code(unit);
        wells[at].mark = unit.verdict.duty;
        wells[at].warned = unit.quarantined;
        wells[at].spoken =
            QStringLiteral("%1, %2").arg(QString::fromStdString(unit.code()), wording::duty(unit.verdict.duty));
    }
    picture_->set(size.columns, std::move(wells));
    if (beyond > 0)
        words_->setText(tr("%n units stand beyond this size. Correct the wells.", nullptr, beyond));
}

void TraysDialog::scanned() {
    const QString line = scan_->text().trimmed();
    scan_->clear();
    if (line.isEmpty())
        return;
    const auto unit = workshop_.find_unit(line.toStdString());
    constexpr int longest_tray_name = 6; // shorter than any unit's code
    const bool figures_only = std::all_of(line.begin(), line.end(), [](QChar c) { return c.isDigit(); });
    if (!unit && !figures_only && line.size() <= longest_tray_name) { // a tray, new or known
        if (trays_->findText(line) < 0)
            trays_->addItem(line);
        trays_->setCurrentText(line);
        words_->setText(tr("Tray %1. Scan the units that go into it.").arg(line));
        return;
    }
    if (!unit) {
        words_->setText(QString::fromStdString(unit.problem().text()));
        return;
    }
    if (tray_.empty()) {
        words_->setText(tr("Scan a tray first."));
        return;
    }
    const auto well = workshop_.open().put_in_tray(unit.value(), tray_);
    if (!well) {
        words_->setText(QString::fromStdString(well.problem().text()));
        return;
    }
    fill();
    picture_->choose(well.value() - 1);
    words_->setText(tr("%1 stands in well %2 of tray %3.")
                        .arg(QString::fromStdString(workshop_.unit(unit.value())->code()))
                        .arg(well.value())
                        .arg(QString::fromStdString(tray_)));
}

} // namespace ingot::app
