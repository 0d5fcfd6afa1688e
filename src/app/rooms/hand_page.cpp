#include "app/rooms/hand_page.h"

#include "app/parts/pack_forms.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/record_table.h"
#include "app/theme/theme.h"
#include "workshop/bench_wording.h"
#include "workshop/figures.h"
#include "workshop/models/hand_model.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QTimer>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

// A figure between two limits; an empty answer is taken where it may be.
Objection figure_between(double least, double most, const QString& unit, bool may_be_empty) {
    return [=](const QString& text) {
        if (text.trimmed().isEmpty())
            return may_be_empty ? QString() : HandPage::tr("Give a figure in %1.").arg(unit);
        const auto value = figures::typed(text);
        return value && *value >= least && *value <= most
                   ? QString()
                   : HandPage::tr("Give a figure from %1 to %2 %3.")
                         .arg(figures::plain(least, 0), figures::plain(most, 0), unit);
    };
}

// How a cycle can have ended, as the display says it.
const std::vector<bench::StepEnd>& cycle_ends() {
    static const std::vector<bench::StepEnd> all{bench::StepEnd::cutoff, bench::StepEnd::capacity_limit,
                                                 bench::StepEnd::time_limit, bench::StepEnd::hot,
                                                 bench::StepEnd::stopped};
    return all;
}

} // namespace

HandPage::HandPage(Workshop& workshop, QWidget* parent) : Page(workshop, parent), hand_(workshop) {
    setObjectName(QStringLiteral("hand_page"));
    build_commands();
    QAction* back = add_way_back();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* panel = new Panel(tr("Channels"), this);
    for (QAction* command : {series_, pack_, charger_, back})
        panel->head()->addWidget(new PressButton(command, panel));
    none_ = sentence(tr("No charger is entered yet. A charger without a computer is a bench of its own: say what it is "
                        "called and how many channels it has, then put units on and type what its display says."),
                     panel);
    panel->body()->addWidget(none_);
    table_ = new RecordTable(QStringLiteral("hand_channels"), panel);
    table_->setAccessibleName(tr("Channels of the chargers run by hand"));
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    channels_ = new HandModel(workshop, table_);
    table_->set_records(channels_);
    panel->body()->addWidget(table_, 1);
    outer->addWidget(panel, 3);
    card_ = new Panel(tr("To set on the charger"), this);
    card_->set_kind(Panel::Kind::hand);
    words_ = sentence({}, card_);
    words_->setObjectName(QStringLiteral("hand_words"));
    words_->setFont(type(15));
    lines_ = sentence({}, card_);
    lines_->setObjectName(QStringLiteral("hand_card"));
    card_->body()->addWidget(words_);
    card_->body()->addWidget(lines_);
    auto* foot = new QHBoxLayout;
    foot->addWidget(new PressButton(put_on_, card_, true));
    for (QAction* command : {cycle_, ended_, stopped_, lift_})
        foot->addWidget(new PressButton(command, card_));
    foot->addStretch(1);
    card_->body()->addLayout(foot);
    outer->addWidget(card_, 2);
    connect(table_, &RecordTable::chosen, this, [this] {
        refresh();
        emit evidence_changed();
    });
    connect(table_, &RecordTable::opened, this, [this] {
        const HandBay* bay = chosen();
        if (bay != nullptr && bay->run != 0 && !bay->ended) // never begins anything: that is said with its own key
            type_cycle();
    });
    clock_ = new QTimer(this);
    constexpr int minute_ms = 60'000;
    clock_->setInterval(minute_ms);
    connect(clock_, &QTimer::timeout, this, [this] {
        channels_->read();
        refresh();
    });
    clock_->start();
}

void HandPage::build_commands() {
    charger_ = add_command(tr("&Enter a charger…"), {}, tr("Its name and how many channels it has"),
                           [this] { enter_charger(); });
    put_on_ = add_command(tr("&Put it on…"), QKeySequence(tr("Ctrl+B")),
                          tr("The scanned unit goes on the chosen channel; its voltage is asked first"),
                          [this] { put_on(); });
    series_ = add_command(tr("Units in ser&ies…"), {},
                          tr("Several nickel units of one model go on one channel, to be conditioned together"),
                          [this] { ask_series(); });
    pack_ = add_command(tr("A p&ack…"), {}, tr("A pack goes on by its terminals, through its own board"),
                        [this] { ask_pack(); });
    cycle_ = add_command(tr("&Type a cycle…"), QKeySequence(tr("Ctrl+Return")),
                         tr("What the display says: charge, discharge, why it ended, how warm it was"),
                         [this] { type_cycle(); });
    ended_ = add_command(tr("The charger is &done"), QKeySequence(tr("F9")), tr("It ended by itself"),
                         [this] { ended(true); });
    stopped_ = add_command(tr("&Stopped by hand"), QKeySequence(tr("F8")), tr("What was typed is kept"),
                           [this] { ended(false); });
    lift_ = add_command(tr("Lift &out"), QKeySequence(tr("Ctrl+L")), tr("The unit leaves the chosen channel"),
                        [this] { lift_out(); });
}

