// Chargers run by hand in the real window: keys and scanner only.
#include "window.h"

#include "app/parts/record_table.h"
#include "app/rooms/hand_page.h"
#include "workshop/models/hand_model.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

using namespace ingot;
using namespace ingot::tests;

namespace {

struct HandWindow : Window {
    [[nodiscard]] app::HandPage& page() const {
        auto* page = qobject_cast<app::HandPage*>(window.current_view());
        REQUIRE(page != nullptr);
        return *page;
    }
    [[nodiscard]] bool may(const QString& words) const {
        for (QAction* action : window.current_view()->commands())
            if (action->text().remove(QLatin1Char('&')).startsWith(words))
                return action->isEnabled();
        return false;
    }
    // Fills the box that comes up, by the names of its fields, and accepts it.
    static void fill(const std::vector<std::pair<QString, QString>>& fields, bool* stayed = nullptr) {
        answer([fields, stayed](QWidget* dialog) {
            for (const auto& [name, text] : fields) {
                auto* edit = dialog->findChild<QLineEdit*>(name);
                REQUIRE(edit != nullptr);
                edit->setText(text);
            }
            auto* box = qobject_cast<QDialog*>(dialog);
            box->accept();
            if (stayed != nullptr) {
                *stayed = box->isVisible();
                box->reject();
            }
        });
    }
    [[nodiscard]] QString words() const { return page().findChild<QLabel*>(QStringLiteral("hand_words"))->text(); }
    [[nodiscard]] QString card() const { return page().findChild<QLabel*>(QStringLiteral("hand_card"))->text(); }
    [[nodiscard]] Id module(std::size_t n) const {
        for (const UnitState& unit : shop().units())
            if (unit.facts.chemistry == "nimh" && unit.in_stock() && !unit.quarantined &&
                unit.verdict.duty != Duty::quarantine && unit.reference.rated_ah > 0 && n-- == 0)
                return unit.record.id;
        FAIL("no module");
        return 0;
    }
};

} // namespace

TEST_CASE("N31: a charger without a computer in the window: entered, put on, cycles typed, judged, lifted out") {
    HandWindow w;
    w.go(Station::test);
    w.command(QStringLiteral("Chargers by hand"));
    REQUIRE(w.window.current_view() == w.window.view(app::Room::hand));
    HandWindow::fill({{QStringLiteral("charger_name"), QStringLiteral("Four-way")},
                      {QStringLiteral("charger_channels"), QStringLiteral("4")}});
    w.command(QStringLiteral("Enter a charger"));
    HandBays hand(w.shop());
    const std::size_t before = hand.bays().size();
    REQUIRE(before >= 4);
    CHECK_FALSE(w.may(QStringLiteral("Put it on"))); // nothing was scanned
    const Id module = w.module(0);
    const QString code = QString::fromStdString(w.shop().unit(module)->code());
    w.scan(code);
    CHECK(w.words().contains(code));
    CHECK(w.card().contains(QStringLiteral("Discharge with")));
    // Without a voltage the box stays; with a reversed one nothing is begun.
    bool stayed = false;
    HandWindow::fill({}, &stayed);
    w.command(QStringLiteral("Put it on"));
    CHECK(stayed);
    HandWindow::fill({{QStringLiteral("hand_volts"), QStringLiteral("-7,8")}});
    w.command(QStringLiteral("Put it on"));
    CHECK_FALSE(hand.bay_of(module));
    CHECK_FALSE(w.window.told().isEmpty());
    const double volts = w.shop().unit(module)->facts.fresh_voltage_v().value_or(7.8);
    HandWindow::fill({{QStringLiteral("hand_volts"), QString::number(volts)}});
    w.command(QStringLiteral("Put it on"));
    REQUIRE(hand.bay_of(module));
    // The same unit on a tester's bay as well: refused by the one rule that both have.
    CHECK(hand.may_not_begin(module, "Four-way", 4, usual_protocol_of(w.shop(), module), volts));
    const double rated = w.shop().unit(module)->reference.rated_ah;
    const auto type = [&](double share) {
        HandWindow::fill({{QStringLiteral("cycle_charge"), QStringLiteral("")},
                          {QStringLiteral("cycle_discharge"), QString::number(rated * share * 1000, 'f', 0)}});
        w.command(QStringLiteral("Type a cycle"));
    };
    type(0.86);
    type(0.87);
    type(0.872);
    const auto bay = hand.bay_of(module);
    REQUIRE(bay);
    CHECK(bay->cycles.size() == 3);
    if (bay->row)
        CHECK(bay->row->result.verdict == ConditioningVerdict::fit);
    // mAh typed as if they were a tenth of a unit's: the objection names it, nothing is kept.
    HandWindow::fill({{QStringLiteral("cycle_discharge"), QStringLiteral("650000")}});
    w.command(QStringLiteral("Type a cycle"));
    CHECK(hand.bay_of(module)->cycles.size() == 3);
    CHECK_FALSE(w.may(QStringLiteral("Lift out")));
    w.command(QStringLiteral("The charger is done"));
    CHECK_FALSE(w.may(QStringLiteral("Type a cycle")));
    CHECK(w.window.current_view()->evidence().hand_title.contains(QStringLiteral("Lift")));
    w.command(QStringLiteral("Lift out"));
    CHECK_FALSE(hand.bay_of(module));
    CHECK(w.shop().unit(module)->facts.capacity_ah->value == Approx(rated * 0.872).epsilon(1e-3));
    w.window.activateWindow();
    w.settle();
    w.key(Qt::Key_Escape);
    CHECK(w.window.current_view() == w.window.view(Station::test));
}

