// A layout moved by a hand in the real window: mouse, arrows, typed; each movement with its checks, kept and taken
// back.
#include "shop.h"
#include "window.h"

#include "app/parts/figure_boxes.h"
#include "app/parts/layout_picture.h"
#include "app/parts/step_list.h"
#include "app/stations/build/build_station.h"
#include "app/stations/build/layout_view.h"

#include <QWheelEvent>

#include <cmath>

using namespace ingot;
using namespace ingot::tests;

namespace {

struct LayoutWindow : Window {
    LayoutWindow() { open_layout(); }
    explicit LayoutWindow(const std::string& file) : Window(file) { open_layout(); }
    void open_layout() {
        go(Station::build);
        station().show_view(app::BuildStation::View::layout);
        ready();
    }
    [[nodiscard]] app::BuildStation& station() { return *view<app::BuildStation>(Station::build); }
    [[nodiscard]] app::LayoutView& layout() { return *station().findChild<app::LayoutView*>(); }
    [[nodiscard]] app::LayoutPicture& picture() { return *layout().findChild<app::LayoutPicture*>(); }
    [[nodiscard]] const Layout& now() { return layout().plan().now()->layout; }
    [[nodiscard]] std::string words() { return shop().build().design(station().build()).word(DesignFigure::by_hand); }
    void ready() {
        settle();
        REQUIRE(wait_for([&] { return !station().working(); }));
    }
    void shift(Qt::Key key, int times = 1) {
        picture().setFocus();
        for (int i = 0; i < times; ++i)
            QTest::keyClick(&picture(), key, Qt::ShiftModifier);
        ready();
    }
    [[nodiscard]] QString check(const char* name) {
        for (const auto& part : layout().findChild<app::StepList*>()->parts())
            if (part.name == QString::fromUtf8(name))
                return part.value;
        return {};
    }
    [[nodiscard]] QAction* command_of(const char* words) {
        for (QAction* action : station().commands())
            if (action->text().remove(QLatin1Char('&')) == QString::fromUtf8(words))
                return action;
        FAIL("no command " << words);
        return nullptr;
    }
    void trigger(const char* words) {
        REQUIRE(command_of(words)->isEnabled());
        command_of(words)->trigger();
        window.activateWindow();
        ready();
    }
    [[nodiscard]] std::string unit_at(std::size_t cell) { return now().cells[cell].id; }
    // The middle of a part of the picture.
    [[nodiscard]] QPoint middle_of(const QString& name) {
        for (const auto& part : picture().parts())
            if (part.name == name)
                return part.at.center().toPoint();
        FAIL("no part " << name.toStdString());
        return {};
    }
    [[nodiscard]] app::PaintedPart part(const QString& start) {
        for (const auto& one : picture().parts())
            if (one.name.startsWith(start))
                return one;
        FAIL("no part " << start.toStdString());
        return {};
    }
    void drag(const QPoint& from, const QPoint& to) {
        QTest::mousePress(&picture(), Qt::LeftButton, Qt::NoModifier, from);
        for (int step = 1; step <= 8; ++step) {
            const QPoint at = from + (to - from) * step / 8;
            QMouseEvent move(QEvent::MouseMove, at, picture().mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                             Qt::NoModifier);
            QApplication::sendEvent(&picture(), &move);
        }
        QTest::mouseRelease(&picture(), Qt::LeftButton, Qt::NoModifier, to);
        ready();
    }
};

} // namespace

