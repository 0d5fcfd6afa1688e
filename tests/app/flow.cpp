// The whole job by hand in a new workshop, as a new user would do it: from a pack to a build sheet.
#include "window.h"

#include "app/parts/duty_scatter.h"
#include "app/stations/build/build_station.h"
#include "app/stations/match/match_station.h"
#include "app/stations/sort/sort_station.h"
#include "app/stations/test/test_station.h"
#include "app/stations/triage/triage_station.h"

#include "workshop/wording.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QSpinBox>
#include <QUndoStack>

#include <random>

using namespace ingot;
using namespace ingot::tests;

TEST_CASE("By hand, in a new workshop: receive, read, open, measure, match, build") {
    const Temporary folder;
    const std::string empty = folder.file("new.ingot");
    {
        const auto made = Workshop::create(empty, "New shop");
        REQUIRE(made.ok());
    }
    Window w(empty);
    CHECK(w.window.route()->current() == Station::receive);

    // Receive: a first pack makes a first lot by itself.
    w.find<QSpinBox>("pack_series")->setValue(3);
    w.find<QSpinBox>("pack_parallel")->setValue(4);
    QTest::keyClicks(w.find<QLineEdit>("pack_label"), QStringLiteral("first pack"));
    QTest::keyClicks(w.find<QLineEdit>("pack_voltage"), QStringLiteral("10,8"));
    QTest::keyClick(w.find<QLineEdit>("pack_voltage"), Qt::Key_Return);
    w.settle();
    REQUIRE(w.shop().packs().size() == 1);
    CHECK(w.shop().lots().size() == 1);
    w.key(Qt::Key_T, Qt::ControlModifier);
    CHECK(w.shop().packs()[0].state == AssemblyState::in_triage);

    // Triage: groups and terminals by number pad.
    w.go(Station::triage);
    w.key(Qt::Key_F5);
    for (const char* volts : {"3.642", "3.640", "3.645", "10.93"})
        w.scan(QString::fromLatin1(volts));
    const Id pack = w.shop().packs()[0].id;
    CHECK(w.shop().triage().result(pack).summary == PackTriage::healthy);
    CHECK(w.view<app::TriageStation>(Station::triage)->active_box() == -1); // the round ended by itself
    w.key(Qt::Key_T, Qt::ControlModifier);
    CHECK(w.shop().packs()[0].state == AssemblyState::to_open);

    // Open.
    w.go(Station::open);
    w.find<QComboBox>("open_model")->setCurrentText(QStringLiteral("Halvard H26"));
    w.find<QLineEdit>("open_tray")->setText(QStringLiteral("A1"));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(w.shop().units().size() == 12);

    // Test: scan, number, scan, number, one quantity after the other.
    w.go(Station::test);
    std::mt19937 random(1);
    std::normal_distribution<double> normal(0, 1);
    std::vector<QString> codes;
    for (const UnitState& u : w.shop().units())
        codes.push_back(QString::fromStdString(u.code()));
    const auto measure = [&](Qt::Key choice, double middle, double spread, int digits) {
        w.scan(codes.front());
        w.key(choice, Qt::AltModifier);
        for (const QString& code : codes) {
            w.scan(code);
            w.scan(QString::number(middle + spread * normal(random), 'f', digits));
        }
    };
    measure(Qt::Key_1, 3.642, 0.004, 3);
    measure(Qt::Key_4, 2.25, 0.06, 3);
    measure(Qt::Key_2, 52.0, 2.0, 1);
    measure(Qt::Key_5, 0.9, 0.1, 2);
    CHECK(w.shop().ledger().counts().measurements == 4 + 4 * 12);
    for (const UnitState& u : w.shop().units())
        CHECK(u.verdict.duty <= Duty::store);

    // Match 3S3P out of twelve, with everything measured: exact and proved.
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    w.find<QSpinBox>("match_series")->setValue(3);
    w.find<QSpinBox>("match_parallel")->setValue(3);
    w.key(Qt::Key_F9);
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    CHECK(match->answer()->proved);
    CHECK(match->evidence().hand_title.isEmpty()); // K36: nothing for the hand before they are reserved
    CHECK(match->evidence().notes.join(QLatin1Char('\n')).contains(QStringLiteral("A1")));
    w.key(Qt::Key_Return, Qt::ControlModifier);

    // Build: take all nine; the hand card always names the next one.
    auto* build = w.view<app::BuildStation>(Station::build);
    CHECK(w.window.current_view() == build);
    for (int i = 0; i < 9; ++i) {
        const BuildSheet sheet = w.shop().build().sheet(build->build());
        const auto next =
            std::find_if(sheet.lines.begin(), sheet.lines.end(), [](const BuildLine& l) { return !l.taken; });
        REQUIRE(next != sheet.lines.end());
        CHECK(build->evidence().hand_title == QStringLiteral("Tray A1, well %1").arg(next->well));
        w.scan(QString::fromStdString(next->code));
    }
    CHECK(w.shop().build().sheet(build->build()).taken == 9);
    CHECK(w.shop().build_of(build->build())->state == AssemblyState::taken);
    CHECK(build->evidence().hand_title.isEmpty());
    CHECK(w.shop().build().sheet(build->build()).worst.advice <= JoinAdvice::within_limit);
    REQUIRE(build->write_pdf_to(QString::fromStdString(w.file("sheet.pdf"))));

    // Everything is in the file.
    const auto reader = Workshop::open(w.path()).value();
    CHECK(reader->units().size() == 12);
    CHECK(reader->inventory().placements(reader->builds().front().id).size() == 9);
}

