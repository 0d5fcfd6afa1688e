// The painted widgets on their own: what they draw, and what mouse and keys do to them.
#include "app/parts/build_picture.h"
#include "app/parts/choice_row.h"
#include "app/parts/duty_scatter.h"
#include "app/parts/gauge.h"
#include "app/parts/give_up_bars.h"
#include "app/parts/level_view.h"
#include "app/parts/marks.h"
#include "app/parts/pack_picture.h"
#include "app/parts/panel.h"
#include "app/parts/reading_boxes.h"
#include "app/parts/voltage_ladder.h"
#include "app/parts/ways_view.h"
#include "app/shell/route.h"
#include "app/theme/theme.h"
#include "exchange/library_toml.h"

#include <catch2/catch.hpp>

#include <QSignalSpy>
#include <QTest>

using namespace ingot;
using namespace ingot::app;

namespace {

const exchange::Library& library() {
    static const exchange::Library shipped = exchange::read_library(Workshop::shipped_folder("data")).value();
    return shipped;
}

QImage picture(QWidget& widget, const QSize& size) {
    widget.resize(size);
    QImage image(size, QImage::Format_RGB32);
    image.fill(colours().surface);
    widget.render(&image);
    return image;
}

int count_of(const QImage& image, const QColor& colour, const QRect& area) {
    int n = 0;
    for (int y = std::max(0, area.top()); y <= std::min(area.bottom(), image.height() - 1); ++y)
        for (int x = std::max(0, area.left()); x <= std::min(area.right(), image.width() - 1); ++x)
            n += image.pixel(x, y) == colour.rgb() ? 1 : 0;
    return n;
}

MatchProblem small_problem() {
    MatchProblem p;
    p.series = 3;
    p.parallel = 2;
    for (int i = 0; i < 8; ++i) {
        MatchUnit u;
        u.id = UnitCode{"K4", i + 1}.text();
        u.capacity_ah = 2.0 + 0.05 * i;
        u.resistance_ohm = 0.05 - 0.001 * i;
        p.pool.push_back(u);
    }
    return p;
}

} // namespace

TEST_CASE("Every duty has a shape of its own, not only a colour") {
    std::vector<QImage> shapes;
    for (int d = 0; d < duty_count; ++d) {
        QImage image(40, 40, QImage::Format_RGB32);
        image.fill(Qt::white);
        QPainter painter(&image);
        draw_duty(painter, {20, 20}, 32, static_cast<Duty>(d));
        painter.end();
        QImage grey(40, 40, QImage::Format_Mono); // drawn or not, whatever the colour
        grey.fill(0);
        for (int y = 0; y < 40; ++y)
            for (int x = 0; x < 40; ++x)
                grey.setPixel(x, y, qGray(image.pixel(x, y)) < 170 ? 1 : 0);
        for (const QImage& other : shapes)
            CHECK(grey != other);
        shapes.push_back(grey);
    }
}

TEST_CASE("Cut corners: what is read at the top left, what is pressed at the bottom right") {
    const QRectF r(0, 0, 100, 50);
    CHECK_FALSE(cut_top_left(r, 12).contains(QPointF(2, 2)));
    CHECK(cut_top_left(r, 12).contains(QPointF(98, 48)));
    CHECK(cut_bottom_right(r, 9).contains(QPointF(2, 2)));
    CHECK_FALSE(cut_bottom_right(r, 9).contains(QPointF(98, 48)));
    const QRectF box = trapezoid({50, 50}, 20).boundingRect();
    CHECK(box.width() == Approx(20));
    CHECK(box.height() == Approx(0.72 * 20));
}

