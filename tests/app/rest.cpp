// Units at rest in the real window: a reading round by scanner and keys, verdicts, what is kept.
#include "window.h"

#include "app/parts/bench_clock.h"
#include "app/parts/choice_row.h"
#include "app/parts/due_board.h"
#include "app/parts/record_table.h"
#include "app/parts/rest_picture.h"
#include "app/stations/rest/rest_station.h"
#include "workshop/models/rest_model.h"
#include "workshop/rest_due.h"

#include <QLabel>

using namespace ingot;
using namespace ingot::tests;

namespace {

struct RestWindow : Window {
    RestWindow() {
        window.go_to(Station::rest);
        wait();
    }
    [[nodiscard]] app::RestStation& page() const {
        auto* page = qobject_cast<app::RestStation*>(window.current_view());
        REQUIRE(page != nullptr);
        return *page;
    }
    void wait() const {
        REQUIRE(wait_for([&] { return !page().judging(); }));
    }
    [[nodiscard]] app::RecordTable& table() const {
        return *page().findChild<app::RecordTable*>(QStringLiteral("resting_units"));
    }
    [[nodiscard]] RestModel& model() const { return *qobject_cast<RestModel*>(table().records()); }
};

} // namespace

TEST_CASE("A reading round walks the shelf; leakers of the demo are found") {
    RestWindow w;
    REQUIRE(w.model().rowCount() > 20);
    int leaking = 0;
    for (const RestingLine& line : w.model().shelf().lines)
        leaking += line.leak.verdict == LeakVerdict::leaking ? 1 : 0;
    CHECK(leaking >= 1);
    auto* which = w.page().findChild<app::ChoiceRow*>(QStringLiteral("rest_which"));
    emit which->button(2)->clicked(); // leaking
    w.settle();
    CHECK(w.table().model()->rowCount() == leaking);
    const Id leaker = w.table().filter()->id_at(0);
    w.table().select(leaker);
    emit w.table().chosen(leaker);
    w.settle();
    CHECK(w.page().findChild<QLabel*>(QStringLiteral("rest_words"))->text().contains(QStringLiteral("mV/day")));
    CHECK(w.page().findChild<app::RestPicture*>()->parts().size() > 5);
    // Scan a unit that the choice hides: it is shown.
    Id sound = 0;
    for (const RestingLine& line : w.model().shelf().lines)
        if (line.leak.verdict == LeakVerdict::fit)
            sound = line.unit;
    REQUIRE(sound != 0);
    w.scan(QString::fromStdString(w.shop().unit(sound)->code()));
    CHECK(w.table().selected() == sound);
    // Type its volts: durable, and the next one is chosen.
    const auto before = w.shop().ledger().counts().measurements;
    w.scan(QStringLiteral("3,6389"));
    CHECK(w.shop().ledger().counts().measurements == before + 1);
    const Measurement read = w.shop().test().history(sound).front();
    CHECK(read.value == Approx(3.6389));
    CHECK(*read.resolution == Approx(1e-4));
    // One that cannot be: refused, nothing kept.
    w.scan(QString::fromStdString(w.shop().unit(leaker)->code()));
    w.scan(QStringLiteral("38.1"));
    CHECK(w.shop().ledger().counts().measurements == before + 1);
    CHECK_FALSE(w.window.told().isEmpty());
    w.wait();
    for (QAction* action : w.page().commands())
        if (action->text().contains(QStringLiteral("Keep")))
            action->trigger();
    w.wait();
    CHECK(w.shop().ledger().counts().measurements > before + 1);
}