const HandBay* HandPage::chosen() const {
    return channels_->bay(table_->selected());
}

OnChannel HandPage::meant() const {
    const HandBay* bay = chosen();
    return bay != nullptr && bay->run != 0 ? static_cast<const OnChannel&>(*bay) : in_hand_;
}

void HandPage::take_in_hand(const OnChannel& on) {
    in_hand_ = on;
    const HandBay* bay = chosen();
    if (bay == nullptr || bay->run != 0)
        table_->select(channels_->first_free());
    refresh();
    emit evidence_changed();
}

void HandPage::ask_series() {
    QuestionBox box(this, tr("Units in series on one channel"),
                    tr("Nickel units of one model, plus to minus. They are conditioned together; what each holds is "
                       "tested on a channel of its own."));
    const QLineEdit* codes = add_series_codes(box, workshop(), in_hand_);
    if (!box.ask())
        return;
    if (const auto on = in_series_from(workshop(), codes->text().toStdString()); fine(on))
        take_in_hand(on.value());
}

void HandPage::ask_pack() {
    const auto packs = assemblies_for_bays(workshop());
    QStringList labels;
    for (const Id pack : packs)
        labels << QString::fromStdString(code_on(workshop(), OnChannel::of_assembly(pack)));
    if (packs.empty()) {
        emit told(tr("There is no whole pack to put on a charger."), true);
        return;
    }
    if (const auto chosen = ask_choice(this, tr("A pack on a channel"),
                                       tr("By its own terminals, with its board in between: which?"), labels))
        take_in_hand(OnChannel::of_assembly(packs[static_cast<std::size_t>(*chosen)]));
}

void HandPage::refresh() {
    const bool any = channels_->rowCount() > 0;
    none_->setVisible(!any);
    table_->setVisible(any);
    const HandBay* bay = chosen();
    const bool taken = bay != nullptr && bay->run != 0;
    const bool writable = workshop().writable();
    charger_->setEnabled(writable);
    put_on_->setEnabled(writable && bay != nullptr && !taken && !in_hand_.nothing());
    for (QAction* action : {series_, pack_})
        action->setEnabled(writable && any);
    for (QAction* action : {cycle_, ended_, stopped_})
        action->setEnabled(writable && taken && !bay->ended);
    lift_->setEnabled(writable && taken && bay->ended);
    const OnChannel on = meant();
    const bool known = known_on(workshop(), on);
    QString words;
    if (bay == nullptr)
        words = any ? tr("Choose a channel, or scan the unit that is on it.") : QString();
    else if (!taken && !known)
        words = tr("This channel is free. Scan the unit that goes on.");
    else if (!taken)
        words =
            tr("%1 goes on channel %2 of %3: set the charger, then put it on. Nothing is begun without its voltage.")
                .arg(QString::fromStdString(code_on(workshop(), on)))
                .arg(bay->channel)
                .arg(QString::fromStdString(bay->charger));
    else if (bay->ended)
        words = tr("%1 is done. Lift it out.").arg(QString::fromStdString(bay->code));
    else if (bay->row)
        words = wording::conditioning_reason(bay->row->result, bay->row->bar_ah) +
                (bay->row->result.cycles_to_run > 0
                     ? QLatin1Char(' ') + tr("Run %n more.", nullptr, bay->row->result.cycles_to_run)
                     : QString());
    else
        words = tr("%1 runs. Type what the display says when a cycle is over.").arg(QString::fromStdString(bay->code));
    words_->setText(words);
    const Protocol* protocol =
        taken ? &bay->protocol
              : workshop().library().protocol(known ? usual_protocol_of(workshop(), on) : std::string());
    const bool hand_needed = (!taken && known) || (taken && (bay->ended || bay->overdue));
    card_->set_kind(hand_needed ? Panel::Kind::hand : Panel::Kind::plain);
    card_->set_title(protocol == nullptr || !known
                         ? tr("To set on the charger")
                         : tr("To set on the charger: %1").arg(QString::fromStdString(protocol->name)));
    lines_->setText(protocol == nullptr || !known ? QString() : hand_.card(on, *protocol).join(QLatin1Char('\n')));
}