TEST_CASE("The ladder marks a deep group and the active one, and magnifies millivolts") {
    VoltageLadder ladder;
    const Chemistry& nmc = *library().chemistry("nmc");
    GroupVoltages volts;
    volts.rest_v = {3.842, 3.846, 1.838, 3.841, {}};
    std::vector<LadderGroup> groups;
    for (const auto& v : volts.rest_v)
        groups.push_back({v, {}, {}});
    ladder.set(nmc, 1, groups, triage_groups(volts, nmc));
    ladder.set_active(5);
    const QImage image = picture(ladder, {760, 320});
    const int width = (760 - 46 - 150) / 5;
    const auto column = [&](int g) { return QRect(46 + (g - 1) * width + 4, 52, width - 8, 320 - 52 - 32); };
    CHECK(count_of(image, colours().plum, column(3)) > 150);
    CHECK(count_of(image, colours().plum, column(1)) == 0);
    CHECK(count_of(image, colours().ember, QRect(46 + 4 * width, 288, width, 32)) >
          100); // the tag of the group being read
    CHECK(count_of(image, colours().ember, QRect(46, 288, 4 * width, 32)) == 0);
    CHECK(ladder.accessibleDescription().contains(QStringLiteral("group 3")));
    QSignalSpy chosen(&ladder, &VoltageLadder::chosen);
    QTest::mouseClick(&ladder, Qt::LeftButton, {}, column(2).center());
    REQUIRE(chosen.count() == 1);
    CHECK(chosen[0][0].toInt() == 2);
    QTest::keyClick(&ladder, Qt::Key_Left);
    QTest::keyClick(&ladder, Qt::Key_Left); // stays at the end
    CHECK(ladder.selected() == 1);
    ladder.set(nmc, 1, {}, {});
    QTest::keyClick(&ladder, Qt::Key_Right);
    picture(ladder, {760, 320}); // an empty ladder draws its words
}

TEST_CASE("Reading boxes echo what is typed and wrap when a pack has many groups") {
    ReadingBoxes boxes;
    std::vector<ReadingBox> few(8);
    boxes.set(few);
    const int one_row = boxes.sizeHint().height();
    std::vector<ReadingBox> many(15);
    boxes.set(many);
    CHECK(boxes.sizeHint().height() > one_row);
    boxes.set(few);
    boxes.set_active(2, QStringLiteral("3.8"));
    CHECK(boxes.accessibleDescription().contains(QStringLiteral("3.8")));
    const QImage image = picture(boxes, {740, one_row});
    CHECK(count_of(image, colours().ember, image.rect()) > 300);
    QSignalSpy chosen(&boxes, &ReadingBoxes::chosen);
    QTest::mouseClick(&boxes, Qt::LeftButton, {}, {5, 30});
    REQUIRE(chosen.count() == 1);
    CHECK(chosen[0][0].toInt() == 0);
    boxes.set_active(-1, {});
    CHECK(count_of(picture(boxes, {740, one_row}), colours().ember, image.rect()) == 0); // no hand is needed
}

TEST_CASE("A gauge puts its pointer where the value lies between the limits") {
    Gauge gauge;
    Evidence e;
    e.kind = EvidenceKind::capacity;
    e.limits = {{2.08, Duty::drive}, {1.82, Duty::store}, {1.56, Duty::light}};
    e.relative = 0.8;
    const auto pointer = [&](double value) {
        e.measured = value;
        gauge.set(e);
        const QImage image = picture(gauge, {280, 66});
        for (int x = 0; x < 280; ++x) // the pointer's head stands above the bar
            if (image.pixel(x, 24) == colours().ink.rgb() || image.pixel(x, 25) == colours().ink.rgb())
                return x;
        return -1;
    };
    const int poor = pointer(1.6);
    const int fair = pointer(1.9);
    const int good = pointer(2.2);
    CHECK(poor > 0);
    CHECK(poor < fair);
    CHECK(fair < good);
    CHECK(gauge.accessibleName().contains(QStringLiteral("2.200")));
    e.measured.reset();
    e.limits.clear();
    e.kind = EvidenceKind::missing_capacity;
    gauge.set(e);
    CHECK(gauge.accessibleName().contains(QStringLiteral("not measured")));
}

