#include "app/stations/build/build_station.h"

#include "app/parts/build_picture.h"
#include "app/parts/panel.h"
#include "app/parts/record_combo.h"
#include "app/print/build_sheet.h"
#include "app/theme/theme.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/models/shop_models.h"
#include "workshop/wording.h"

#include <QFileDialog>
#include <QMessageBox>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

BuildStation::BuildStation(Workshop& workshop, QWidget* parent) : StationView(workshop, Station::build, parent) {
    add_commands();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    head_ = new Panel({}, this);
    builds_ = new RecordCombo(QStringLiteral("build"), head_);
    builds_->setAccessibleName(tr("Build"));
    builds_->set_records(new BuildsModel(workshop, builds_), [this](Id id) {
        const Assembly* build = this->workshop().build_of(id);
        return build != nullptr && build->state != AssemblyState::given_up;
    });
    head_->head()->insertWidget(0, builds_);
    words_ = new QLabel(head_);
    words_->setFont(type(14));
    set_muted(words_);
    head_->head()->insertWidget(1, words_);
    head_->head()->addWidget(new PressButton(pdf_, head_));
    head_->head()->addWidget(new PressButton(csv_, head_));
    auto* row = new QHBoxLayout;
    row->setSpacing(26);
    taken_ = new Figure(tr("taken from trays"), head_);
    usable_ = new Figure(tr("usable"), head_);
    difference_ = new Figure(tr("largest difference in a group"), head_);
    current_ = new Figure(tr("equalising current"), head_);
    for (Figure* figure : {taken_, usable_, difference_, current_})
        row->addWidget(figure);
    row->addStretch(1);
    head_->body()->addLayout(row);
    outer->addWidget(head_);

    auto* units = new Panel(tr("Units, group by group"), this);
    units->head()->addWidget(new PressButton(put_back_, units));
    auto* scroll = new QScrollArea(units);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setFocusPolicy(Qt::NoFocus);
    picture_ = new BuildPicture;
    scroll->setWidget(picture_);
    scroll->viewport()->setAutoFillBackground(false);
    picture_->setAutoFillBackground(false); // setWidget turned it on
    units->body()->addWidget(scroll, 1);
    outer->addWidget(units, 1);

    join_ = new Panel(tr("Voltages before joining"), this);
    join_words_ = sentence({}, join_);
    join_words_->setObjectName(QStringLiteral("join_words"));
    join_->body()->addWidget(join_words_);
    outer->addWidget(join_);

    connect(builds_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_)
            choose(builds_->chosen());
    });
    connect(picture_, &BuildPicture::chosen, this, [this](Id unit) {
        last_ = unit;
        picture_->set_last(unit);
        emit evidence_changed();
    });
}

void BuildStation::add_commands() {
    pdf_ = add_command(tr("Sheet as &PDF…"), QKeySequence(tr("Ctrl+P")), tr("Print the sheet to a PDF"), [this] {
        const QString path = QFileDialog::getSaveFileName(
            this, tr("Build sheet"), builds_->currentText() + QStringLiteral(".pdf"), tr("PDF (*.pdf)"));
        if (!path.isEmpty())
            emit told(write_pdf_to(path) ? tr("Build sheet written to %1.").arg(path)
                                         : tr("%1 could not be written. Choose another place.").arg(path),
                      false);
    });
    csv_ = add_command(tr("Sheet as &CSV…"), {}, tr("Write the sheet as CSV"), [this] {
        const QString path = QFileDialog::getSaveFileName(
            this, tr("Build sheet"), builds_->currentText() + QStringLiteral(".csv"), tr("CSV (*.csv)"));
        if (path.isEmpty())
            return;
        const auto done =
            exchange::write_text(path.toStdString(), BuildService::sheet_csv(workshop().build().sheet(build_)));
        if (fine(done))
            emit told(tr("Build sheet written to %1.").arg(path), false);
    });
    put_back_ = add_command(tr("Put the last unit &back"), QKeySequence(tr("Ctrl+B")),
                            tr("The unit taken last goes back to its tray"), [this] {
                                if (last_ != 0)
                                    put_back_last();
                            });
    give_up_ = add_command(tr("&Give the build up…"), {}, tr("Its units go back to stock"), [this] {
        if (QMessageBox::question(
                this, tr("Give the build up"),
                tr("Put all its units back to stock? Return those that were taken to their trays first.")) ==
            QMessageBox::Yes)
            fine(workshop().build().give_up(build_));
    });
}