void HandPage::enter_charger() {
    QuestionBox box(this, tr("A charger run by hand"),
                    tr("The name stands on its channels and beside what it measured."));
    QLineEdit* name = box.add_line(tr("Name"));
    name->setObjectName(QStringLiteral("charger_name"));
    QLineEdit* channels = box.add_line(tr("Channels"), QString(), [](const QString& text) {
        bool number = false;
        const int value = text.toInt(&number);
        constexpr int most = 32;
        return number && value >= 1 && value <= most ? QString() : tr("Give a whole number from 1 to 32.");
    });
    channels->setObjectName(QStringLiteral("charger_channels"));
    if (!box.ask())
        return;
    if (fine(hand_.set_charger(name->text().trimmed().toStdString(), channels->text().toInt()))) {
        table_->select(channels_->first_free());
        refresh();
    }
}

void HandPage::put_on() {
    const HandBay* bay = chosen();
    if (bay == nullptr || bay->run != 0 || !known_on(workshop(), in_hand_) || !workshop().writable())
        return;
    const HandBay there = *bay;
    const OnChannel on = in_hand_;
    const QString code = QString::fromStdString(code_on(workshop(), on));
    QuestionBox box(this, tr("Put %1 on").arg(code),
                    tr("On what does not burn, in sight, a sensor on the unit. Read its voltage at the charger's own "
                       "clips: it tells whether it is this unit, the right way round."));
    auto* protocols = new QComboBox(&box);
    protocols->setObjectName(QStringLiteral("hand_protocol"));
    const Chemistry* chemistry = chemistry_on(workshop(), on);
    for (const auto& [id, protocol] : workshop().library().protocols)
        if (chemistry != nullptr && protocol.suits(chemistry->id) && protocol.purpose != "resistance")
            protocols->addItem(QString::fromStdString(protocol.name), QString::fromStdString(id));
    protocols->setCurrentIndex(
        std::max(0, protocols->findData(QString::fromStdString(usual_protocol_of(workshop(), on)))));
    box.add_row(tr("Protocol"), protocols);
    constexpr double most_v = 1000;
    QLineEdit* volts = box.add_line(tr("Voltage now, V"), QString(), figure_between(-most_v, most_v, tr("V"), false));
    volts->setObjectName(QStringLiteral("hand_volts"));
    constexpr double coldest = -40;
    constexpr double warmest = 60;
    QLineEdit* room =
        box.add_optional_line(tr("Room, °C (if known)"), QString(), figure_between(coldest, warmest, tr("°C"), true));
    room->setObjectName(QStringLiteral("hand_room"));
    volts->setFocus();
    if (!box.ask())
        return;
    const auto begun = hand_.begin(on, there.charger, there.channel, protocols->currentData().toString().toStdString(),
                                   *figures::typed(volts->text()), figures::typed(room->text()));
    if (!fine(begun))
        return;
    emit acknowledged(tr("%1 is on channel %2 of %3. Start the charger now.")
                          .arg(code)
                          .arg(there.channel)
                          .arg(QString::fromStdString(there.charger)));
    in_hand_ = {};
    table_->select(channels_->row_of_run(begun.value()));
    refresh();
    emit evidence_changed();
}

