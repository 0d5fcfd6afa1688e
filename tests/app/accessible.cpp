// K35: what is painted is there for a screen reader, part by part; messages are announced; nothing is without a name.
#include "window.h"

#include "app/parts/painted.h"
#include "app/parts/voltage_ladder.h"
#include "app/shell/message_bar.h"
#include "app/shell/word_completer.h"
#include "app/stations/match/match_station.h"

#include <QAbstractItemView>
#include <QAbstractSpinBox>
#include <QAccessible>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QLineEdit>
#include <QWheelEvent>

using namespace ingot;
using namespace ingot::tests;
using app::Room;

namespace {

void check_parts(app::Painted* painted) {
    INFO(painted->metaObject()->className());
    QAccessibleInterface* whole = QAccessible::queryAccessibleInterface(painted);
    REQUIRE(whole != nullptr);
    CHECK_FALSE(whole->text(QAccessible::Name).isEmpty());
    const auto parts = painted->parts();
    REQUIRE(whole->childCount() == static_cast<int>(parts.size()));
    int chosen = 0;
    for (int i = 0; i < whole->childCount(); ++i) {
        QAccessibleInterface* part = whole->child(i);
        REQUIRE(part != nullptr);
        const app::PaintedPart& painted_part = parts[static_cast<std::size_t>(i)];
        CHECK(part->isValid());
        CHECK(part->text(QAccessible::Name) == painted_part.name);
        CHECK_FALSE(part->text(QAccessible::Name).isEmpty());
        CHECK(part->text(QAccessible::Value) == painted_part.value);
        CHECK(part->role() != QAccessible::NoRole);
        CHECK(part->parent() == whole);
        CHECK(whole->indexOfChild(part) == i);
        CHECK(part->rect().isValid());
        chosen += part->state().selected ? 1 : 0;
    }
    CHECK(chosen <= 1);
}

void check_page(QWidget* page) {
    for (auto* painted : page->findChildren<app::Painted*>())
        if (painted->isVisible())
            check_parts(painted);
    for (auto* input : page->findChildren<QWidget*>()) {
        const bool counts = qobject_cast<QAbstractSpinBox*>(input) != nullptr ||
                            qobject_cast<QComboBox*>(input) != nullptr ||
                            qobject_cast<QAbstractItemView*>(input) != nullptr ||
                            (qobject_cast<QLineEdit*>(input) != nullptr &&
                             qobject_cast<QAbstractSpinBox*>(input->parentWidget()) == nullptr &&
                             qobject_cast<QComboBox*>(input->parentWidget()) == nullptr);
        if (!counts || !input->isVisible() || input->objectName().startsWith(QStringLiteral("qt_")))
            continue;
        INFO(input->metaObject()->className() << " " << input->objectName().toStdString());
        CHECK_FALSE(input->accessibleName().isEmpty());
    }
}

} // namespace

TEST_CASE("K35: every page's tree is walked: parts have name, value, role, place and state") {
    Window w;
    check_parts(w.window.route());
    for (int i = 0; i < station_count; ++i) {
        w.window.go_to(static_cast<Station>(i));
        w.settle();
        INFO(app::station_name(static_cast<Station>(i)).toStdString());
        if (auto* match = qobject_cast<app::MatchStation*>(w.window.current_view())) {
            w.key(Qt::Key_F9);
            REQUIRE(w.wait_for([&] { return !match->searching(); }));
        }
        check_page(w.window.current_view());
    }
    for (int i = 0; i < app::room_count; ++i) {
        w.window.go_to(static_cast<Room>(i));
        w.settle();
        check_page(w.window.current_view());
    }
}

TEST_CASE("K35: the ladder says each group's readings and its state, and is copied as a table") {
    Window w;
    w.window.go_to(Station::triage);
    w.settle();
    auto* ladder = w.window.current_view()->findChild<app::VoltageLadder*>();
    REQUIRE(ladder != nullptr);
    const auto parts = ladder->parts();
    REQUIRE(parts.size() >= 3);
    CHECK(parts[0].name == QStringLiteral("Group 1"));
    CHECK(parts[0].value.contains(QStringLiteral("V")));
    ladder->set_selected(2);
    CHECK(ladder->parts()[1].chosen);
    CHECK(QAccessible::queryAccessibleInterface(ladder)->child(1)->state().selected);
    const QString table = ladder->table();
    CHECK(table.count(QLatin1Char('\n')) == static_cast<int>(parts.size()));
    CHECK(table.startsWith(QStringLiteral("Group 1\t")));
}

TEST_CASE("K35: a message is announced, by the words that stand in the bar") {
    Window w;
    QStringList heard;
    auto* bar = w.window.findChild<app::MessageBar*>();
    QObject::connect(bar, &app::MessageBar::announced, bar, [&](const QString& words) { heard << words; });
    w.scan(QStringLiteral("blunderbuss"));
    REQUIRE(heard.size() == 1);
    CHECK(heard.front().contains(QStringLiteral("blunderbuss")));
    CHECK(w.find<QWidget>("message_bar")->accessibleName() == heard.front());
}

TEST_CASE("Words in the scan field are completed to commands with station and keys, packs and units; figures are not") {
    Window w;
    w.window.go_to(Station::sort);
    auto* completer = w.window.findChild<app::WordCompleter*>();
    REQUIRE(completer != nullptr);
    const auto offered = [&] {
        QStringList lines;
        for (int row = 0; row < completer->model()->rowCount(); ++row)
            lines << completer->model()->index(row, 0).data().toString();
        return lines;
    };
    const auto type = [&](const QString& words) {
        w.window.scan_field()->clear();
        QTest::keyClicks(w.window.scan_field(), words);
        QTest::qWait(2 * app::WordCompleter::pause_ms);
    };
    type(QStringLiteral("worth"));
    REQUIRE(completer->popup()->isVisible());
    CHECK(offered().front().contains(QStringLiteral("Receive")));
    CHECK(offered().front().contains(QStringLiteral("F9")));
    QTest::keyClick(completer->popup(), Qt::Key_Down);
    QTest::keyClick(completer->popup(), Qt::Key_Return);
    w.settle();
    CHECK(w.window.route()->current() == Station::receive); // the command's page; it is not done unseen
    type(QString::fromStdString(w.shop().packs().front().label).left(6));
    CHECK(offered().join(QLatin1Char('\n')).contains(QString::fromStdString(w.shop().packs().front().label)));
    completer->popup()->hide();
    type(QStringLiteral("3.612"));
    CHECK_FALSE(completer->popup()->isVisible());
    w.window.scan_field()->clear();
}

TEST_CASE("K32: Enter presses a button, and a wheel over a choice changes nothing") {
    Window w;
    w.window.go_to(Station::match);
    auto* combo = w.window.current_view()->findChild<QComboBox*>();
    REQUIRE(combo != nullptr);
    const int index = combo->currentIndex();
    QWheelEvent wheel(QPointF(5, 5), combo->mapToGlobal(QPointF(5, 5)), {}, QPoint(0, -120), Qt::NoButton,
                      Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(combo, &wheel);
    CHECK(combo->currentIndex() == index);
    auto* hazards = w.find<app::PressButton>("hazards");
    hazards->setFocus();
    QTest::keyClick(hazards, Qt::Key_Return);
    w.settle();
    CHECK(w.window.current_view() == w.window.view(Room::hazards));
}
