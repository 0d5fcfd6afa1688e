// The rooms of Sort in the window: limits by keys, populations, stock; any two quantities.
#include "window.h"

#include "app/parts/quantity_scatter.h"
#include "app/parts/record_table.h"
#include "app/parts/yield_bars.h"
#include "app/rooms/limits_page.h"
#include "app/rooms/populations_page.h"
#include "app/rooms/stock_page.h"
#include "app/stations/sort/sort_station.h"
#include "workshop/models/moved_model.h"
#include "workshop/models/stock_units_model.h"

#include <QCheckBox>
#include <QComboBox>

using namespace ingot;
using namespace ingot::tests;

namespace {

void type_into(QLineEdit* field, const QString& text) {
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Tab);
}

} // namespace

TEST_CASE("Limits by keys: set, compared unit by unit, objected to where they do not loosen, saved, taken back") {
    Window w;
    w.go(Station::sort);
    w.key(Qt::Key_L, Qt::ControlModifier);
    auto* page = qobject_cast<app::LimitsPage*>(w.window.current_view());
    REQUIRE(page != nullptr);
    CHECK(page->moved()->moved().empty());
    auto* capacity = w.find<QLineEdit>("limit_0_0");
    CHECK(capacity->text() == QStringLiteral("80"));
    const auto before = w.shop().sort().duty_counts();
    type_into(capacity, QStringLiteral("95"));
    w.settle();
    CHECK(w.shop().sort().rules_changed());
    CHECK(w.shop().sort().duty_counts() != before);
    REQUIRE_FALSE(page->moved()->moved().empty());
    for (const SortService::Moved& moved : page->moved()->moved())
        CHECK(moved.then == Duty::drive); // as it is saved
    CHECK(w.find<QLabel>("limits_words")->text().contains(QStringLiteral("Drive")));
    // Store may not ask for more than Drive.
    type_into(w.find<QLineEdit>("limit_0_1"), QStringLiteral("97"));
    w.settle();
    CHECK(w.window.told().contains(QStringLiteral("loosen")));
    CHECK(w.find<QLineEdit>("limit_0_1")->text() == QStringLiteral("70"));
    type_into(w.find<QLineEdit>("limit_3_0"), QStringLiteral("x"));
    w.settle();
    CHECK(w.window.told().contains(QStringLiteral("no limit")));
    type_into(w.find<QLineEdit>("limit_3_0"), QStringLiteral("1,5")); // a decimal comma
    w.settle();
    CHECK(w.shop().sort().rules().by_chemistry.at("default")[0].least_current_it == 1.5);
    // What a school asks: without a self-discharge nothing is more than Light.
    auto* demand = w.find<QComboBox>("demand_2");
    demand->setCurrentIndex(demand->findData(static_cast<int>(Duty::light)));
    emit demand->activated(demand->currentIndex());
    w.settle();
    CHECK(w.shop().sort().rules().without_self_discharge == Duty::light);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.shop().sort().rules().without_self_discharge == Duty::store);
    w.key(Qt::Key_S, Qt::ControlModifier);
    CHECK_FALSE(w.shop().sort().rules_changed());
    CHECK(w.shop().sort().rules().version == 2);
    // Against another school.
    auto* with = w.find<QComboBox>("limits_with");
    with->setCurrentIndex(with->findData(QStringLiteral("thrift")));
    emit with->activated(with->currentIndex());
    w.settle();
    CHECK_FALSE(page->moved()->moved().empty());
    w.key(Qt::Key_Escape);
    CHECK(w.window.current_view() == w.window.view(Station::sort));
}

TEST_CASE("Sort: the rule set is copied under a name and judges from then on") {
    Window w;
    w.go(Station::sort);
    Window::answer_line(QStringLiteral("Lantern shop"));
    for (QAction* action : w.window.view(Station::sort)->commands())
        if (action->text().contains(QStringLiteral("Copy the rule")))
            action->trigger();
    w.settle();
    CHECK(w.shop().sort().rules().id == "lantern-shop");
    CHECK(w.find<QComboBox>("sort_rules")->currentText() == QStringLiteral("Lantern shop"));
    w.window.activateWindow();
    w.settle();
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.shop().sort().rules().id == "capacity-tested");
    CHECK(w.shop().library().rule_sets.contains("lantern-shop")); // what is made stays
}

