// The commands of the test bench, for menus, keys and buttons.
#include "app/parts/bay_wall.h"
#include "app/parts/pack_forms.h"
#include "app/parts/plan_lanes.h"
#include "app/parts/questions.h"
#include "app/parts/run_plot.h"
#include "app/stations/test/bench_view.h"
#include "app/stations/test/test_station.h"
#include "exchange/attended_hours.h"
#include "exchange/log_csv.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/meter.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QFileDialog>
#include <QLineEdit>

#include <map>

namespace ingot::app {

void TestStation::add_bench_commands() {
    QAction* attach = add_command(tr("&Attach a tester"), {},
                                  tr("The testers on the bench: where each is, and what is the matter with it"),
                                  [this] { emit room_wanted(Room::testers, 0); });
    add_command(tr("Start the simulated t&ester"), {},
                tr("A tester that ships with Ingot, to try everything without a device"), [this] {
                    constexpr double rate = 60;
                    bench_->start_simulated(rate);
                });
    add_command(tr("Disconnect the &testers"), {},
                tr("Stop talking to them; what runs there goes on within its own limits"),
                [this] { bench_->detach(); });
    add_command(tr("Time of the simulated tester…"), {}, tr("How much faster than the clock its time runs"), [this] {
        constexpr double most = 10'000;
        if (const auto rate =
                ask_figure(this, tr("Time of the simulated tester"), tr("How many times faster than the clock?"), {}, 1,
                           most, bench_->bays().rate()))
            bench_->set_rate(*rate);
    });
    add_command(tr("Watchdog of the tester…"), {},
                tr("After how many seconds without a word the tester ends its steps by itself"), [this] {
                    constexpr double most_s = 86'400;
                    if (const auto seconds = ask_figure(
                            this, tr("Watchdog of the tester"),
                            tr("End every step when nobody has spoken to the tester for how long? 0: never."), tr("s"),
                            0, most_s, bench_->bays().watchdog_s()))
                        fine(bench_->bays().set_watchdog(*seconds));
                });
    add_command(tr("Acceptance limit of conditioning…"), {},
                tr("From which share of its rating on a conditioned unit is kept"), [this] {
                    constexpr double percent = 100;
                    constexpr double least = 30;
                    constexpr double most = 120;
                    if (const auto share = ask_figure(
                            this, tr("Acceptance limit of conditioning"),
                            tr("A unit is kept when it is cycled to how much of its rating? Those that were judged are "
                               "judged anew."),
                            tr("%"), least, most, percent * acceptance_share(workshop())))
                        if (fine(set_acceptance_share(workshop(), *share / percent)))
                            bench_->refresh();
                });
    QAction* hand = add_command(tr("Chargers by hand"), QKeySequence(tr("Ctrl+F5")),
                                tr("Units on chargers without a computer: what to set, what the display said"),
                                [this] { emit room_wanted(Room::hand, 0); });
    add_command(tr("Put this unit in a &bay…"), QKeySequence(tr("Ctrl+B")), tr("Or scan the unit, then its bay (B1)"),
                [this] { ask_bay(); });
    add_command(tr("Put units in series in a bay…"), {},
                tr("Several nickel units of one model on one channel, to be conditioned together"),
                [this] { ask_series(); });
    add_command(tr("Put a pack in a bay…"), {}, tr("By its terminals, through its own board"), [this] { ask_pack(); });
    add_command(tr("Lift &out"), QKeySequence(tr("Ctrl+L")), tr("The unit leaves the chosen bay"), [this] {
        if (bench_->chosen_bay() > 0)
            bench_->lift_out(bench_->chosen_bay());
        else
            emit told(tr("Choose a bay first."), true);
    });
    add_command(tr("Stop this ba&y"), QKeySequence(tr("F8")),
                tr("End what runs on the chosen bay; what was measured is kept"), [this] {
                    if (const auto done = bench_->bays().stop(bench_->chosen_bay()); !done)
                        emit told(wording::sentence(done.problem().sentence), true);
                });
    add_command(tr("Let units &wait for a bay…"), {}, tr("Units of a pack, for the plan"),
                [this] { let_units_wait(); });
    add_command(tr("P&lan the bays"), QKeySequence(tr("F9")), tr("Which unit on which bay, when"), [this] {
        bench_->show_page(BenchView::Page::plan);
        bench_->plan();
    });
    add_command(tr("Attended hours and su&pply…"), {}, tr("When somebody is at the bench, and what the supply carries"),
                [this] { ask_hours(); });
    add_command(tr("Due date of this unit…"), {}, tr("The plan lifts it out by then where it can"),
                [this] { ask_due(); });
    add_command(tr("Export the &visits (iCalendar)…"), {}, tr("When to come to the bench, for a calendar"),
                [this] { save_visits(); });
    add_command(tr("Page: &unit"), QKeySequence(tr("Ctrl+F1")), tr("Readings and logs of the unit"),
                [this] { bench_->show_page(BenchView::Page::unit); });
    add_command(tr("Page: &curves"), QKeySequence(tr("Ctrl+F2")), tr("Runs of the unit, one over the other"),
                [this] { bench_->show_page(BenchView::Page::curves); });
    add_command(tr("Page: plan"), QKeySequence(tr("Ctrl+F3")), tr("Lanes over time"),
                [this] { bench_->show_page(BenchView::Page::plan); });
    add_command(tr("Page: conditionin&g"), QKeySequence(tr("Ctrl+F4")), tr("Keep cycling or stop"),
                [this] { bench_->show_page(BenchView::Page::conditioning); });
    add_command(tr("Save the log (CSV)…"), {}, tr("The chosen run's samples"), [this] { save_log(false); });
    add_command(tr("Save the log (Battery Data Format)…"), {},
                tr("The chosen run's samples with the open format's columns"), [this] { save_log(true); });
    add_command(tr("Save the curves as a picture…"), {}, tr("PNG or SVG"), [this] { save_picture(); });
    bench_->add_page_button(hand, tr("By hand"));
    bench_->add_command_button(attach);
}

void TestStation::ask_bay() {
    const auto& bays = bench_->bays().bays();
    const auto free = std::find_if(bays.begin(), bays.end(), [](const BayView& b) { return b.look == BayLook::free; });
    if (unit_ == 0 || bays.empty()) {
        emit told(unit_ == 0 ? tr("Scan a unit first.") : tr("No tester is on the bench. Attach one first."), true);
        return;
    }
    const auto numbers = [&] {
        QStringList names;
        for (const BayView& bay : bays)
            names << tr("Bay %1").arg(bay.bay);
        return names;
    }();
    const auto chosen = ask_choice(this, tr("Put in a bay"), tr("Which bay?"), numbers,
                                   free == bays.end() ? 0 : static_cast<int>(free - bays.begin()));
    if (chosen)
        bench_->bay_scanned(bays[static_cast<std::size_t>(*chosen)].bay, unit_);
}

// All bays; the first free one is chosen.
QComboBox* TestStation::bays_to_choose(QuestionBox& box) const {
    auto* bays = new QComboBox(&box);
    bays->setObjectName(QStringLiteral("which_bay"));
    for (const BayView& bay : bench_->bays().bays()) {
        bays->addItem(tr("Bay %1").arg(bay.bay), bay.bay);
        if (bay.look == BayLook::free && bench_->bays().bay(bays->currentData().toInt())->look != BayLook::free)
            bays->setCurrentIndex(bays->count() - 1);
    }
    box.add_row(tr("Bay"), bays);
    return bays;
}

void TestStation::ask_series() {
    if (bench_->bays().bays().empty()) {
        emit told(tr("No tester is on the bench. Attach one first."), true);
        return;
    }
    QuestionBox box(this, tr("Units in series on one bay"),
                    tr("Nickel units of one model, plus to minus. They are conditioned together; what each holds is "
                       "tested on a bay of its own."));
    const QLineEdit* codes = add_series_codes(box, workshop(), unit_);
    const QComboBox* bays = bays_to_choose(box);
    if (!box.ask())
        return;
    if (const auto on = in_series_from(workshop(), codes->text().toStdString()); fine(on))
        bench_->offer(on.value(), bays->currentData().toInt());
}

void TestStation::ask_pack() {
    if (bench_->bays().bays().empty()) {
        emit told(tr("No tester is on the bench. Attach one first."), true);
        return;
    }
    const auto packs = assemblies_for_bays(workshop());
    if (packs.empty()) {
        emit told(tr("There is no whole pack to put in a bay."), true);
        return;
    }
    QuestionBox box(this, tr("A pack in a bay"),
                    tr("By its own terminals, with its board in between, on what does not burn and never alone. The "
                       "tester sees the pack only, not its groups."));
    auto* labels = new QComboBox(&box);
    labels->setObjectName(QStringLiteral("which_pack"));
    for (const Id pack : packs)
        labels->addItem(QString::fromStdString(code_on(workshop(), OnChannel::of_assembly(pack))),
                        QVariant::fromValue<qlonglong>(pack));
    box.add_row(tr("Pack"), labels);
    const QComboBox* bays = bays_to_choose(box);
    if (box.ask())
        bench_->offer(OnChannel::of_assembly(labels->currentData().toLongLong()), bays->currentData().toInt());
}

void TestStation::let_units_wait() {
    std::map<QString, std::vector<Id>> packs;
    for (const auto& [label, units] : bench_->schedule().may_wait())
        packs[QString::fromStdString(label)] = units;
    if (packs.empty()) {
        emit told(tr("No unit waits for a test."), false);
        return;
    }
    QStringList names;
    for (const auto& [label, units] : packs)
        names << tr("%1 (%n units)", nullptr, static_cast<int>(units.size())).arg(label);
    const auto chosen = ask_choice(this, tr("Let units wait for a bay"), tr("Units of which pack?"), names);
    if (!chosen)
        return;
    auto at = packs.begin();
    std::advance(at, *chosen);
    const UnitState* first = workshop().unit(at->second.front());
    // Modules stay clamped in their row: neighbours never run at once.
    const bool clamped = first->reference.cells_in_series > 1;
    const auto count = bench_->schedule().let_wait(at->second, {}, clamped ? at->first.toStdString() : std::string());
    if (!fine(count))
        return;
    emit told(clamped ? tr("%n units wait for a bay. They are clamped in a row: neighbours will not run at once.",
                           nullptr, count.value())
                      : tr("%n units wait for a bay.", nullptr, count.value()),
              false);
    bench_->show_page(BenchView::Page::plan);
    bench_->plan();
}

void TestStation::ask_hours() {
    const BenchHours now = bench_->schedule().hours();
    BenchHours wanted;
    QuestionBox box(this, tr("Attended hours and supply"));
    const auto said = [](const auto& result) {
        return result.ok() ? QString() : wording::sentence(result.problem().sentence);
    };
    QLineEdit* shift =
        box.add_line(tr("Somebody is there (08:00-18:00)"), QString::fromStdString(exchange::write_shift(now.attended)),
                     [said](const QString& text) { return said(exchange::parse_shift(text.toStdString())); });
    QLineEdit* days = box.add_line(tr("on (mon-fri)"), QString::fromStdString(exchange::write_days(now.attended)),
                                   [said](const QString& text) {
                                       AttendedHours tried;
                                       return said(exchange::parse_days(text.toStdString(), tried));
                                   });
    QLineEdit* supply = box.add_optional_line(
        tr("Charge currents together, A (empty: no limit)"),
        now.supply_a ? figures::plain(*now.supply_a, 1) : QString(), [](const QString& text) {
            return text.isEmpty() || figures::typed(text).value_or(0) > 0
                       ? QString()
                       : tr("\"%1\" is not a current. Give amperes over 0, or leave it empty.").arg(text);
        });
    shift->setObjectName(QStringLiteral("shift"));
    days->setObjectName(QStringLiteral("days"));
    supply->setObjectName(QStringLiteral("supply"));
    if (!box.ask())
        return;
    wanted.attended = exchange::parse_shift(shift->text().trimmed().toStdString()).value();
    if (!fine(exchange::parse_days(days->text().trimmed().toStdString(), wanted.attended)))
        return;
    if (!supply->text().trimmed().isEmpty())
        wanted.supply_a = figures::typed(supply->text());
    if (!fine(bench_->schedule().set_hours(wanted)))
        return;
    bench_->plan();
}

void TestStation::ask_due() {
    const auto when = [](const QString& text) {
        return QDateTime::fromString(text, QStringLiteral("yyyy-MM-dd HH:mm"));
    };
    QuestionBox box(this, tr("Due date"), tr("When is this unit wanted? Such as 2026-01-07 17:00; empty: no date."));
    const QLineEdit* line = box.add_optional_line(
        tr("Due date"), QDateTime::currentDateTime().addDays(2).toString(QStringLiteral("yyyy-MM-dd HH:00")),
        [when](const QString& text) {
            return text.isEmpty() || when(text).isValid()
                       ? QString()
                       : tr("\"%1\" is not a date and time. Write it as 2026-01-07 17:00.").arg(text);
        });
    if (!box.ask())
        return;
    if (fine(bench_->schedule().set_due(unit_, when(line->text().trimmed()))))
        bench_->plan();
}

void TestStation::save_visits() {
    if (!bench_->lanes()->planned()) {
        emit told(tr("There is no plan yet. Let units wait for a bay, then plan."), true);
        return;
    }
    const QString path = QFileDialog::getSaveFileName(this, tr("Visits to the bench"),
                                                      QStringLiteral("bench-visits.ics"), tr("Calendars (*.ics)"));
    if (path.isEmpty())
        return;
    if (fine(exchange::write_text(path.toStdString(),
                                  BaySchedule::calendar(*bench_->lanes()->planned(), QDateTime::currentDateTime()))))
        emit told(tr("The visits are in %1.").arg(path), false);
}

void TestStation::save_log(bool battery_data_format) {
    bench_->bays().flush();
    const auto log = bench_->chosen_log();
    if (!log || log->size() == 0) {
        emit told(tr("There is no log to save: choose a bay or a unit that has one."), true);
        return;
    }
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Save the log"), battery_data_format ? QStringLiteral("log.bdf.csv") : QStringLiteral("log.csv"),
        tr("CSV (*.csv)"));
    if (path.isEmpty())
        return;
    if (fine(exchange::write_text(path.toStdString(), battery_data_format ? exchange::write_battery_data(*log)
                                                                          : exchange::write_log(*log))))
        emit told(tr("%n samples written to %1.", nullptr, static_cast<int>(log->size())).arg(path), false);
}