TEST_CASE("A cell is moved by arrows, half a millimetre a step: kept, checked, taken back, forgotten") {
    LayoutWindow w;
    const Layout proposed = w.now();
    CHECK_FALSE(w.command_of("As proposed again")->isEnabled());
    w.picture().setFocus();
    w.key(Qt::Key_Down); // the first cell
    CHECK(w.picture().cell() == 0);
    CHECK(w.picture().piece() == -1);
    CHECK(w.station().evidence().verdict.toStdString() == w.unit_at(0));
    w.shift(Qt::Key_Left, 3);
    w.shift(Qt::Key_Up);
    CHECK(w.now().cells[0].x_m == Approx(proposed.cells[0].x_m - 0.0015));
    CHECK(w.now().cells[0].y_m == Approx(proposed.cells[0].y_m + 0.0005));
    CHECK(w.words() == arrangement_of(proposed) + ": cell 1.1 -1.5 0.5");
    CHECK(w.check("Nets of the pieces").contains(QStringLiteral("; 1 move by hand")));
    CHECK(w.station().evidence().notes.join(QString()).contains(QStringLiteral("Moved by hand: \u22121.5 mm")));
    CHECK(w.part(QStringLiteral("Place 1.1")).value == QStringLiteral("moved by hand"));
    // Its strips are longer now, and carry their current over that length.
    REQUIRE(w.layout().plan().now()->joints);
    CHECK(w.now().strip_length_m > proposed.strip_length_m);
    // Towards its neighbours it overlaps, which comes to the top.
    w.picture().setFocus();
    w.shift(Qt::Key_Right, 20);
    w.shift(Qt::Key_Down, 1);
    const auto lines = w.layout().findChild<app::StepList*>()->parts();
    CHECK(w.check("Inside the case").contains(QStringLiteral("overlap")));
    CHECK(std::any_of(lines.begin(), lines.begin() + 2,
                      [](const auto& line) { return line.name == QStringLiteral("Inside the case"); }));
    // Another window on the file sees it; Ctrl+Z takes one step back, the command all.
    const auto reader = Workshop::open(w.shop().path()).value();
    CHECK(plan_build(reader->build().question(w.station().build())).now()->layout.cells[0].x_m ==
          Approx(w.now().cells[0].x_m));
    const double before = w.now().cells[0].x_m;
    w.key(Qt::Key_Z, Qt::ControlModifier);
    w.ready();
    CHECK(w.now().cells[0].y_m == Approx(proposed.cells[0].y_m + 0.0005));
    CHECK(w.now().cells[0].x_m == Approx(before));
    w.trigger("As proposed again");
    CHECK(w.words().empty());
    CHECK(w.now().cells[0].x_m == Approx(proposed.cells[0].x_m));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    w.ready();
    CHECK_FALSE(w.words().empty());
}

TEST_CASE("A cell and a lead are dragged by mouse; let go on another cell the two units change places") {
    LayoutWindow w;
    const Layout proposed = w.now();
    const auto at = w.part(QStringLiteral("Place 2.3")).at;
    // By the edge of its can: the middle is under strip.
    const QPoint rim =
        at.center().toPoint() + QPoint(static_cast<int>(at.width() * 0.36), static_cast<int>(at.height() * 0.3));
    w.drag(rim, rim + QPoint(0, static_cast<int>(at.height() * 0.2)));
    INFO(w.words());
    const std::size_t c = 4 + 2;
    CHECK(w.now().cells[c].x_m == Approx(proposed.cells[c].x_m));
    CHECK(w.now().cells[c].y_m < proposed.cells[c].y_m - 0.001);
    CHECK(w.words().find("cell 2.3 0 -") != std::string::npos);
    // A drag that comes back is none.
    const std::string kept = w.words();
    const auto again = w.part(QStringLiteral("Place 2.3")).at;
    const QPoint start =
        again.center().toPoint() + QPoint(static_cast<int>(at.width() * 0.36), static_cast<int>(at.height() * 0.3));
    QTest::mousePress(&w.picture(), Qt::LeftButton, Qt::NoModifier, start);
    QTest::mouseRelease(&w.picture(), Qt::LeftButton, Qt::NoModifier, start);
    w.ready();
    CHECK(w.words() == kept);
    w.trigger("As proposed again");
    // The minus lead along its bar to the other end, by its tongue.
    const auto lead = w.part(QStringLiteral("Minus lead"));
    const std::size_t from = [&] {
        for (const LayoutPiece& piece : w.now().pieces)
            if (piece.kind == LayoutPiece::Kind::lead && w.now().cells[piece.cells.front()].group == 0)
                return piece.cells.front();
        return std::size_t{99};
    }();
    REQUIRE(from < 4);
    const std::size_t to = from == 0 ? 3 : 0;
    const QPointF middle = w.part(QStringLiteral("Place 1.%1").arg(to + 1)).at.center();
    // The lead is drawn on the back, which is turned over; the other cell lies as far on the other side of the middle.
    const double width = w.picture().width();
    const QPoint there(static_cast<int>(width - middle.x()), static_cast<int>(middle.y()));
    w.drag(lead.at.center().toPoint(), there);
    CHECK(w.words().find("lead minus 1." + std::to_string(to + 1)) != std::string::npos);
    for (const LayoutPiece& piece : w.now().pieces)
        if (piece.kind == LayoutPiece::Kind::lead && w.now().cells[piece.cells.front()].group == 0)
            CHECK(piece.cells.front() == to);
    // By arrows, once it is chosen: back again.
    w.shift(to > from ? Qt::Key_Left : Qt::Key_Right, 3);
    w.shift(to > from ? Qt::Key_Up : Qt::Key_Down, 3);
    // A cell let go on another: their units change places, and Ctrl+Z takes that back.
    w.trigger("As proposed again");
    const std::string one = w.unit_at(6);
    const std::string other = w.unit_at(9);
    const auto first = w.part(QStringLiteral("Place 2.3")).at;
    const QPoint grip = first.center().toPoint() +
                        QPoint(static_cast<int>(first.width() * 0.36), static_cast<int>(first.height() * 0.3));
    w.drag(grip, w.part(QStringLiteral("Place 3.2")).at.center().toPoint());
    CHECK(w.unit_at(6) == other);
    CHECK(w.unit_at(9) == one);
    CHECK(w.words().empty());
    w.key(Qt::Key_Z, Qt::ControlModifier);
    w.ready();
    CHECK(w.unit_at(6) == one);
    // Typed: groups, places, labels; what is none of these is said before the box closes.
    w.answer_line(QStringLiteral("2 4"));
    w.trigger("Swap…");
    CHECK(w.unit_at(14) == one);
    w.answer_line(QStringLiteral("2.3 4.3"));
    w.trigger("Swap…");
    CHECK(w.unit_at(6) == one);
    w.answer_line(QString::fromStdString(one + " " + w.unit_at(1)));
    w.trigger("Swap…");
    CHECK(w.unit_at(1) == one);
}