TEST_CASE("Sort: any two quantities as axes; what is selected in one picture is selected in the other") {
    Window w;
    w.go(Station::sort);
    auto* sort = w.view<app::SortStation>(Station::sort);
    sort->pose();
    const Id posed = sort->evidence().unit;
    auto* across = w.find<QComboBox>("sort_across");
    across->setCurrentIndex(across->findData(static_cast<int>(UnitQuantity::capacity_share)));
    emit across->activated(across->currentIndex());
    w.settle();
    auto* scatter = sort->quantity_scatter();
    REQUIRE(scatter->isVisible());
    CHECK(scatter->selected() == posed);
    CHECK(scatter->count() > 50);
    CHECK(scatter->accessibleDescription().contains(QStringLiteral("share of rated")));
    REQUIRE(scatter->parts().size() == 1);
    // By keys to the next one across, by mouse back.
    scatter->setFocus();
    QTest::keyClick(scatter, Qt::Key_Right);
    w.settle();
    const Id next = sort->evidence().unit;
    CHECK(next != posed);
    CHECK(value_of(*w.shop().unit(next), UnitQuantity::capacity_share) >=
          value_of(*w.shop().unit(posed), UnitQuantity::capacity_share));
    QTest::mouseClick(scatter, Qt::LeftButton, {}, scatter->position_of(posed).toPoint());
    w.settle();
    CHECK(scatter->selected() != next);
    // Quantities that nobody knows: said, not an empty field.
    sort->show_axes(UnitQuantity::age, UnitQuantity::ac_resistance);
    w.settle();
    CHECK(scatter->count() == 0);
    sort->show_axes(UnitQuantity::capacity, UnitQuantity::dc_resistance);
    w.settle();
    CHECK_FALSE(scatter->isVisible());
}

TEST_CASE("Populations: sources side by side, how many packs more for a number that is typed, what stands out") {
    Window w;
    w.go(Station::sort);
    w.scan(QStringLiteral("populations")); // found by its word
    auto* page = qobject_cast<app::PopulationsPage*>(w.window.current_view());
    REQUIRE(page != nullptr);
    REQUIRE(w.wait_for([&] { return !page->working(); }));
    const auto& sources = page->answer().by[static_cast<std::size_t>(PopulationBy::source)];
    REQUIRE(sources.size() >= 4);
    CHECK(page->bars()->parts().size() == sources.size());
    page->bars()->choose(0);
    w.settle();
    const QString few = page->evidence().notes.join(QLatin1Char('\n'));
    CHECK(page->evidence().subject.toStdString() == sources.front().name);
    w.scan(QStringLiteral("280"));
    const QString many = page->evidence().notes.join(QLatin1Char('\n'));
    CHECK(many.contains(QStringLiteral("280")));
    CHECK(few != many);
    CHECK_FALSE(w.find<QLabel>("populations_doubts")->text().isEmpty());
    // It follows: a unit judged otherwise changes the count.
    const int scrap = sources.front().duties[static_cast<std::size_t>(Duty::scrap)];
    for (const UnitState& unit : w.shop().units())
        if (unit.in_stock() && unit.verdict.duty == Duty::drive && unit.record.model == "H26") {
            REQUIRE(w.shop().sort().overrule(unit.record.id, Duty::scrap, "dented"));
            break;
        }
    w.settle();
    REQUIRE(w.wait_for([&] { return !page->working(); }));
    int now = 0;
    for (const Population& population : page->answer().by[0])
        now += population.duties[static_cast<std::size_t>(Duty::scrap)];
    CHECK(now > scrap);
}

TEST_CASE("Stock: what is due is walked by one key, a voltage typed there counts, reserved units name their build") {
    Window w;
    w.window.go_to(app::Room::stock);
    w.settle();
    auto* page = qobject_cast<app::StockPage*>(w.window.current_view());
    REQUIRE(page != nullptr);
    const auto& lines = page->stock()->lines();
    REQUIRE(lines.size() > 300);
    const auto reserved =
        std::count_if(lines.begin(), lines.end(), [](const StockLine& line) { return line.build != 0; });
    CHECK(reserved == 16);
    Id high = 0;
    for (const StockLine& line : lines)
        if (w.shop().unit(line.unit)->facts.chemistry == "nmc" && line.volts && high == 0)
            high = line.unit;
    REQUIRE(high != 0);
    w.scan(QString::fromStdString(w.shop().unit(high)->code()));
    CHECK(page->table()->selected() == high);
    w.scan(QStringLiteral("4,150"));
    CHECK(page->stock()->line(high)->care == Care::bring_down);
    CHECK(page->evidence().notes.first().contains(QStringLiteral("Draw some charge")));
    w.key(Qt::Key_PageDown, Qt::ControlModifier);
    CHECK(due(*page->stock()->line(page->table()->selected()), page->stock()->read_at()));
    // A figure that no cell has: objected to.
    w.scan(QStringLiteral("41.5"));
    CHECK_FALSE(w.window.told().isEmpty());
}

TEST_CASE("N24: the school of slow recovery is switched on with the rule set's limits, taken back, saved") {
    Window w;
    w.go(Station::sort);
    w.key(Qt::Key_L, Qt::ControlModifier);
    auto* deep = w.find<QCheckBox>("limits_deep");
    REQUIRE(deep != nullptr);
    CHECK_FALSE(deep->isChecked());
    deep->setFocus();
    w.key(Qt::Key_Space);
    CHECK(w.shop().sort().rules().recovers_deep);
    CHECK(w.shop().sort().rules_changed());
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK_FALSE(w.shop().sort().rules().recovers_deep);
    CHECK_FALSE(deep->isChecked());
    deep->setFocus();
    w.key(Qt::Key_Space);
    w.key(Qt::Key_S, Qt::ControlModifier);
    CHECK_FALSE(w.shop().sort().rules_changed());
    CHECK(w.shop().library().rule_sets.at(w.shop().sort().rules().id).recovers_deep);
}