void BuildStation::refresh() {
    filling_ = true;
    // A build that is new since the last look comes to the front.
    const bool newer = builds_->last() > newest_seen_;
    newest_seen_ = std::max(newest_seen_, builds_->last());
    build_ = newer || !builds_->lists(build_) ? builds_->last() : build_;
    builds_->choose(build_);
    builds_->setVisible(build_ != 0);
    filling_ = false;

    const BuildSheet sheet = workshop().build().sheet(build_);
    const bool here = build_ != 0;
    for (QAction* action : {pdf_, csv_})
        action->setEnabled(here);
    put_back_->setEnabled(here && workshop().writable());
    give_up_->setEnabled(here && workshop().writable());
    head_->set_title(here ? QString() : tr("No build yet"));
    picture_->set(sheet);
    picture_->set_last(last_);
    if (!here) {
        words_->clear();
        join_words_->setText(tr("Match a set and reserve it; its sheet appears here."));
        for (Figure* figure : {taken_, usable_, difference_, current_})
            figure->set(QStringLiteral("\u2013"));
        return;
    }
    words_->setText(
        tr("%1S%2P, %3 units").arg(sheet.build.layout.series).arg(sheet.build.layout.parallel).arg(sheet.lines.size()));
    taken_->set(tr("%1 of %2").arg(sheet.taken).arg(sheet.lines.size()));
    usable_->set(
        figures::pack_capacity(*std::min_element(sheet.group_capacity_ah.begin(), sheet.group_capacity_ah.end())));
    difference_->set(figures::or_dash(sheet.worst.difference_v,
                                      [](double v) { return figures::millivolts_signed(v).remove(QLatin1Char('+')); }),
                     tr("limit 50 mV"));
    current_->set(figures::or_dash(sheet.worst.largest_current_a, figures::amperes),
                  sheet.worst.current_limit_a > 0 ? tr("limit %1").arg(figures::amperes(sheet.worst.current_limit_a))
                                                  : QString());
    QStringList lines;
    for (std::size_t g = 0; g < sheet.joining.size(); ++g) {
        const JoinCheck& check = sheet.joining[g];
        if (check.advice == JoinAdvice::join)
            continue;
        const QString range =
            check.lowest_v ? tr("%1 to %2").arg(figures::volts(*check.lowest_v), figures::volts(*check.highest_v))
                           : tr("no voltage read");
        lines << tr("<b>Group %1</b>: %2. %3").arg(g + 1).arg(range, wording::join_advice(check));
    }
    constexpr qsizetype most_lines = 5;
    if (lines.size() > most_lines)
        lines = lines.mid(0, most_lines) << tr("and %1 more groups").arg(lines.size() - most_lines);
    if (lines.isEmpty())
        lines << tr("All groups may be joined directly.");
    lines << tr("<small>I = (E − V) / R with V = Σ(E/R) / Σ(1/R) over the group's units, no leads counted: the worst "
                "case. Limit: half the rated capacity per hour of the smallest unit.</small>");
    join_words_->setText(lines.join(QStringLiteral("<br>")));
}

void BuildStation::choose(Id build) {
    build_ = build;
    last_ = 0;
    refresh();
    emit evidence_changed();
    emit hint_changed();
}

Act BuildStation::taking(Id build, Id unit) {
    return [this, build, unit]() -> Result<bool> {
        const auto line = workshop().build().take(build, unit);
        if (!line)
            return line.problem();
        return true;
    };
}

Act BuildStation::putting_back(Id build, Id unit) {
    return [this, build, unit] { return workshop().build().put_back(build, unit); };
}

void BuildStation::put_back_last() {
    const UnitState* unit = workshop().unit(last_);
    if (unit != nullptr && do_step(tr("put %1 back").arg(QString::fromStdString(unit->code())),
                                   putting_back(build_, last_), taking(build_, last_)))
        last_ = 0;
}