TEST_CASE("Rest: a round holds room and meter; a retention test is begun and ended by keys") {
    RestWindow w;
    auto* room = w.find<QLineEdit>("rest_room");
    auto* meter = w.find<QLineEdit>("rest_meter");
    room->setText(QStringLiteral("warm"));
    const Id first = w.table().filter()->id_at(0);
    w.table().select(first);
    const auto before = w.shop().ledger().counts().measurements;
    REQUIRE(w.page().take_line(QStringLiteral("3.601")));
    CHECK(w.shop().ledger().counts().measurements == before); // no temperature: nothing is written
    CHECK(w.window.told().contains(QStringLiteral("warm")));
    room->setText(QStringLiteral("19,5"));
    meter->setText(QStringLiteral("M1"));
    w.table().select(first);
    REQUIRE(w.page().take_line(QStringLiteral("3.601")));
    const Measurement read = w.shop().test().history(first).front();
    CHECK(read.conditions.temperature_c == 19.5);
    CHECK(read.instrument == "M1");
    CHECK(read.round != 0);
    w.wait();
    CHECK(w.find<QLabel>("rest_round")->text().contains(QStringLiteral("1 read")));
    // A module whose voltage tells nothing: charged full, and what it gave weeks later.
    Id module = 0;
    for (const UnitState& unit : w.shop().units())
        if (module == 0 && unit.in_stock() && !unit.quarantined && unit.facts.chemistry == "nimh" &&
            unit.facts.capacity_ah)
            module = unit.record.id;
    REQUIRE(module != 0);
    Measurement rested;
    rested.quantity = Quantity::voltage;
    rested.value = 7.9;
    REQUIRE(w.shop().test().record_reading(module, rested));
    w.settle();
    w.wait();
    const auto command = [&](const char* words) {
        for (QAction* action : w.page().commands())
            if (action->text().remove(QLatin1Char('&')).contains(QString::fromLatin1(words)))
                action->trigger();
        w.window.activateWindow();
        w.wait();
    };
    w.page().show_unit(module);
    command("Discharged after");
    CHECK(w.window.told().contains(QStringLiteral("charged full"))); // not begun
    Window::answer_line(QStringLiteral("8,7"));
    command("Charged full");
    REQUIRE(w.model().line(module)->retention);
    CHECK_FALSE(w.model().line(module)->due_at.empty());
}

TEST_CASE("Rest: a shelf that is due is walked from its chip") {
    RestWindow w;
    auto* due = w.page().due();
    REQUIRE(due->isVisible());
    REQUIRE_FALSE(due->parts().empty());
    const int all = w.table().model()->rowCount();
    due->setFocus();
    QTest::keyClick(due, Qt::Key_Space);
    w.settle();
    CHECK(due->chosen() == 0);
    const int rows = w.table().model()->rowCount();
    CHECK(rows < all);
    CHECK(due->parts().front().value.startsWith(QString::number(rows)));
    const Id first = w.table().selected();
    CHECK(first == w.table().filter()->id_at(0));
    const std::string tray = w.shop().unit(first)->record.tray;
    for (int row = 0; row < rows; ++row)
        CHECK(w.shop().unit(w.table().filter()->id_at(row))->record.tray == tray);
    // Volts, and the next one of the tray waits.
    REQUIRE(w.page().take_line(QStringLiteral("3.640")));
    CHECK(w.table().selected() != first);
    w.wait();
    // By mouse: pressed again, all are shown.
    const int chosen = due->chosen();
    if (chosen >= 0)
        due->choose(chosen);
    w.settle();
    CHECK(w.table().model()->rowCount() >= all - 1);
}

TEST_CASE("The bench clock says when the shelf is to be read, hours or days ahead, by mouse and keys") {
    Window w;
    w.go(Station::rest);
    app::BenchClock* clock = w.window.bench_clock();
    REQUIRE(w.wait_for([&] { return !clock->shelf().empty(); }));
    CHECK(clock->isVisible()); // without a tester on the bench, too
    const auto shelf = w.shop().rest().question();
    const auto due = due_visits(w.shop(), RestService::judge(shelf));
    CHECK(clock->shelf().size() <= due.size()); // what is overdue of one tray is one walk
    int units = 0;
    for (const DueVisit& visit : due)
        units += visit.units;
    CHECK(units > 0);
    CHECK(clock->headline().contains(QStringLiteral("helf")));
    // At its full height beside the bench: fourteen days, each shelf a part that can be read aloud.
    w.go(Station::test);
    clock->setFocus();
    CHECK_FALSE(clock->days());
    QTest::keyClick(clock, Qt::Key_Space);
    CHECK(clock->days());
    const auto parts = clock->parts();
    REQUIRE_FALSE(parts.empty());
    for (std::size_t i = 0; i < parts.size(); ++i) {
        CHECK(QRectF(clock->rect()).contains(parts[i].at));
        for (std::size_t j = 0; j < i; ++j)
            CHECK_FALSE(parts[i].at.intersects(parts[j].at)); // no label over another
    }
    QTest::mouseClick(clock, Qt::LeftButton, {}, parts.back().at.center().toPoint());
    CHECK(w.window.route()->current() == Station::rest);
    w.go(Station::test);
    QTest::mouseClick(clock, Qt::LeftButton, {}, QPoint(40, 30));
    CHECK_FALSE(clock->days());
    clock->setFocus();
    QTest::keyClick(clock, Qt::Key_Return);
    CHECK(w.window.route()->current() == Station::rest);
}