TEST_CASE("The scatter: nearest unit on a tap, limits keep their order while dragged, the wheel looks closer") {
    DutyScatter scatter;
    std::vector<ScatterPoint> points;
    for (int i = 0; i < 60; ++i)
        points.push_back({i + 1, 1.5 + 0.02 * i, 0.08 - 0.0005 * i, i < 10 ? Duty::light : Duty::drive});
    scatter.resize(600, 500);
    scatter.set(points, {2.08, 1.82, 1.56}, {0.067, 0.092, 0.126});
    picture(scatter, {600, 500});
    QSignalSpy chosen(&scatter, &DutyScatter::chosen);
    QTest::mouseClick(&scatter, Qt::LeftButton, {}, scatter.position_of(30).toPoint());
    REQUIRE(chosen.count() == 1);
    CHECK(scatter.selected() == 30);
    QTest::keyClick(&scatter, Qt::Key_Right);
    CHECK(scatter.selected() == 31);
    QSignalSpy released(&scatter, &DutyScatter::limit_released);
    const QPoint from = scatter.handle(true, 1).center().toPoint(); // Store
    QTest::mousePress(&scatter, Qt::LeftButton, {}, from);
    QTest::mouseMove(&scatter, from + QPoint(10, 0));
    QTest::mouseMove(&scatter, from + QPoint(500, 0)); // far beyond Drive's
    QTest::mouseRelease(&scatter, Qt::LeftButton, {}, from + QPoint(500, 0));
    REQUIRE(released.count() == 1);
    CHECK(released[0][0].toBool());
    CHECK(released[0][1].toInt() == 1);
    CHECK(released[0][2].toDouble() == Approx(2.08)); // no further than Drive's own limit
    QSignalSpy tapped(&scatter, &DutyScatter::limit_tapped);
    QTest::mouseClick(&scatter, Qt::LeftButton, {}, scatter.handle(false, 0).center().toPoint());
    REQUIRE(tapped.count() == 1);
    CHECK_FALSE(tapped[0][0].toBool());
    const double before = scatter.position_of(60).x() - scatter.position_of(50).x();
    QWheelEvent wheel({300, 300}, {300, 300}, {}, {0, 120}, {}, {}, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&scatter, &wheel);
    CHECK(scatter.position_of(60).x() - scatter.position_of(50).x() > before);
    scatter.set({}, {2, 1, 0.5}, {1, 2, 3});
    QTest::keyClick(&scatter, Qt::Key_Right);
    picture(scatter, {600, 500});
}

TEST_CASE("The level view by keyboard: move, lock, leave out") {
    LevelView view;
    const MatchProblem problem = small_problem();
    view.resize(700, 320);
    view.set(problem, match(problem).value());
    QSignalSpy locks(&view, &LevelView::lock_toggled);
    QSignalSpy out(&view, &LevelView::exclude_wanted);
    QTest::keyClick(&view, Qt::Key_Right);
    CHECK(view.selected_group() == 0);
    CHECK_FALSE(view.selected_unit().isEmpty());
    QTest::keyClick(&view, Qt::Key_Right);
    QTest::keyClick(&view, Qt::Key_Down);
    CHECK(view.selected_group() == 1);
    QTest::keyClick(&view, Qt::Key_Space);
    REQUIRE(locks.count() == 1);
    CHECK(locks[0][0].toString() == view.selected_unit());
    CHECK(locks[0][1].toInt() == 1);
    QTest::keyClick(&view, Qt::Key_Delete);
    CHECK(out.count() == 1);
    // Boxes are to scale: the stronger unit's is taller, and groups stand on one floor.
    CHECK(view.unit_box(0, 0).height() >= view.unit_box(0, 1).height());
    CHECK(view.unit_box(0, 1).bottom() == Approx(view.unit_box(2, 1).bottom()));
    view.clear(QStringLiteral("nothing yet"));
    QTest::keyClick(&view, Qt::Key_Right);
    CHECK(view.selected_group() == -1);
    // Many units a group draw as bars.
    MatchProblem many = small_problem();
    many.series = 2;
    many.parallel = 4;
    view.set(many, match(many).value());
    picture(view, {300, 200});
}

TEST_CASE("The ways stand side by side; only those with an answer can be chosen") {
    WaysView view;
    view.resize(740, view.sizeHint().height());
    const MatchProblem problem = small_problem();
    std::vector<WayRow> rows;
    rows.push_back({MatchWay::voltage_only, {}, QStringLiteral("no voltages"), {}});
    for (const MatchWay way : {MatchWay::deal, MatchWay::twins, MatchWay::search})
        rows.push_back({way, match(problem, way).value(), {}, {}});
    view.set(rows);
    QSignalSpy chosen(&view, &WaysView::chosen);
    QTest::mouseClick(&view, Qt::LeftButton, {}, {100, 24 + 10}); // has none
    CHECK(chosen.count() == 0);
    QTest::mouseClick(&view, Qt::LeftButton, {}, {100, 24 + 29 + 10});
    REQUIRE(chosen.count() == 1);
    CHECK(chosen[0][0].toInt() == 1);
    QTest::keyClick(&view, Qt::Key_Up);
    CHECK(chosen.count() == 1);
    QTest::keyClick(&view, Qt::Key_Down);
    CHECK(chosen.count() == 2);
    CHECK(view.accessibleDescription().contains(QStringLiteral("no voltages")));
    picture(view, view.size());
}