TEST_CASE("N31: Enter on a free channel begins nothing; a scan finds where a unit is") {
    HandWindow w;
    HandBays hand(w.shop());
    REQUIRE(hand.set_charger("Four-way", 4));
    const Id module = w.module(1);
    const double volts = w.shop().unit(module)->facts.fresh_voltage_v().value_or(7.8);
    REQUIRE(hand.begin(module, "Four-way", 3, usual_protocol_of(w.shop(), module), volts));
    w.window.go_to(app::Room::hand);
    w.settle();
    auto* table = w.page().findChild<app::RecordTable*>(QStringLiteral("hand_channels"));
    w.scan(QString::fromStdString(w.shop().unit(w.module(0))->code()));
    REQUIRE(table->selected() != 0);
    const auto runs = w.shop().ledger().counts().runs;
    QTest::keyClick(table, Qt::Key_Return);
    QTest::keyClick(table, Qt::Key_Space);
    w.settle();
    CHECK(w.shop().ledger().counts().runs == runs);
    w.scan(QString::fromStdString(w.shop().unit(module)->code()));
    auto* channels = qobject_cast<HandModel*>(table->records());
    REQUIRE(channels != nullptr);
    CHECK(channels->bay(table->selected())->unit == module);
    CHECK(channels->bay(table->selected())->channel == 3);
}

TEST_CASE("N31: a channel that should be done says so at any station, until it is read") {
    const Temporary folder;
    const std::string file = folder.file("late.ingot");
    {
        auto shop = Workshop::create(file, "Late").value();
        REQUIRE(shop->import_folder(Workshop::shipped_folder("demo")));
        shop->set_clock([] { return QDateTime::currentDateTimeUtc().addDays(-9); });
        HandBays hand(*shop);
        REQUIRE(hand.set_charger("Four-way", 4));
        for (const UnitState& unit : shop->units())
            if (unit.facts.chemistry == "nimh" && unit.in_stock() && !unit.quarantined && unit.reference.rated_ah > 0) {
                const double volts = unit.facts.fresh_voltage_v().value_or(7.8);
                REQUIRE(hand.begin(unit.record.id, "Four-way", 2, usual_protocol_of(*shop, unit.record.id), volts));
                break;
            }
    }
    Window w(file);
    auto* alarm = w.window.findChild<QWidget*>(QStringLiteral("alarm_bar"));
    REQUIRE(alarm != nullptr);
    CHECK(alarm->isVisible());
    CHECK(alarm->findChild<QLabel*>()->text().contains(QStringLiteral("channel 2 of Four-way")));
}

TEST_CASE("N34: a load test typed at Test becomes a DC resistance with its uncertainty") {
    HandWindow w;
    w.go(Station::test);
    const Id cell = [&] {
        for (const UnitState& unit : w.shop().units())
            if (unit.facts.chemistry == "nmc" && unit.in_stock() && !unit.quarantined)
                return unit.record.id;
        return Id(0);
    }();
    w.scan(QString::fromStdString(w.shop().unit(cell)->code()));
    const auto before = w.shop().ledger().counts().measurements;
    bool stayed = false; // three volts for four currents
    HandWindow::fill({{QStringLiteral("load_volts"), QStringLiteral("4.10; 4.08; 4.04")}}, &stayed);
    w.command(QStringLiteral("Load test by hand"));
    CHECK(stayed);
    HandWindow::fill({{QStringLiteral("load_volts"), QStringLiteral("4,00; 4,08; 4,04; 4,10")}});
    w.command(QStringLiteral("Load test by hand"));
    CHECK(w.shop().ledger().counts().measurements == before);
    HandWindow::fill({{QStringLiteral("load_volts"), QStringLiteral("4,101; 4,078; 4,036; 4,003")}});
    w.command(QStringLiteral("Load test by hand"));
    REQUIRE(w.shop().ledger().counts().measurements == before + 1);
    const Measurement read = w.shop().test().history(cell).front();
    CHECK(read.quantity == Quantity::dc_resistance);
    CHECK(read.value == Approx(0.065).margin(0.001));
    CHECK(read.uncertainty.has_value());
    CHECK(*read.conditions.discharge_current_a == Approx(1.5));
    CHECK(w.window.told().contains(QStringLiteral("where nothing is drawn")));
}

