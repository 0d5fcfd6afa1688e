// The bench meter in the real window: attached, read by a key, followed while both hands are at the cells.
#include "window.h"

#include "app/parts/choice_row.h"
#include "app/parts/record_table.h"
#include "app/rooms/meter_page.h"
#include "app/stations/rest/rest_station.h"
#include "app/stations/test/test_station.h"
#include "app/stations/triage/triage_station.h"
#include "bench/plain_meter.h"
#include "workshop/models/rest_model.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>

using namespace ingot;
using namespace ingot::tests;

namespace {

struct MeterWindow : Window {
    Temporary folder;
    PlainMeter plain{folder.file("meter")};

    void attach() {
        window.go_to(app::Room::meter);
        auto* address = find<QComboBox>("meter_address");
        REQUIRE(address != nullptr);
        address->setEditText(QString::fromStdString(plain.address()));
        command(QStringLiteral("Attach the meter"));
        REQUIRE(wait_for([&] { return words().contains(QStringLiteral("Bench meter 017 answers")); }));
    }
    [[nodiscard]] QString words() const { return find<QLabel>("meter_state")->text(); }
    [[nodiscard]] QString live() const { return find<QLabel>("meter_live")->text(); }
    void touch(const char* volts) { plain.volts = volts; }
    void lift() {
        touch("+0.0001E+00");
        pass(900);
    }
    void pass(int ms) const {
        QElapsedTimer clock;
        clock.start();
        wait_for([&] { return clock.elapsed() > ms; });
    }
    [[nodiscard]] std::int64_t readings() { return static_cast<std::int64_t>(shop().ledger().counts().measurements); }
};

} // namespace

TEST_CASE("K23: a meter is attached on its page, read by F3 at Test, and its ohms are what the shop says they are") {
    MeterWindow w;
    const Id unit = w.shop().units()[3].record.id;
    w.go(Station::test);
    w.window.view(Station::test)->show_unit(unit);
    w.key(Qt::Key_F3); // none is attached yet: its page comes
    w.settle();
    REQUIRE(qobject_cast<app::MeterPage*>(w.window.current_view()) != nullptr);
    w.scan(QStringLiteral("serial:"));
    CHECK(w.window.told().contains(QStringLiteral("names no port")));
    w.attach();
    CHECK(w.shop().catalogue().setting("meter_address") == w.plain.address());
    w.touch("+3.70120E+00");
    w.command(QStringLiteral("Try it"));
    w.pass(300);

    w.go(Station::test);
    w.window.view(Station::test)->show_unit(unit);
    const auto before = w.readings();
    w.command(QStringLiteral("Read ") + wording::quantity(Quantity::voltage));
    w.key(Qt::Key_F3);
    REQUIRE(w.wait_for([&] { return w.readings() == before + 1; }));
    const Measurement volts = w.shop().test().history(unit).front();
    CHECK(volts.value == Approx(3.7012));
    CHECK(volts.instrument == "Bench meter 017");
    CHECK(volts.protocol == "bench meter");
    CHECK(volts.resolution == Approx(1e-5));

    // Nobody said that its ohms are for live cells: it is not even asked.
    w.command(QStringLiteral("Read ") + wording::quantity(Quantity::ac_resistance));
    w.plain.ohms = "+4.52E-02";
    w.key(Qt::Key_F3);
    w.settle();
    CHECK(w.window.told().contains(QStringLiteral("not known to read")));
    CHECK(w.plain.asked["MEAS:RES?"] == 0);
    w.window.go_to(app::Room::meter);
    auto* method = w.find<app::ChoiceRow>("meter_resistance");
    emit method->button(1)->clicked();
    w.go(Station::test);
    w.window.view(Station::test)->show_unit(unit);
    w.command(QStringLiteral("Read ") + wording::quantity(Quantity::ac_resistance));
    w.key(Qt::Key_F3);
    REQUIRE(w.wait_for([&] { return w.readings() == before + 2; }));
    CHECK(w.shop().test().history(unit).front().quantity == Quantity::ac_resistance);
    CHECK(w.shop().test().history(unit).front().value == Approx(0.0452));
    w.command(QStringLiteral("Read ") +
              wording::quantity(Quantity::dc_resistance)); // another thing than this meter reads
    w.key(Qt::Key_F3);
    w.settle();
    CHECK(w.window.told().contains(QStringLiteral("not known to read")));
    CHECK(w.readings() == before + 2);
}