TEST_CASE(
    "N48: from an empty workshop to a build sheet with own cells, an own model and a hand meter, nothing to restart") {
    const Temporary folder;
    const std::string empty = folder.file("own.ingot");
    REQUIRE(Workshop::create(empty, "Own shop").ok());
    Window w(empty);
    // A 5S2P pack of cells whose model nobody entered.
    w.find<QSpinBox>("pack_series")->setValue(5);
    w.find<QSpinBox>("pack_parallel")->setValue(2);
    QTest::keyClicks(w.find<QLineEdit>("pack_label"), QStringLiteral("mower pack"));
    QTest::keyClick(w.find<QLineEdit>("pack_label"), Qt::Key_Return);
    w.settle();
    REQUIRE(w.shop().packs().size() == 1);
    const Id pack = w.shop().packs()[0].id;
    w.key(Qt::Key_T, Qt::ControlModifier);
    w.go(Station::triage);
    w.key(Qt::Key_F5);
    for (const char* volts : {"3.642", "3.640", "3.645", "3.641", "3.643", "18.21"})
        w.scan(QString::fromLatin1(volts));
    CHECK(w.shop().triage().result(pack).summary == PackTriage::healthy);
    w.key(Qt::Key_T, Qt::ControlModifier);
    w.go(Station::open);
    w.find<QComboBox>("open_model")->setCurrentText(QStringLiteral("green sleeve 2600"));
    w.find<QLineEdit>("open_tray")->setText(QStringLiteral("A1"));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(w.shop().units().size() == 10);
    std::vector<QString> codes;
    for (const UnitState& u : w.shop().units())
        codes.push_back(QString::fromStdString(u.code()));
    w.go(Station::test);
    const auto evidence = [&] {
        QString words;
        for (const Evidence& e : w.window.current_view()->evidence().reasons)
            words += wording::evidence(e) + QLatin1Char(' ');
        return words;
    };
    w.scan(codes.front());
    w.key(Qt::Key_1, Qt::AltModifier);
    for (std::size_t i = 0; i < codes.size(); ++i) {
        w.scan(codes[i]);
        w.scan(QString::number(3.640 + 0.001 * static_cast<double>(i % 4), 'f', 3));
    }
    w.key(Qt::Key_4, Qt::AltModifier);
    for (std::size_t i = 0; i < codes.size(); ++i) {
        w.scan(codes[i]);
        w.scan(QString::number(2.20 + 0.02 * static_cast<double>(i), 'f', 2));
        // What was just typed is known at once; until eight are measured nobody says what it is worth.
        CHECK_FALSE(evidence().contains(QStringLiteral("Capacity not measured")));
        const Duty duty = w.shop().units()[i].verdict.duty;
        CHECK(duty == (i + 1 < least_siblings ? Duty::undecided : Duty::store));
    }
    for (const UnitState& u : w.shop().units()) {
        INFO(u.code());
        CHECK(u.verdict.duty == Duty::store);
        CHECK(u.reference.from == ReferenceFrom::siblings);
        CHECK_FALSE(u.facts.capacity_ah->conditions.temperature_c); // nobody said how warm it was
    }
    // Sort shows them though no resistance was read.
    w.go(Station::sort);
    w.scan(codes[3]);
    CHECK_FALSE(
        w.view<app::SortStation>(Station::sort)->scatter()->position_of(w.shop().units()[3].record.id).isNull());
    // Match 5S2P, reserve, sheet.
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    w.find<QSpinBox>("match_series")->setValue(5);
    w.find<QSpinBox>("match_parallel")->setValue(2);
    w.key(Qt::Key_F9);
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    auto* build = w.view<app::BuildStation>(Station::build);
    REQUIRE(w.window.current_view() == build);
    const BuildSheet sheet = w.shop().build().sheet(build->build());
    CHECK(sheet.lines.size() == 10);
    for (const BuildLine& line : sheet.lines)
        CHECK(line.capacity_ah);
    REQUIRE(build->write_pdf_to(QString::fromStdString(w.file("own.pdf"))));
    // The same after it was opened again: nothing was waiting for that.
    const auto again = Workshop::open(w.path()).value();
    for (const UnitState& u : again->units()) {
        const UnitState* now = w.shop().unit(u.record.id);
        CHECK(u.verdict.duty == now->verdict.duty);
        CHECK(u.reference.rated_ah == now->reference.rated_ah);
    }
}