TEST_CASE("Links are left out and laid by hand: the netlist is checked at once, a short is refused") {
    LayoutWindow w;
    const int links = static_cast<int>(std::count_if(w.now().pieces.begin(), w.now().pieces.end(), [](const auto& p) {
        return p.kind == LayoutPiece::Kind::series;
    }));
    w.picture().setFocus();
    CHECK_FALSE(w.command_of("Leave the link out")->isEnabled());
    const auto go_to_link = [&] {
        w.picture().setFocus();
        for (int i = 0; i < 40 && !w.layout().link_chosen(); ++i)
            QTest::keyClick(&w.picture(), Qt::Key_Right);
        w.settle();
        REQUIRE(w.layout().link_chosen());
    };
    go_to_link();
    CHECK(w.command_of("Leave the link out")->isEnabled());
    const double worst = w.layout().plan().now()->joints->loss_w;
    QTest::keyClick(&w.picture(), Qt::Key_Delete);
    w.ready();
    CHECK(w.words().find("cut 1.") != std::string::npos);
    CHECK(w.layout().plan().joins_as_designed); // the others still join the two groups
    CHECK(w.layout().plan().now()->joints->loss_w > worst);
    for (int i = 1; i < 4; ++i) {
        go_to_link();
        w.trigger("Leave the link out");
    }
    // None is left between the first two groups.
    CHECK_FALSE(w.layout().plan().joins_as_designed);
    CHECK(w.layout().findChild<app::StepList*>()->parts().front().name == QStringLiteral("Nets of the pieces"));
    w.answer_line(QStringLiteral("link 1.1 2.1"));
    w.trigger("Move by hand…");
    CHECK(w.layout().plan().joins_as_designed);
    CHECK(std::count_if(w.now().pieces.begin(), w.now().pieces.end(), [](const auto& p) {
              return p.kind == LayoutPiece::Kind::series;
          }) == links + (w.words().find("link") != std::string::npos ? 1 : 0));
    w.answer_line(QStringLiteral("sense 1 1.3; cell 4.4 1 1"));
    w.trigger("Move by hand…");
    CHECK(w.now().sense[1].cell == 2);
    // Another proposal: what was moved belongs to the first, which is said; back there it stands again.
    QTest::mouseClick(w.layout().findChild<QAbstractButton*>("proposal_2"), Qt::LeftButton);
    w.ready();
    CHECK(w.check("Moved by hand").contains(QStringLiteral("another arrangement")));
    QTest::mouseClick(w.layout().findChild<QAbstractButton*>("proposal_1"), Qt::LeftButton);
    w.ready();
    CHECK(w.check("Nets of the pieces").contains(QStringLiteral("moves by hand")));
    // Half a sentence is refused, the layout stays.
    auto& build = w.shop().build();
    const Id id = w.station().build();
    CHECK_FALSE(build.set_figure(id, DesignFigure::by_hand, "cell 1.1 nowhere"));
}