TEST_CASE("Both hands at the cells: a followed meter walks the shelf, and a round of groups") {
    MeterWindow w;
    w.attach();
    w.window.go_to(Station::rest);
    auto* rest = w.view<app::RestStation>(Station::rest);
    REQUIRE(w.wait_for([&] { return !rest->judging(); }));
    auto* table = rest->findChild<app::RecordTable*>(QStringLiteral("resting_units"));
    const Id first = table->filter()->id_at(0);
    const Id second = table->filter()->id_at(1);
    table->select(first);
    const auto before = w.readings();
    w.lift();
    w.key(Qt::Key_F3, Qt::ShiftModifier);
    w.touch("+3.5950E+00");
    REQUIRE(w.wait_for([&] { return w.readings() == before + 1; }));
    CHECK(w.live().contains(QStringLiteral("3.5950")));
    w.pass(700);
    CHECK(w.readings() == before + 1); // held on
    w.lift();
    CHECK(w.live().contains(QStringLiteral("free")));
    w.touch("+3.5940E+00");
    REQUIRE(w.wait_for([&] { return w.readings() == before + 2; }));
    const auto newest = [&](Id unit) { return w.shop().test().history(unit).front(); };
    CHECK(newest(first).value == Approx(3.595));
    CHECK(newest(second).value == Approx(3.594));
    CHECK(newest(second).instrument == "Bench meter 017");
    CHECK(newest(second).round == newest(first).round);
    CHECK(newest(first).round != 0);

    // The same at Triage: the boxes go on by themselves.
    w.lift();
    Assembly record;
    record.lot = w.shop().lots().front().id;
    record.label = "MOW-98 · pack 1";
    record.chemistry = "nmc";
    record.layout = {3, 2, 1};
    record.state = AssemblyState::in_triage;
    const Id pack = w.shop().receive().add_pack(record).value();
    w.settle();
    w.go(Station::triage);
    auto* packs = w.find<QComboBox>("triage_pack");
    packs->setCurrentIndex(packs->findText(QString::fromStdString(record.label)));
    w.key(Qt::Key_F5);
    const auto now = w.readings();
    int read = 0;
    for (const char* volts : {"+3.8420E+00", "+3.8410E+00", "+3.6020E+00"}) {
        w.touch(volts);
        ++read;
        REQUIRE(w.wait_for([&] { return w.readings() == now + read; }));
        w.lift();
    }
    const auto groups = w.shop().triage().group_readings(pack, Condition::rest);
    REQUIRE(groups.size() >= 3);
    for (const Measurement& m : w.shop().triage().standing_readings(pack))
        CHECK(m.instrument == "Bench meter 017");

    // Where nothing waits for it, it is said and not kept.
    w.window.go_to(app::Room::ledger);
    const auto kept = w.readings();
    w.touch("+3.3330E+00");
    REQUIRE(w.wait_for([&] { return w.window.told().contains(QStringLiteral("3.3330")); }));
    CHECK(w.window.told().contains(QStringLiteral("not kept")));
    CHECK(w.readings() == kept);
    w.key(Qt::Key_F3, Qt::ShiftModifier);
    CHECK(w.find<QLabel>("meter_live")->isHidden());
}

TEST_CASE("At Test a followed meter takes no second cell for the unit that was scanned") {
    MeterWindow w;
    w.attach();
    w.go(Station::test);
    const Id one = w.shop().units()[3].record.id;
    const Id two = w.shop().units()[4].record.id;
    w.window.view(Station::test)->show_unit(one);
    w.command(QStringLiteral("Read ") + wording::quantity(Quantity::voltage));
    const auto before = w.readings();
    w.lift();
    w.key(Qt::Key_F3, Qt::ShiftModifier);
    w.touch("+3.6010E+00");
    REQUIRE(w.wait_for([&] { return w.readings() == before + 1; }));
    w.lift();
    w.touch("+3.6400E+00"); // the next cell, not scanned
    REQUIRE(w.wait_for([&] { return w.window.told().contains(QStringLiteral("read already")); }));
    CHECK(w.readings() == before + 1);
    w.lift();
    w.scan(QString::fromStdString(w.shop().unit(two)->code()));
    w.touch("+3.6400E+00");
    REQUIRE(w.wait_for([&] { return w.readings() == before + 2; }));
    CHECK(w.shop().test().history(two).front().value == Approx(3.64));
    // The meter is switched off: the window says so, and what to look at.
    w.plain.hang_up();
    REQUIRE(w.wait_for([&] { return w.live().contains(QStringLiteral("no answer")); }));
    w.key(Qt::Key_F3);
    w.settle();
    CHECK(w.window.told().contains(QStringLiteral("cannot be reached")));
    CHECK(w.window.told().contains(QString::fromStdString(w.plain.address())));
}