TEST_CASE("Choices, give-up bars, pack and build pictures") {
    ChoiceRow row({QStringLiteral("a"), QStringLiteral("b"), QStringLiteral("c")});
    QSignalSpy changed(&row, &ChoiceRow::changed);
    QTest::mouseClick(row.button(2), Qt::LeftButton);
    CHECK(row.chosen() == 2);
    CHECK(changed.count() == 1);
    CHECK(row.button(2)->isChecked());
    CHECK_FALSE(row.button(0)->isChecked());

    GiveUpBars bars;
    bars.set({0.11, 0.03, {}, 0.01}, 1);
    CHECK(bars.accessibleDescription().contains(QStringLiteral("not searched")));
    const QImage drawn = picture(bars, {200, 38});
    CHECK(count_of(drawn, colours().steel, drawn.rect()) > 20);
    bars.clear();
    CHECK(count_of(picture(bars, {200, 38}), colours().steel, drawn.rect()) == 0);

    PackPicture pack;
    pack.set({7, 4, 1}, {QStringLiteral("3.8")}, {false, true});
    CHECK(pack.accessibleName().contains(QStringLiteral("7")));
    const QImage drawn_pack = picture(pack, {600, 300});
    CHECK(count_of(drawn_pack, colours().plum_ground, drawn_pack.rect()) > 500); // the group that is warned of
    pack.set({96, 1, 6});
    picture(pack, {300, 120});

    BuildPicture build;
    BuildSheet sheet;
    sheet.build.layout.series = 2;
    sheet.build.layout.parallel = 2;
    sheet.group_capacity_ah = {4.5, 4.6};
    for (int i = 0; i < 4; ++i)
        sheet.lines.push_back(
            {i / 2 + 1, i % 2 + 1, i + 1, "K4-000" + std::to_string(i), "H26", "S1", i, 2.25, 0.05, {}, 3.64, i == 0});
    build.set(sheet);
    const QImage drawn_build = picture(build, {300, build.sizeHint().height()});
    CHECK(count_of(drawn_build, colours().ember, drawn_build.rect()) > 100); // the next one to take
    QSignalSpy tapped(&build, &BuildPicture::chosen);
    QTest::mouseClick(&build, Qt::LeftButton, {}, {20, 60});
    REQUIRE(tapped.count() == 1);
    CHECK(tapped[0][0].value<Id>() == 1);
}

TEST_CASE("A button shows its command's words, state and shortcut") {
    QWidget host;
    QAction action(QStringLiteral("&Do it"), &host);
    action.setShortcut(QKeySequence(QStringLiteral("Ctrl+J")));
    action.setToolTip(QStringLiteral("Does it"));
    PressButton button(&action, &host);
    CHECK(button.toolTip().contains(QStringLiteral("Ctrl+J")));
    QSignalSpy triggered(&action, &QAction::triggered);
    QTest::mouseClick(&button, Qt::LeftButton);
    CHECK(triggered.count() == 1);
    action.setEnabled(false);
    CHECK_FALSE(button.isEnabled());
    action.setText(QStringLiteral("Undo it"));
    CHECK(button.text() == QStringLiteral("Undo it"));
    const int plain = button.sizeHint().width();
    button.set_hazard(true);
    CHECK(button.sizeHint().width() > plain); // room for the mark
}

TEST_CASE("The route says what waits, and marks what needs the hand") {
    Route route;
    route.set_waiting({3, 4, 1, 52, 96, 412, 61, 1, 0});
    route.set_current(Station::triage);
    CHECK(route.accessibleDescription().contains(QStringLiteral("Sort 412")));
    const QImage calm = picture(route, {176, 600});
    CHECK(count_of(calm, colours().ember, calm.rect()) == 0);
    route.set_hand(Station::build, QStringLiteral("take units"));
    CHECK(count_of(picture(route, {176, 600}), colours().ember, route.row_of(Station::build)) > 200);
    CHECK(count_of(picture(route, {176, 600}), colours().ember, route.row_of(Station::test)) == 0);
}
