// Sort in the window: schools to choose, what a moved limit would change, the list beside the picture.
#include "window.h"

#include "app/parts/duty_scatter.h"
#include "app/parts/record_table.h"
#include "app/rooms/ledger_page.h"
#include "app/stations/sort/sort_station.h"

#include <QComboBox>
#include <QLineEdit>
#include <QMessageBox>

using namespace ingot;
using namespace ingot::tests;

TEST_CASE("Sort: another school judges all units at once, is kept, and is taken back") {
    Window w;
    w.go(Station::sort);
    auto* sort = w.view<app::SortStation>(Station::sort);
    sort->pose();
    const auto before = w.shop().sort().duty_counts();
    auto* rules = w.find<QComboBox>("sort_rules");
    REQUIRE(rules->count() == 4);
    const auto choose = [&](const char* id) {
        rules->setCurrentIndex(rules->findData(QString::fromLatin1(id)));
        emit rules->activated(rules->currentIndex());
        w.settle();
    };
    choose("thrift");
    CHECK(w.shop().sort().rules().id == "thrift");
    const auto thrifty = w.shop().sort().duty_counts();
    CHECK(thrifty[static_cast<std::size_t>(Duty::scrap)] < before[static_cast<std::size_t>(Duty::scrap)]);
    CHECK(sort->evidence().decided_by.contains(QStringLiteral("Thrift")));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.shop().sort().rules().id == "capacity-tested");
    CHECK(w.shop().sort().duty_counts() == before);

    // A moved limit: what it would change is counted, and another school asks what becomes of it.
    auto* changes = w.find<QLabel>("sort_changes");
    CHECK_FALSE(changes->isVisible());
    sort->set_limit(true, 0, 2.4);
    w.settle();
    CHECK(changes->isVisible());
    CHECK(changes->text().contains(QStringLiteral("Drive")));
    Window::answer([](QWidget* box) { qobject_cast<QMessageBox*>(box)->button(QMessageBox::Cancel)->click(); });
    choose("thrift");
    CHECK(w.shop().sort().rules().id == "capacity-tested"); // nothing was chosen, nothing lost
    CHECK(w.shop().sort().rules_changed());
    CHECK(rules->currentData().toString() == QStringLiteral("capacity-tested"));
    Window::answer([](QWidget* box) { qobject_cast<QMessageBox*>(box)->button(QMessageBox::Save)->click(); });
    choose("thrift");
    CHECK(w.shop().sort().rules().id == "thrift");
    choose("capacity-tested");
    CHECK(w.shop().sort().rules().version == 2);
}

TEST_CASE("Sort: the list shows the model's units; what is selected in one is selected in the other") {
    Window w;
    w.go(Station::sort);
    auto* sort = w.view<app::SortStation>(Station::sort);
    sort->pose();
    const Id posed = sort->evidence().unit;
    w.key(Qt::Key_L, Qt::AltModifier);
    REQUIRE(sort->list()->isVisible());
    CHECK(sort->list()->selected() == posed);
    int of_model = 0;
    for (const UnitState& unit : w.shop().units())
        of_model += unit.in_stock() && unit.record.model == "H26" ? 1 : 0;
    CHECK(sort->list()->filter()->rowCount() == of_model);
    sort->list()->setFocus();
    QTest::keyClick(sort->list(), Qt::Key_Down);
    w.settle();
    const Id next = sort->list()->selected();
    CHECK(next != posed);
    CHECK(sort->evidence().unit == next);
    // A label selects it in the list, too.
    w.scan(QString::fromStdString(w.shop().unit(posed)->code()));
    CHECK(sort->list()->selected() == posed);
    w.key(Qt::Key_L, Qt::AltModifier);
    CHECK(sort->scatter()->isVisible());
    CHECK(sort->evidence().unit == posed);
}