void HandPage::type_cycle() {
    const HandBay* bay = chosen();
    if (bay == nullptr || bay->run == 0 || bay->ended || !workshop().writable())
        return;
    const Id run = bay->run;
    QuestionBox box(this, tr("A cycle of %1").arg(QString::fromStdString(bay->code)),
                    tr("As the display says. What it does not say stays empty."));
    constexpr double most_mah = 1e6;
    QLineEdit* charge = nullptr;
    auto* took_all = new QCheckBox(tr("It ended at the mAh that were set: the unit took them all"), &box);
    took_all->setObjectName(QStringLiteral("cycle_took_all"));
    const bool empties_first = bay->protocol.empties_first();
    const auto ask_charge = [&] {
        charge = box.add_optional_line(empties_first ? tr("Then charged, mAh") : tr("Charged, mAh"), QString(),
                                       figure_between(0, most_mah, tr("mAh"), true));
        charge->setObjectName(QStringLiteral("cycle_charge"));
        box.add_row(QString(), took_all);
    };
    if (!empties_first)
        ask_charge();
    QLineEdit* discharge = box.add_line(empties_first && bay->typed == 0 ? tr("Discharged (what was left in it), mAh")
                                                                         : tr("Discharged, mAh"),
                                        QString(), figure_between(0, most_mah, tr("mAh"), false));
    discharge->setObjectName(QStringLiteral("cycle_discharge"));
    auto* why = new QComboBox(&box);
    why->setObjectName(QStringLiteral("cycle_end"));
    for (const bench::StepEnd end : cycle_ends())
        why->addItem(wording::step_end_word(end));
    box.add_row(tr("The discharge ended by"), why);
    constexpr double coldest = -40;
    constexpr double hottest = 150;
    QLineEdit* warm =
        box.add_optional_line(tr("Warmest, °C"), QString(), figure_between(coldest, hottest, tr("°C"), true));
    warm->setObjectName(QStringLiteral("cycle_warm"));
    if (empties_first)
        ask_charge();
    if (!box.ask())
        return;
    constexpr double mah = 1e-3;
    HandCycle cycle;
    if (const auto value = figures::typed(charge->text()))
        cycle.charge_ah = *value * mah;
    cycle.discharge_ah = figures::typed(discharge->text()).value_or(0) * mah;
    cycle.end = cycle_ends()[static_cast<std::size_t>(why->currentIndex())];
    cycle.hottest_c = figures::typed(warm->text());
    cycle.took_all = cycle.charge_ah.has_value() && took_all->isChecked();
    if (fine(hand_.add_cycle(run, cycle)))
        emit acknowledged(tr("%1 discharged").arg(figures::unit_capacity(cycle.discharge_ah)));
    refresh();
    emit evidence_changed();
}

void HandPage::ended(bool as_meant) {
    const HandBay* bay = chosen();
    if (bay == nullptr || bay->run == 0 || bay->ended || !workshop().writable())
        return;
    const QString code = QString::fromStdString(bay->code);
    const bool nothing = bay->typed == 0;
    if (fine(hand_.end(bay->run, as_meant)) && nothing)
        emit told(tr("%1 ended without a figure: nothing was measured.").arg(code), false);
    refresh();
    emit evidence_changed();
}

void HandPage::lift_out() {
    const HandBay* bay = chosen();
    if (bay == nullptr || bay->run == 0 || !bay->ended || !workshop().writable())
        return;
    (void)fine(hand_.lift_out(bay->run));
    refresh();
    emit evidence_changed();
}

bool HandPage::show_unit(Id unit) {
    if (workshop().unit(unit) == nullptr)
        return false;
    if (const Id row = channels_->row_of_unit(unit); row != 0) {
        table_->select(row);
        refresh();
        emit evidence_changed();
    } else {
        take_in_hand(unit);
    }
    return true;
}

bool HandPage::take_line(const QString& line) {
    const auto unit = workshop().find_unit(line.toStdString());
    return unit.ok() && show_unit(unit.value());
}

void HandPage::pose() {
    table_->select(channels_->first_free());
    for (const UnitState& unit : workshop().units()) // a module, where there is one
        if (in_hand_.nothing() && unit.in_stock() && !unit.quarantined && unit.reference.cells_in_series > 1)
            in_hand_ = unit.record.id;
    refresh();
    emit evidence_changed();
}

EvidenceContent HandPage::evidence() const {
    EvidenceContent content;
    content.caution = "test";
    if (const Id unit = meant().unit; workshop().unit(unit) != nullptr) {
        content = unit_evidence(workshop(), unit);
        content.caution = "test";
    }
    const HandBay* bay = chosen();
    if (bay != nullptr && bay->overdue) {
        content.hand_title = tr("Look at the charger");
        content.hand_line = tr("%1 should be done by now.").arg(QString::fromStdString(bay->code));
    } else if (bay != nullptr && bay->ended) {
        content.hand_title = tr("Lift it out");
        content.hand_line = QString::fromStdString(bay->code);
    }
    if (bay != nullptr && bay->row)
        content.notes << wording::rule_of_thumb(bay->row->result);
    return content;
}

} // namespace ingot::app
