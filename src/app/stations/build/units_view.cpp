#include "app/stations/build/units_view.h"

#include "app/parts/build_picture.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/theme/theme.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/refill_work.h"
#include "workshop/wording.h"

#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

UnitsView::UnitsView(Workshop& workshop, const Commands& commands, QWidget* parent) : BuildView(workshop, parent) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* head = new Panel({}, this);
    auto* row = new QHBoxLayout;
    row->setSpacing(26);
    taken_ = new Figure(tr("taken from trays"), head);
    usable_ = new Figure(tr("usable"), head);
    difference_ = new Figure(tr("largest difference in a group"), head);
    current_ = new Figure(tr("equalising current"), head);
    for (Figure* figure : {taken_, usable_, difference_, current_})
        row->addWidget(figure);
    row->addStretch(1);
    head->body()->addLayout(row);
    outer->addWidget(head);

    auto* units = new Panel(tr("Units, group by group"), this);
    for (QAction* command : {commands.put_back, commands.pdf, commands.csv})
        units->head()->addWidget(new PressButton(command, units));
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

    auto* join = new Panel(tr("Voltages before joining"), this);
    join_words_ = sentence({}, join);
    join_words_->setObjectName(QStringLiteral("join_words"));
    join->body()->addWidget(join_words_);
    outer->addWidget(join);
    connect(picture_, &BuildPicture::chosen, this, [this](Id unit) {
        last_ = unit;
        picture_->set_last(unit);
        emit evidence_changed();
    });
}