void TestStation::save_picture() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Save the curves"), QStringLiteral("curves.png"),
                                                      tr("Pictures (*.png *.svg)"));
    if (path.isEmpty())
        return;
    if (bench_->plot()->save_picture(path))
        emit told(tr("The curves are in %1.").arg(path), false);
    else
        emit told(tr("%1 could not be written. Choose another place.").arg(path), true);
}

std::optional<Quantity> TestStation::wanted_reading() const {
    const bool read_by_meters = quantity() == Quantity::voltage || quantity() == Quantity::ac_resistance ||
                                quantity() == Quantity::dc_resistance || quantity() == Quantity::resistance;
    return unit_ != 0 && read_by_meters ? std::optional(quantity()) : std::nullopt;
}

int TestStation::meter_bay() const {
    const BayView* bay = bench_->bays().bay_of(unit_);
    return bay == nullptr ? 0 : bay->bay;
}

void TestStation::take_reading(const bench::MeterReading& shown, Quantity wanted, const std::string& instrument) {
    // Hands that follow the meter may have forgotten to scan: no second cell is taken for this one.
    if (shown.way != bench::MeterWay::asked && read_of_ == unit_) {
        emit told(tr("This unit was read already. Scan the next one, then touch it."), true);
        return;
    }
    Measurement reading = typed_reading(0);
    reading.quantity = wanted;
    reading.value = shown.value;
    reading.instrument = instrument;
    reading.protocol = "bench meter";
    reading.resolution = shown.resolution;
    if (!fine(workshop().test().record_reading(unit_, reading)))
        return;
    if (shown.way != bench::MeterWay::asked)
        read_of_ = unit_;
    emit acknowledged(QStringLiteral("meter %1").arg(shown.value));
}

} // namespace ingot::app