TEST_CASE("N48: the same walk by keys and scanner alone, from no workshop to the build sheet") {
    const Temporary folder;
    const std::string other = folder.file("other.ingot");
    REQUIRE(Workshop::create(other, "Other").ok());
    Window w(other);
    // Tab alone must reach the field; then it is typed into as by hand.
    const auto tab_to = [&](const char* field) {
        constexpr int most = 80;
        for (int i = 0; i < most; ++i) {
            if (QApplication::focusWidget() != nullptr &&
                QApplication::focusWidget()->objectName() == QString::fromLatin1(field))
                return;
            w.key(Qt::Key_Tab);
        }
        FAIL("Tab does not reach " << field);
    };
    const auto type_in = [&](const char* field, const QString& text) {
        tab_to(field);
        w.key(Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(QApplication::focusWidget(), text);
    };
    // A new workshop: name and place, in one form.
    const QString place = QString::fromStdString(folder.file("own.ingot"));
    Window::answer([&](QWidget*) {
        QTest::keyClicks(QApplication::focusWidget(), QStringLiteral("Own shop"));
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(QApplication::focusWidget(), place);
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    });
    w.key(Qt::Key_N, Qt::ControlModifier);
    REQUIRE(w.shop().name() == "Own shop");
    w.window.activateWindow(); // as a window manager does when a box closes
    w.window.scan_field()->setFocus();
    // A 5S2P pack.
    type_in("pack_label", QStringLiteral("mower pack"));
    type_in("pack_series", QStringLiteral("5"));
    type_in("pack_parallel", QStringLiteral("2"));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(w.shop().packs().size() == 1);
    const Id pack = w.shop().packs()[0].id;
    CHECK(w.shop().pack(pack)->layout.series == 5);
    CHECK(w.shop().pack(pack)->layout.parallel == 2);
    w.key(Qt::Key_T, Qt::ControlModifier);
    w.key(Qt::Key_2, Qt::ControlModifier);
    w.key(Qt::Key_F5);
    for (const char* volts : {"3.642", "3.640", "3.645", "3.641", "3.643", "18.21"})
        w.scan(QString::fromLatin1(volts));
    CHECK(w.shop().triage().result(pack).summary == PackTriage::healthy);
    w.key(Qt::Key_T, Qt::ControlModifier);
    w.key(Qt::Key_3, Qt::ControlModifier);
    CHECK(w.find<QComboBox>("open_model")->currentText().isEmpty()); // N49: nobody read a print yet
    tab_to("open_model");
    QTest::keyClicks(QApplication::focusWidget(), QStringLiteral("green sleeve 2600"));
    type_in("open_tray", QStringLiteral("A1"));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(w.shop().units().size() == 10);
    CHECK(w.shop().units()[0].record.model == "green sleeve 2600");
    std::vector<QString> codes;
    for (const UnitState& u : w.shop().units())
        codes.push_back(QString::fromStdString(u.code()));
    w.key(Qt::Key_4, Qt::ControlModifier);
    w.scan(codes.front());
    w.key(Qt::Key_4, Qt::AltModifier);
    for (std::size_t i = 0; i < codes.size(); ++i) {
        w.scan(codes[i]);
        w.scan(QString::number(2.20 + 0.02 * static_cast<double>(i), 'f', 2));
    }
    for (const UnitState& u : w.shop().units())
        CHECK(u.verdict.duty == Duty::store);
    w.key(Qt::Key_7, Qt::ControlModifier);
    auto* match = w.view<app::MatchStation>(Station::match);
    type_in("match_series", QStringLiteral("5"));
    type_in("match_parallel", QStringLiteral("2"));
    w.key(Qt::Key_F9);
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    auto* build = w.view<app::BuildStation>(Station::build);
    REQUIRE(w.window.current_view() == build);
    CHECK(w.shop().build().sheet(build->build()).lines.size() == 10);
    // Ctrl+Z takes back what can be: the last unit that was taken.
    const auto taken = [&] { return w.shop().build().sheet(build->build()).taken; };
    w.scan(QString::fromStdString(w.shop().build().sheet(build->build()).lines.front().code));
    CHECK(taken() == 1);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(taken() == 0);
}

TEST_CASE("An inspection finding at Test quarantines the unit, and its home can be changed") {
    Window w;
    w.go(Station::test);
    Id id = 0;
    for (const UnitState& u : w.shop().units())
        if (u.in_stock() && u.verdict.duty == Duty::drive && u.record.model == "H26")
            id = u.record.id;
    w.scan(QString::fromStdString(w.shop().unit(id)->code()));
    Window::answer([](QWidget* dialog) {
        auto* choice = dialog->findChild<QComboBox*>();
        choice->setCurrentIndex(choice->findText(QStringLiteral("Leaking"), Qt::MatchStartsWith));
        QTest::keyClick(dialog, Qt::Key_Return);
    });
    w.press(QStringLiteral("Note an inspection finding…"));
    CHECK(w.shop().unit(id)->quarantined);
    CHECK(w.shop().unit(id)->verdict.duty == Duty::quarantine);
    CHECK(w.window.told().contains(QStringLiteral("Gloves")));
    CHECK(w.view<app::TestStation>(Station::test)->evidence().caution == "quarantine");
    const auto move = [&](const QString& text) {
        QString objected;
        Window::answer_line(text, &objected);
        w.press(QStringLiteral("Give it a home…"));
        return objected;
    };
    move(QStringLiteral("Box 7"));
    CHECK(w.shop().unit(id)->record.tray == "Box");
    CHECK(w.shop().unit(id)->record.well == 7);
    CHECK(move(QStringLiteral("nowhere")).contains(QStringLiteral("not a tray")));
    const UnitState* neighbour = nullptr;
    for (const UnitState& u : w.shop().units())
        if (u.in_stock() && u.record.id != id && !u.record.tray.empty())
            neighbour = &u;
    move(QStringLiteral("%1 %2").arg(QString::fromStdString(neighbour->record.tray)).arg(neighbour->record.well));
    CHECK(w.window.told().contains(QStringLiteral("already")));
    // Ctrl+Z is a step of its own: the home before comes back, and both moves stay in the record.
    const std::string before = w.shop().unit(id)->record.tray;
    const auto events = [&] { return w.shop().ledger().events_of(w.shop().unit(id)->code()).size(); };
    const auto moves = events();
    move(QStringLiteral("Crate 12"));
    w.window.activateWindow(); // no window manager gives it back after the dialog
    w.settle();
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.shop().unit(id)->record.tray == before);
    CHECK(w.shop().unit(id)->record.well == 7);
    CHECK(events() == moves + 2);
    w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    CHECK(w.shop().unit(id)->record.tray == "Crate");
    // What stands in its way is said, and the step leaves the stack.
    w.key(Qt::Key_Z, Qt::ControlModifier);
    REQUIRE(w.shop().open().set_home(neighbour->record.id, "Crate", 12).ok());
    const int steps = w.window.undo_stack()->count();
    w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    CHECK(w.window.told().contains(QStringLiteral("holds")));
    CHECK(w.window.undo_stack()->count() == steps - 1);
    CHECK(w.shop().unit(id)->record.tray == before);
}