void UnitsView::refresh() {
    if (shown_ != build())
        last_ = 0;
    shown_ = build();
    const BuildSheet sheet = workshop().build().sheet(build());
    picture_->set(sheet);
    picture_->set_last(last_);
    if (build() == 0) {
        join_words_->setText(tr("Match a set and reserve it; its sheet appears here."));
        for (Figure* figure : {taken_, usable_, difference_, current_})
            figure->set(QStringLiteral("\u2013"));
        return;
    }
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

Act UnitsView::taking(Id unit) {
    return [this, id = build(), unit]() -> Result<bool> {
        const auto line = workshop().build().take(id, unit);
        if (!line)
            return line.problem();
        return true;
    };
}

Act UnitsView::putting_back(Id unit) {
    return [this, id = build(), unit] { return workshop().build().put_back(id, unit); };
}

bool UnitsView::stands(Id unit) const {
    const BuildSheet sheet = workshop().build().sheet(build());
    return std::any_of(sheet.lines.begin(), sheet.lines.end(),
                       [&](const BuildLine& line) { return line.unit == unit && line.taken; });
}

void UnitsView::put_back_last() {
    const UnitState* unit = workshop().unit(last_);
    if (unit == nullptr)
        return;
    emit step_wanted(tr("put %1 back").arg(QString::fromStdString(unit->code())), putting_back(last_), taking(last_));
    if (!stands(last_))
        last_ = 0;
}

bool UnitsView::may_replace() const {
    const BuildSheet sheet = workshop().build().sheet(build());
    return std::any_of(sheet.lines.begin(), sheet.lines.end(),
                       [&](const BuildLine& line) { return line.unit == last_; });
}

void UnitsView::replace_last() {
    const UnitState* old = workshop().unit(last_);
    if (old == nullptr || !may_replace()) {
        emit told(tr("Scan the unit that is to be replaced first."), true);
        return;
    }
    constexpr std::size_t most_offers = 6;
    const auto offers = workshop().build().substitutes(build(), last_, most_offers);
    if (offers.empty()) {
        emit told(tr("Nothing in stock could take the place of %1. Test or open more, or give the build up.")
                      .arg(QString::fromStdString(old->code())),
                  true);
        return;
    }
    QStringList choices;
    for (const auto& offer : offers) {
        const UnitState* unit = workshop().unit(offer.unit);
        choices << tr("%1 %2: %3, group %4, pack %5")
                       .arg(QString::fromStdString(unit->code()), QString::fromStdString(unit->record.model),
                            figures::unit_capacity(*unit->facts.capacity_ah), figures::pack_capacity(offer.group_ah),
                            figures::pack_capacity(offer.usable_ah));
    }
    const auto chosen = ask_choice(
        this, tr("Replace %1").arg(QString::fromStdString(old->code())),
        tr("The most alike first. The old one goes back to stock: say what is wrong with it at Test."), choices);
    if (!chosen)
        return;
    const Id by = offers.at(static_cast<std::size_t>(*chosen)).unit;
    const Act forward = [this, id = build(), out = last_, by] { return workshop().build().replace(id, out, by); };
    const Act back = [this, id = build(), in = last_, by] { return workshop().build().replace(id, by, in); };
    emit step_wanted(tr("replace %1").arg(QString::fromStdString(old->code())), forward, back);
    refresh();
    emit evidence_changed();
    emit hint_changed();
}

bool UnitsView::show_unit(Id unit) {
    const Assembly* record = workshop().build_of(build());
    if (record == nullptr)
        return false;
    if (record->state != AssemblyState::planned) {
        emit told(tr("All units of %1 are taken.").arg(QString::fromStdString(record->label)), false);
        return true;
    }
    const UnitState* scanned = workshop().unit(unit);
    const QString code = scanned != nullptr ? QString::fromStdString(scanned->code()) : QString();
    emit step_wanted(tr("take %1").arg(code), taking(unit), putting_back(unit));
    if (!stands(unit))
        return true;
    last_ = unit;
    emit acknowledged(QStringLiteral("taken %1").arg(code));
    refresh();
    emit evidence_changed();
    emit hint_changed();
    return true;
}

bool UnitsView::take_line(const QString& line) {
    if (line.isEmpty())
        return true;
    if (!figures::typed(line))
        return false;
    // Last figures: first among the units of this build, where they are nearly always unique.
    const BuildSheet sheet = workshop().build().sheet(build());
    const int number = line.toInt();
    std::vector<Id> fitting;
    for (const BuildLine& l : sheet.lines)
        if (const UnitState* unit = workshop().unit(l.unit); unit != nullptr && unit->record.code.number == number)
            fitting.push_back(l.unit);
    if (fitting.size() == 1)
        return show_unit(fitting.front());
    const auto found = workshop().find_unit(line.toStdString());
    if (found)
        show_unit(found.value());
    else
        emit told(wording::problem(found.problem()), true);
    return true;
}

QString UnitsView::scan_hint() const {
    const BuildSheet sheet = workshop().build().sheet(build());
    if (build() == 0 || sheet.build.state != AssemblyState::planned)
        return tr("a unit label opens it");
    return tr("%1 still to take: scan each").arg(static_cast<int>(sheet.lines.size()) - sheet.taken);
}

EvidenceContent UnitsView::evidence() const {
    EvidenceContent content;
    const BuildSheet sheet = workshop().build().sheet(build());
    if (build() != 0 && last_ != 0) {
        content = unit_evidence(workshop(), last_);
        for (const BuildLine& line : sheet.lines)
            if (line.unit == last_)
                content.line =
                    line.taken ? tr("taken, for group %1").arg(line.group) : tr("for group %1").arg(line.group);
        content.unit = 0; // its duty is not reopened here
        content.decided_by.clear();
    } else if (build() != 0) {
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
    if (const auto refill = workshop().build().refill(build()))
        content.notes << wording::refill(*refill, workshop().build().design(build()))
                      << wording::refill_work(refill_work(workshop(), build()));
    content.caution = "build";
    const auto next = std::find_if(sheet.lines.begin(), sheet.lines.end(), [](const BuildLine& l) { return !l.taken; });
    if (build() != 0 && next != sheet.lines.end()) {
        content.hand_title = next->tray.empty()
                                 ? tr("Take %1").arg(QString::fromStdString(next->code))
                                 : tr("Tray %1, well %2").arg(QString::fromStdString(next->tray)).arg(next->well);
        content.hand_line =
            tr("%1, for group %2. Scan it as you take it.").arg(QString::fromStdString(next->code)).arg(next->group);
    }
    return content;
}

} // namespace ingot::app