TEST_CASE(
    "A dense layout is looked at closer by keys and wheel: what is chosen stays in sight, a press hits its own face") {
    LayoutWindow w;
    auto& picture = w.picture();
    picture.setFocus();
    w.key(Qt::Key_Down);
    CHECK(picture.zoom() == Approx(1));
    for (int i = 0; i < 4; ++i)
        QTest::keyClick(&picture, Qt::Key_PageUp);
    CHECK(picture.zoom() > 5);
    const auto cell = [&](int place) { return w.part(QStringLiteral("Place 1.%1").arg(place)).at; };
    CHECK(QRectF(picture.rect()).contains(cell(1).center()));
    CHECK(cell(1).width() > 60);
    // The next one, walked to, comes into sight; its rim is pressed there.
    QTest::keyClick(&picture, Qt::Key_Down);
    const QRectF second = cell(2);
    CHECK(QRectF(picture.rect()).contains(second.center()));
    QTest::keyClick(&picture, Qt::Key_Down);
    const auto rim = [&] {
        return (cell(3).center() + QPointF(cell(3).width() * 0.36, -cell(3).height() * 0.3)).toPoint();
    };
    QTest::mouseClick(&picture, Qt::LeftButton, {}, rim());
    w.settle();
    CHECK(picture.cell() == 2);
    CHECK_FALSE(picture.grab().isNull());
    // A millimetre by mouse is some pixels now.
    w.drag(rim(), rim() + QPoint(static_cast<int>(std::lround(cell(3).width() / 18.5)), 0));
    CHECK_THAT(w.words(), Catch::Contains("cell 1.3 1 0"));
    for (int i = 0; i < 6; ++i)
        QTest::keyClick(&picture, Qt::Key_PageDown);
    CHECK(picture.zoom() == Approx(1));
    const auto wheel = [&](Qt::KeyboardModifiers with) {
        QWheelEvent turned(QPointF(120, 90), picture.mapToGlobal(QPointF(120, 90)), {}, QPoint(0, 120), Qt::NoButton,
                           with, Qt::NoScrollPhase, false);
        QApplication::sendEvent(&picture, &turned);
        return picture.zoom();
    };
    const double before = wheel(Qt::ControlModifier);
    CHECK(before > 1);
    CHECK(wheel(Qt::NoModifier) == Approx(before)); // that is the page's
}

TEST_CASE("Where something is welded a hand moves nothing: it is said, and the layout stands as it stood") {
    static const Temporary folder;
    const std::string path = folder.file("welded.ingot");
    {
        const auto shop = new_shop(path, "Fellside bench");
        const auto cells = lantern_cells(*shop, {4, 3, 1});
        std::vector<std::vector<Id>> groups(4);
        for (std::size_t c = 0; c < cells.size(); ++c) {
            for (const auto& [quantity, value] :
                 {std::pair(Quantity::voltage, 3.640), {Quantity::dc_resistance, 0.050}, {Quantity::capacity, 2.20}}) {
                Measurement m;
                m.quantity = quantity;
                m.value = value;
                m.resolution = 0.001;
                REQUIRE(shop->test().record_reading(cells[c], m));
            }
            groups[c / 3].push_back(cells[c]);
        }
        const Id build = shop->match().reserve(4, 3, groups, std::nullopt, 0).value();
        for (const Id cell : cells)
            REQUIRE(shop->build().take(build, cell));
        for (auto next = shop->build().next_item(build); next && next->first <= BuildTask::parallel_front;
             next = shop->build().next_item(build))
            REQUIRE(shop->build().tick(build, next->first, next->second));
    }
    LayoutWindow w(path);
    REQUIRE(w.layout().plan().now() != nullptr);
    const double x = w.now().cells[0].x_m;
    w.picture().setFocus();
    w.key(Qt::Key_Down);
    w.shift(Qt::Key_Right);
    CHECK(w.window.told().contains(QStringLiteral("welded")));
    CHECK(w.words().empty());
    CHECK(w.now().cells[0].x_m == Approx(x));
}
