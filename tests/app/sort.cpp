// Sort in the window: schools to choose, what a moved limit would change, the list beside the picture.
#include "window.h"

#include "app/parts/duty_scatter.h"
#include "app/parts/record_table.h"
#include "app/stations/sort/sort_station.h"

#include <QComboBox>
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