bool BuildStation::show_unit(Id unit) {
    const Assembly* build = workshop().build_of(build_);
    if (build == nullptr)
        return false;
    if (build->state != AssemblyState::planned) {
        emit told(tr("All units of %1 are taken.").arg(QString::fromStdString(build->label)), false);
        return true;
    }
    const UnitState* scanned = workshop().unit(unit);
    const QString code = scanned != nullptr ? QString::fromStdString(scanned->code()) : QString();
    if (!do_step(tr("take %1").arg(code), taking(build_, unit), putting_back(build_, unit)))
        return true;
    last_ = unit;
    emit acknowledged(QStringLiteral("taken %1").arg(code));
    refresh();
    emit evidence_changed();
    emit hint_changed();
    return true;
}

bool BuildStation::take_line(const QString& line) {
    if (line.isEmpty())
        return true;
    if (!figures::typed(line))
        return false;
    // Last figures: first among the units of this build, where they are nearly always unique.
    const BuildSheet sheet = workshop().build().sheet(build_);
    const int number = line.toInt();
    std::vector<Id> fitting;
    for (const BuildLine& l : sheet.lines)
        if (const UnitState* unit = workshop().unit(l.unit); unit != nullptr && unit->record.code.number == number)
            fitting.push_back(l.unit);
    if (fitting.size() == 1)
        return show_unit(fitting.front());
    const auto found = workshop().find_unit(line.toStdString());
    if (fine(found))
        show_unit(found.value());
    return true;
}

QString BuildStation::scan_hint() const {
    const BuildSheet sheet = workshop().build().sheet(build_);
    if (build_ == 0 || sheet.build.state != AssemblyState::planned)
        return tr("a unit label opens it");
    return tr("%1 still to take: scan each").arg(static_cast<int>(sheet.lines.size()) - sheet.taken);
}

EvidenceContent BuildStation::evidence() const {
    EvidenceContent content;
    const BuildSheet sheet = workshop().build().sheet(build_);
    if (build_ != 0 && last_ != 0) {
        content = unit_evidence(workshop(), last_);
        for (const BuildLine& line : sheet.lines)
            if (line.unit == last_)
                content.line =
                    line.taken ? tr("taken, for group %1").arg(line.group) : tr("for group %1").arg(line.group);
        content.unit = 0; // its duty is not reopened here
        content.decided_by.clear();
    } else if (build_ != 0) {
        content.subject = QString::fromStdString(sheet.build.label);
        content.verdict = tr("%1S%2P").arg(sheet.build.layout.series).arg(sheet.build.layout.parallel);
        content.line = wording::join_advice(sheet.worst);
        QString how = tr("Brought in from a file, not matched here.");
        for (const MatchWay way : {MatchWay::search, MatchWay::twins, MatchWay::voltage_only, MatchWay::deal})
            if (sheet.build.way == code(way))
                how = tr("Matched by: %1, %2 of the capacity traded.")
                          .arg(wording::way(way), figures::percent(sheet.build.give_up));
        content.notes << how;
    }
    content.caution = "build";
    const auto next = std::find_if(sheet.lines.begin(), sheet.lines.end(), [](const BuildLine& l) { return !l.taken; });
    if (build_ != 0 && next != sheet.lines.end()) {
        content.hand_title = next->tray.empty()
                                 ? tr("Take %1").arg(QString::fromStdString(next->code))
                                 : tr("Tray %1, well %2").arg(QString::fromStdString(next->tray)).arg(next->well);
        content.hand_line =
            tr("%1, for group %2. Scan it as you take it.").arg(QString::fromStdString(next->code)).arg(next->group);
    }
    return content;
}

bool BuildStation::write_pdf_to(const QString& path) {
    std::vector<QString> cautions;
    const auto& library = workshop().library().cautions;
    if (const auto found = library.find("build"); found != library.end())
        for (const auto& line : found->second.sentences)
            cautions.push_back(QString::fromStdString(line));
    return write_build_sheet(path, workshop().build().sheet(build_), QString::fromStdString(workshop().name()),
                             cautions);
}

void BuildStation::pose() {}

} // namespace ingot::app
