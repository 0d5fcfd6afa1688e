// Several testers on one bench, attached and forgotten on their page, their many bays in one picture.
#include "bench/bench_process.h"
#include "window.h"

#include "app/parts/bay_wall.h"
#include "app/parts/record_table.h"
#include "app/rooms/testers_page.h"
#include "app/stations/test/bench_view.h"
#include "workshop/testers.h"

#include <QComboBox>

using namespace ingot;
using namespace ingot::tests;

namespace {

struct TestersWindow : Window {
    Temporary at_testers;
    SimProcess north{at_testers, {QStringLiteral("--bays"), QStringLiteral("4")}, "north"};
    SimProcess south{at_testers, {QStringLiteral("--bays"), QStringLiteral("12")}, "south"};
    TestersWindow() {
        go(Station::test);
        bays().set_rate(4000);
        bays().set_sample_interval(20);
        bays().set_poll_interval(20);
    }
    [[nodiscard]] Bays& bays() const { return window.bench()->bays(); }
    [[nodiscard]] app::BayWall* wall() const { return window.bench()->wall(); }
    [[nodiscard]] app::TestersPage* page() const { return qobject_cast<app::TestersPage*>(window.current_view()); }
    // Address, name, Enter: as a person fills the form.
    void attach(const std::string& address, const char* name, std::size_t bays_then) {
        auto* where = find<QComboBox>("tester_address");
        where->setEditText(QString::fromStdString(address));
        auto* called = find<QLineEdit>("tester_name");
        called->setFocus();
        called->setText(QString::fromUtf8(name));
        QTest::keyClick(called, Qt::Key_Return);
        REQUIRE(wait_for([&] { return bays().bays().size() == bays_then; }));
    }
    [[nodiscard]] std::vector<Id> cells(std::size_t count) const {
        std::vector<Id> out;
        for (const UnitState& unit : shop().units())
            if (out.size() < count && unit.in_stock() && unit.verdict.duty != Duty::quarantine &&
                unit.facts.chemistry == "nmc" && unit.reference.rated_ah > 0 && unit.facts.rest_voltage_v &&
                unit.facts.rest_voltage_v->value > 3)
                out.push_back(unit.record.id);
        return out;
    }
};

} // namespace

TEST_CASE("Testers are attached, named, found wanting and forgotten on one page; their bays are numbered through") {
    TestersWindow w;
    w.command(QStringLiteral("Attach a tester"));
    REQUIRE(w.page() != nullptr);
    w.attach(w.north.address(), "north", 4);
    w.attach(w.south.address(), "south", 16);
    CHECK(w.bays().bay(5)->tester == "south");
    // What is wrong is said before anything is kept.
    const auto known = testers_of(w.shop()).size();
    w.window.take_line(QStringLiteral("serial:"));
    CHECK(w.window.told().contains(QStringLiteral("names no port")));
    CHECK(testers_of(w.shop()).size() == known);
    w.find<QComboBox>("tester_address")->setEditText(QString::fromStdString(w.south.address()));
    w.find<QLineEdit>("tester_name")->setText(QStringLiteral("north"));
    w.press(QStringLiteral("Attach the tester"));
    CHECK(w.window.told().contains(QStringLiteral("Another tester is called")));
    // Called otherwise without being touched.
    w.find<QLineEdit>("tester_name")->setText(QStringLiteral("rack"));
    w.press(QStringLiteral("Attach the tester"));
    CHECK(w.bays().bay(5)->tester == "rack");
    CHECK(w.page()->evidence().verdict == QStringLiteral("rack"));
    // One goes: said in words on the page, in its bays and in the head.
    w.south.kill();
    REQUIRE(w.wait_for([&] {
        return w.page()->evidence().line.contains(QStringLiteral("tried again")) ||
               w.page()->evidence().line.contains(QStringLiteral("nothing at"));
    }));
    CHECK_FALSE(w.bays().put_in(w.cells(1).front(), 6, "li-capacity"));
    w.press(QStringLiteral("Forget the tester"));
    CHECK(w.bays().bays().size() == 4);
    CHECK(testers_of(w.shop()).size() == 1);
    w.key(Qt::Key_Escape);
    CHECK(w.window.current_view() == w.window.view(Station::test));
}

TEST_CASE("K40: many bays are columns, a row a tester, walked by keys; what needs the hand and what is away says so") {
    TestersWindow w;
    w.command(QStringLiteral("Attach a tester"));
    w.attach(w.north.address(), "north", 4);
    w.attach(w.south.address(), "south", 16);
    w.go(Station::test);
    app::BayWall* wall = w.wall();
    REQUIRE(wall->isVisible());
    const auto parts = wall->parts();
    REQUIRE(parts.size() == 16);
    for (const app::PaintedPart& part : parts) {
        CHECK(part.at.isValid());
        CHECK(wall->rect().contains(part.at.toAlignedRect().adjusted(1, 1, -1, -1)));
    }
    CHECK(wall->place_of(4).bottom() <= wall->place_of(5).top()); // another row
    CHECK(wall->place_of(5).left() == wall->place_of(1).left());
    wall->setFocus();
    wall->choose(2);
    QTest::keyClick(wall, Qt::Key_Down);
    CHECK(wall->chosen() == 6);
    QTest::keyClick(wall, Qt::Key_Down); // there is no third row
    CHECK(wall->chosen() == 6);
    wall->choose(16);
    QTest::keyClick(wall, Qt::Key_Up); // the row above is shorter
    CHECK(wall->chosen() == 4);
    QTest::mouseClick(wall, Qt::LeftButton, {}, wall->place_of(9).center().toPoint());
    CHECK(wall->chosen() == 9);
    // A run fills its column, and is done under a pennant.
    const Id cell = w.cells(1).front();
    const QImage before = wall->grab().toImage();
    REQUIRE(w.bays().put_in(cell, 9, "li-capacity-quick"));
    REQUIRE(w.wait_for([&] { return w.bays().bay(9)->step_share > 0.02; }));
    CHECK(wall->grab().toImage() != before);
    REQUIRE(w.wait_for([&] { return w.bays().bay(9)->look == BayLook::lift_out; }));
    CHECK(wall->parts()[8].value.contains(QStringLiteral("lift it out")));
    REQUIRE(w.bays().lift_out(9));
    // Its tester goes.
    w.south.kill();
    REQUIRE(w.wait_for([&] { return wall->parts()[8].value.contains(QStringLiteral("tester is away")); }));
    CHECK_FALSE(wall->parts()[0].value.contains(QStringLiteral("away")));
}