TEST_CASE("Ctrl+Z takes back what has an inverse: a pack sent on, a symptom, an overrule") {
    Window w;
    const auto back = [&] { w.key(Qt::Key_Z, Qt::ControlModifier); };
    w.go(Station::triage);
    auto* packs = w.find<QComboBox>("triage_pack");
    const Id pack = packs->currentData().toLongLong();
    REQUIRE(w.shop().pack(pack)->state == AssemblyState::in_triage);
    w.press(QStringLiteral("Send to Open"));
    CHECK(w.shop().pack(pack)->state == AssemblyState::to_open);
    back();
    CHECK(w.shop().pack(pack)->state == AssemblyState::in_triage);
    packs->setCurrentIndex(packs->findData(qlonglong{pack}));
    w.settle();

    const Symptom& symptom = w.shop().library().triage.symptoms.front();
    const auto noted = [&] {
        const auto all = w.shop().triage().symptoms_of_pack(pack);
        return std::find(all.begin(), all.end(), symptom.id) != all.end();
    };
    const bool before = noted();
    auto* menu = w.find<QMenu>("symptoms");
    w.scan(QStringLiteral("symptoms"));
    REQUIRE(menu->isVisible());
    QTest::keyClick(menu, Qt::Key_Down);
    QTest::keyClick(menu, Qt::Key_Return);
    w.settle();
    CHECK(noted() != before);
    back();
    CHECK(noted() == before);

    w.go(Station::sort);
    auto* station = w.view<app::SortStation>(Station::sort);
    Id unit = 0;
    for (const UnitState& u : w.shop().units())
        if (u.in_stock() && u.verdict.duty == Duty::drive && !u.verdict.overruled_from)
            unit = u.record.id;
    REQUIRE(unit != 0);
    REQUIRE(station->show_unit(unit));
    REQUIRE(w.shop().sort().overrule(unit, Duty::light, "dented after the test").ok());
    w.settle();
    w.scan(QStringLiteral("withdraw"));
    CHECK(w.shop().unit(unit)->verdict.duty == Duty::drive);
    back();
    CHECK(w.shop().unit(unit)->verdict.duty == Duty::light);
    const auto overrules = w.shop().inventory().overrules();
    CHECK(std::any_of(overrules.begin(), overrules.end(),
                      [&](const Overrule& o) { return o.unit == unit && o.reason == "dented after the test"; }));
}