TEST_CASE("N28: three modules in series on one channel in the window: named, put on, cycled, lifted out together") {
    HandWindow w;
    HandBays hand(w.shop());
    REQUIRE(hand.set_charger("Four-way", 4));
    w.window.go_to(app::Room::hand);
    w.settle();
    std::vector<Id> three;
    for (std::size_t n = 0; three.size() < 3; ++n)
        if (const Id unit = w.module(n); w.shop().unit(unit)->record.model == w.shop().unit(w.module(0))->record.model)
            three.push_back(unit);
    QStringList codes;
    for (const Id unit : three)
        codes << QString::fromStdString(w.shop().unit(unit)->code());
    // A code that is none is objected to where it is typed.
    QString objected;
    Window::answer_line(QStringLiteral("nobody"), &objected);
    w.window.activateWindow();
    w.command(QStringLiteral("Units in series"));
    CHECK_FALSE(objected.isEmpty());
    Window::answer_line(codes.join(QLatin1Char(' ')));
    w.window.activateWindow();
    w.command(QStringLiteral("Units in series"));
    CHECK(w.words().contains(QStringLiteral("+ 2 in series")));
    CHECK(w.card().contains(QStringLiteral("Discharge with")));
    double volts = 0;
    for (const Id unit : three)
        volts += w.shop().unit(unit)->facts.fresh_voltage_v().value_or(7.8);
    HandWindow::fill({{QStringLiteral("hand_volts"), QString::number(volts)}});
    w.window.activateWindow();
    w.command(QStringLiteral("Put it on"));
    for (const Id unit : three)
        REQUIRE(hand.bay_of(unit));
    HandWindow::fill({{QStringLiteral("cycle_discharge"), QStringLiteral("5400")}});
    w.window.activateWindow();
    w.command(QStringLiteral("Type a cycle"));
    // Any of them scanned finds the channel.
    w.scan(codes[2]);
    CHECK(w.words().contains(QStringLiteral("in series")) == !hand.bay_of(three[0])->row);
    w.command(QStringLiteral("The charger is done"));
    w.command(QStringLiteral("Lift out"));
    for (const Id unit : three) {
        CHECK_FALSE(hand.bay_of(unit));
        CHECK(w.shop().test().runs(unit).front().units() == three);
    }
}

TEST_CASE("A pack by its terminals on a channel in the window") {
    HandWindow w;
    HandBays hand(w.shop());
    REQUIRE(hand.set_charger("Four-way", 4));
    w.window.go_to(app::Room::hand);
    w.settle();
    const auto packs = assemblies_for_bays(w.shop());
    int chosen = -1;
    for (std::size_t i = 0; i < packs.size() && chosen < 0; ++i) {
        const OnChannel on = OnChannel::of_assembly(packs[i]);
        const Chemistry* chemistry = chemistry_on(w.shop(), on);
        const BayUnit facts = bay_unit_of(w.shop(), on);
        if (chemistry != nullptr && !chemistry->lithium && facts.rated_ah > 0 && facts.cells <= 20 &&
            !may_run_on_no_bay(w.shop(), on, w.shop().library().protocol(usual_protocol_of(w.shop(), on))))
            chosen = static_cast<int>(i);
    }
    if (chosen < 0) { // the demo has no such pack: one comes in
        Assembly pack;
        pack.lot = w.shop().lots().front().id;
        pack.label = "AAA lantern row";
        pack.chemistry = "nimh";
        pack.layout = {2, 1, 6};
        pack.claim.capacity_ah = 6.5;
        REQUIRE(w.shop().receive().add_pack(pack));
        const auto again = assemblies_for_bays(w.shop());
        for (std::size_t i = 0; i < again.size(); ++i)
            if (w.shop().assembly(again[i])->label == pack.label)
                chosen = static_cast<int>(i);
    }
    const Id pack = assemblies_for_bays(w.shop())[static_cast<std::size_t>(chosen)];
    Window::answer([chosen](QWidget* dialog) {
        auto* box = dialog->findChild<QComboBox*>();
        REQUIRE(box != nullptr);
        box->setCurrentIndex(chosen);
        qobject_cast<QDialog*>(dialog)->accept();
    });
    w.window.activateWindow();
    w.command(QStringLiteral("A pack"));
    const QString label = QString::fromStdString(w.shop().assembly(pack)->label);
    CHECK(w.words().contains(label));
    const double volts = 1.3 * bay_unit_of(w.shop(), OnChannel::of_assembly(pack)).cells;
    HandWindow::fill({{QStringLiteral("hand_volts"), QString::number(volts)}});
    w.window.activateWindow();
    w.command(QStringLiteral("Put it on"));
    REQUIRE(w.shop().test().runs_of_assembly(pack).size() == 1);
    CHECK(w.words().contains(label));
    w.command(QStringLiteral("Stopped by hand"));
    w.command(QStringLiteral("Lift out"));
    CHECK_FALSE(w.may(QStringLiteral("Lift out")));
}