TEST_CASE("N51: weeks later the units say what their pack was; Sort records it and the Ledger shows it") {
    Window w;
    Assembly record;
    record.lot = w.shop().lots().front().id;
    record.label = "MOW-96 · pack 2";
    record.chemistry = "nmc";
    record.layout = {5, 1, 1};
    record.state = AssemblyState::in_triage;
    const Id pack = w.shop().receive().add_pack(record).value();
    for (int g = 1; g <= 5; ++g)
        REQUIRE(w.shop().triage().record_group_reading(pack, g, g == 4 ? 3.41 : 3.70, Condition::rest, "m"));
    REQUIRE(w.shop().receive().set_state(pack, AssemblyState::to_open));
    const auto units = w.shop().open().open_pack(pack, "K4", "H26", "T1").value();
    const auto measure = [&](Id unit, Quantity quantity, double value) {
        Measurement m;
        m.quantity = quantity;
        m.value = value;
        m.instrument = "bench";
        REQUIRE(w.shop().test().record_reading(unit, m));
    };
    for (const Id unit : units) {
        measure(unit, Quantity::capacity, 2.3);
        measure(unit, Quantity::self_discharge, w.shop().unit(unit)->record.group == 4 ? 0.03 : 0.0006);
    }
    w.settle();
    w.go(Station::sort);
    w.scan(QString::fromStdString(w.shop().unit(units[0])->code()));
    auto* sort = w.view<app::SortStation>(Station::sort);
    const auto notes = [](const app::Page* page) { return page->evidence().notes.join(QLatin1Char(' ')); };
    CHECK(notes(sort).contains(QStringLiteral("as its units read: leaking cell, group 4.")));
    QString first;
    Window::answer([&first](QWidget* dialog) {
        first = dialog->findChild<QComboBox*>(QStringLiteral("cause"))->currentText();
        QTest::keyClick(dialog, Qt::Key_Return); // as it stands
    });
    w.scan(QStringLiteral("what its pack turned out to be"));
    REQUIRE(w.wait_for([&] { return w.shop().triage().outcome(pack).has_value(); }));
    CHECK(first == QStringLiteral("As its units read: leaking cell, group 4"));
    CHECK(w.shop().triage().outcome(pack)->causes == std::vector<NamedFault>{{Fault::leaking_cell, {4}}});
    w.settle();
    CHECK_FALSE(notes(sort).contains(QStringLiteral("as its units read")));
    // It is corrected in the Ledger, on the pack's own line.
    w.window.go_to(app::Room::ledger);
    auto* ledger = qobject_cast<app::LedgerPage*>(w.window.current_view());
    REQUIRE(ledger != nullptr);
    ledger->show_list(app::LedgerPage::List::packs);
    REQUIRE(w.wait_for([&] {
        ledger->table()->select(pack);
        return ledger->table()->selected() == pack;
    }));
    CHECK(notes(ledger).contains(QStringLiteral("Turned out to be: Leaking cell, group 4.")));
    Window::answer([](QWidget* dialog) {
        CHECK(dialog->findChild<QComboBox*>(QStringLiteral("cause"))->currentText() ==
              QStringLiteral("As recorded: leaking cell, group 4"));
        CHECK(dialog->findChild<QLineEdit*>(QStringLiteral("cause_leaking-cell"))->text() == QStringLiteral("4"));
        dialog->findChild<QLineEdit*>(QStringLiteral("cause_leaking-cell"))->clear();
        auto* joint = dialog->findChild<QLineEdit*>(QStringLiteral("cause_high-resistance-joint"));
        joint->setFocus();
        QTest::keyClicks(joint, QStringLiteral("2"));
        QTest::keyClick(dialog, Qt::Key_Return);
    });
    w.command(QStringLiteral("What the pack turned out to be…"));
    REQUIRE(w.wait_for([&] { return w.shop().triage().outcome(pack)->causes.front().fault != Fault::leaking_cell; }));
    w.settle();
    CHECK(notes(ledger).contains(QStringLiteral("Turned out to be: Resistive joint, group 2.")));
    // A unit that came without a pack has nothing to ask about.
    LooseUnits loose;
    loose.lot = record.lot;
    loose.model = "H26";
    loose.chemistry = "nmc";
    loose.count = 4;
    loose.roll = "K4";
    const auto bought = w.shop().receive().take_in_loose(loose, w.shop().open()).value();
    for (const Id unit : bought)
        measure(unit, Quantity::self_discharge, unit == bought[0] ? 0.05 : 0.0005);
    for (const Id unit : bought)
        measure(unit, Quantity::capacity, 2.3);
    CHECK(w.shop().triage().causes_by_units(w.shop().unit(bought[0])->record.pack).empty());
}