TEST_CASE("Two windows on one file: the reader follows nothing, harms nothing") {
    Window w;
    app::MainWindow second;
    second.show();
    REQUIRE(second.open_file(QString::fromStdString(w.path())));
    second.go_to(Station::test);
    const QString code = QString::fromStdString(second.workshop()->units()[10].code());
    second.take_line(code);
    second.take_line(QStringLiteral("3.7"));
    CHECK(second.told().contains(QStringLiteral("another window")));
    CHECK(w.shop().ledger().counts().measurements == second.workshop()->ledger().counts().measurements);
}

TEST_CASE("Opening another workshop closes the first one cleanly") {
    Window w;
    const std::string first = w.path();
    const Temporary folder;
    REQUIRE(w.window.make_file(QString::fromStdString(folder.file("other.ingot")), QStringLiteral("Other")));
    w.settle();
    CHECK(w.shop().units().empty());
    for (int i = 0; i < station_count; ++i) { // every station has an empty state that says what to do
        w.go(static_cast<Station>(i));
        QString words;
        for (auto* label : w.window.current_view()->findChildren<QLabel*>())
            if (label->isVisible())
                words += label->text() + QLatin1Char(' ');
        INFO("station " << i << ": " << words.toStdString());
        CHECK(words.size() > 40);
    }
    const auto again = Workshop::open(first); // the lock is free
    CHECK(again.value()->writable());
}

TEST_CASE("K3: an exception never leaves a slot: it is told, and the work goes on") {
    Window w;
    QTimer::singleShot(0, &w.window, [] { throw std::runtime_error("a chunk is damaged"); });
    w.settle();
    CHECK(w.window.told().contains(QStringLiteral("a chunk is damaged")));
    // An alarm is not overwritten: answers come and go beside it, a second alarm waits behind it.
    w.scan(QStringLiteral("no such thing"));
    CHECK(w.window.told().contains(QStringLiteral("neither a label")));
    CHECK(w.window.told().contains(QStringLiteral("a chunk is damaged")));
    for (int i = 0; i < 2; ++i) // told twice, shown once
        QTimer::singleShot(0, &w.window, [] { throw std::runtime_error("the disk is full"); });
    w.settle();
    CHECK(w.window.told().contains(QStringLiteral("a chunk is damaged")));
    CHECK(w.window.told().contains(QStringLiteral("1 more")));
    const auto dismiss = [&](const char* name) {
        QTest::mouseClick(w.find<app::PressButton>(name), Qt::LeftButton);
        w.settle();
    };
    dismiss("alarm_read");
    CHECK(w.window.told().contains(QStringLiteral("the disk is full")));
    dismiss("alarm_read");
    CHECK(w.window.told().startsWith(QStringLiteral("\"no such thing\"")));
    dismiss("message_read");
    CHECK(w.window.told().isEmpty());
    w.go(Station::test);
    const Id unit = w.shop().units().front().record.id;
    w.scan(QString::fromStdString(w.shop().unit(unit)->code()));
    w.scan(QStringLiteral("3.655"));
    CHECK(*w.shop().unit(unit)->facts.rest_voltage_v == 3.655);
}
