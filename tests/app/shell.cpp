#include "window.h"

#include "app/parts/gauge.h"
#include "app/parts/questions.h"
#include "app/parts/record_table.h"
#include "app/screenshots.h"
#include "app/shell/bench_call.h"
#include "app/shell/event_log.h"
#include "app/shell/evidence_panel.h"
#include "app/shell/pages.h"
#include "app/shell/start_page.h"
#include "app/stations/sort/sort_station.h"
#include "app/stations/test/test_station.h"
#include "app/theme/theme.h"

#include <QComboBox>
#include <QDialog>
#include <QDialogButtonBox>
#include <QDir>
#include <QLabel>
#include <QLineEdit>
#include <QMenuBar>
#include <QPushButton>
#include <QScrollBar>
#include <QStandardPaths>
#include <QThread>

#include <filesystem>
#include <fstream>

using namespace ingot;
using namespace ingot::tests;
using ingot::app::Theme;

TEST_CASE("First start without a workshop says what to do first") {
    app::MainWindow window;
    window.show();
    QApplication::processEvents();
    CHECK(window.findChild<app::StartPage*>()->isVisible());
    CHECK(window.current_view() == nullptr);
    window.take_line(QStringLiteral("K4-0001-5")); // a scan does no harm
    CHECK(window.told().isEmpty());
    const Temporary folder;
    CHECK_FALSE(window.open_file(QString::fromStdString(folder.write("x.ingot", "not a workshop"))));
    CHECK(window.told().contains(QStringLiteral("not an Ingot workshop")));
    REQUIRE(window.make_file(QString::fromStdString(folder.file("new.ingot")), QStringLiteral("New shop")));
    CHECK(window.route()->current() == Station::receive);
}

TEST_CASE("A failed opening leaves what was open") {
    Window w;
    CHECK_FALSE(w.window.open_file(QStringLiteral("/no/such.ingot")));
    CHECK(w.window.told().contains(QStringLiteral("no such file")));
    CHECK(w.shop().units().size() >= 420);
    QTest::mouseClick(w.find<app::PressButton>("message_read"), Qt::LeftButton);
    CHECK(w.window.told().isEmpty());
}

TEST_CASE("Every station is reached by keyboard and by mouse, and the scan field keeps the focus") {
    Window w;
    for (int i = 0; i < station_count; ++i) {
        w.go(static_cast<Station>(i));
        CHECK(w.window.route()->current() == static_cast<Station>(i));
        CHECK(w.window.scan_field()->hasFocus());
        CHECK_FALSE(w.window.scan_field()->hint().isEmpty());
    }
    QTest::mouseClick(w.window.route(), Qt::LeftButton, {}, w.window.route()->row_of(Station::sort).center());
    CHECK(w.window.route()->current() == Station::sort);
    w.window.route()->setFocus();
    QTest::keyClick(w.window.route(), Qt::Key_Down);
    CHECK(w.window.route()->current() == Station::match);
}

TEST_CASE("A scanner works wherever the focus is") {
    Window w;
    w.go(Station::sort);
    const UnitState& unit = w.shop().units()[20];
    w.window.route()->setFocus(); // not a text field
    w.scan(QString::fromStdString(unit.code()));
    CHECK(w.window.scan_field()->hasFocus());
    CHECK(w.view<app::SortStation>(Station::sort)->evidence().unit == unit.record.id);
    // A label at a station that shows no units opens it at Test.
    w.go(Station::receive);
    w.scan(QString::fromStdString(unit.code()));
    CHECK(w.window.route()->current() == Station::test);
    CHECK(w.view<app::TestStation>(Station::test)->unit() == unit.record.id);
}

TEST_CASE("A misread label is refused with the reason") {
    Window w;
    std::string code = w.shop().units()[3].code();
    code.back() = code.back() == '7' ? '8' : '7';
    w.scan(QString::fromStdString(code));
    CHECK(w.window.told().contains(QStringLiteral("check character")));
    w.scan(QStringLiteral("blunderbuss"));
    CHECK(w.window.told().contains(QStringLiteral("neither a label")));
}

TEST_CASE("Words find a command") {
    Window w;
    w.go(Station::receive);
    w.scan(QStringLiteral("dark"));
    CHECK(Theme::instance().appearance() == Theme::Appearance::dark);
    w.scan(QStringLiteral("light, for"));
    CHECK(Theme::instance().appearance() == Theme::Appearance::light);
    w.scan(QStringLiteral("sort"));
    CHECK(w.window.route()->current() == Station::sort);
    w.scan(QStringLiteral("open")); // the whole name of a station, and the beginning of other commands
    CHECK(w.window.route()->current() == Station::open);
}

TEST_CASE("K33: every command has a place in the menus; keys are the page's own and leave the desktop's alone") {
    Window w;
    int commands = 0;
    const auto look_through = [&] {
        std::map<QString, QString> seen;
        const std::function<void(QMenu*)> walk = [&](QMenu* menu) {
            std::map<QChar, QString> letters;
            for (QAction* action : menu->actions()) {
                if (action->isSeparator())
                    continue;
                const auto letter = action->text().indexOf(QLatin1Char('&'));
                if (letter >= 0) {
                    const QChar key = action->text()[letter + 1].toLower();
                    INFO(action->text().toStdString() << " and " << letters[key].toStdString() << " share a letter");
                    CHECK(letters[key].isEmpty());
                    letters[key] = action->text();
                }
                if (action->menu() != nullptr) {
                    walk(action->menu());
                    continue;
                }
                ++commands;
                const QString keys = action->shortcut().toString();
                if (keys.isEmpty())
                    continue;
                INFO(action->text().toStdString() << ", " << keys.toStdString());
                CHECK(!seen.contains(keys));
                CHECK_FALSE(keys.startsWith(QStringLiteral("Ctrl+Alt+")));
                for (const char* others : {"Ctrl+W", "Ctrl+A", "Ctrl+C", "Ctrl+D", "Ctrl+E", "Ctrl+K", "Ctrl+U",
                                           "Ctrl+V", "Ctrl+X", "Ctrl+Del", "F1", "F10", "F11"})
                    CHECK(keys != QLatin1String(others));
                seen[keys] = action->text();
            }
        };
        for (QAction* action : w.window.menuBar()->actions())
            walk(action->menu());
    };
    for (int i = 0; i < station_count; ++i) {
        w.window.go_to(static_cast<Station>(i));
        look_through();
    }
    for (int i = 0; i < app::room_count; ++i) {
        w.window.go_to(static_cast<app::Room>(i));
        look_through();
    }
    CHECK(commands > 200);
}

TEST_CASE("Nothing is clipped at 1280 x 800, in light and dark") {
    Window w;
    for (const auto appearance : {Theme::Appearance::light, Theme::Appearance::dark}) {
        Theme::instance().apply(appearance);
        for (int i = 0; i < station_count; ++i) {
            w.go(static_cast<Station>(i));
            // Also with something said across the top.
            emit w.window.current_view()->told(
                QStringLiteral("K4-0193 is not in stock any more, and the tray that it came from has no such well. "
                               "Scan it again, or look for it at Sort; nothing was recorded."),
                true);
            w.settle();
            INFO("station " << i << ", at least " << w.window.minimumSizeHint().height() << " high");
            CHECK(w.window.width() == 1280);
            CHECK(w.window.height() == 800);
            for (QWidget* child : w.window.current_view()->findChildren<QWidget*>()) {
                if (!child->isVisible() || child->parentWidget() == nullptr ||
                    qobject_cast<app::PressButton*>(child) == nullptr)
                    continue;
                INFO(child->accessibleName().toStdString()
                     << static_cast<app::PressButton*>(child)->text().toStdString());
                const QRect area = child->parentWidget()->rect();
                CHECK(area.contains(child->geometry()));
                CHECK(child->width() >= child->sizeHint().width());
            }
            for (QLabel* label : w.window.current_view()->findChildren<QLabel*>()) {
                if (!label->isVisible() || label->wordWrap())
                    continue;
                INFO(label->text().toStdString());
                CHECK(label->width() >= label->sizeHint().width() - 1);
            }
        }
    }
    Theme::instance().apply(Theme::Appearance::light);
}

TEST_CASE("On a low screen a page scrolls, and the keyboard brings what it needs into sight") {
    Window w;
    w.go(Station::open);
    auto* room = w.window.findChild<app::PagesInRoom*>();
    REQUIRE(room != nullptr);
    CHECK(room->verticalScrollBar()->maximum() == 0); // at 800 everything fits
    w.window.resize(1280, 600);
    w.settle();
    CHECK(w.window.height() == 600);
    CHECK(room->verticalScrollBar()->maximum() > 0);
    // Tab to the tray at the bottom of the form; it must be seen.
    auto* tray = w.find<QLineEdit>("open_tray");
    REQUIRE(tray != nullptr);
    for (int i = 0; i < 40 && QApplication::focusWidget() != tray; ++i)
        w.key(Qt::Key_Tab);
    REQUIRE(QApplication::focusWidget() == tray);
    const QRect seen(QPoint(0, 0), room->viewport()->size());
    CHECK(seen.contains(QRect(tray->mapTo(room->viewport(), QPoint(0, 0)), tray->size())));
    // Another station starts at its top.
    room->verticalScrollBar()->setValue(room->verticalScrollBar()->maximum());
    w.go(Station::triage);
    CHECK(room->verticalScrollBar()->value() == 0);
    w.window.resize(1280, 800);
}

TEST_CASE("Contrast of text on its grounds is 4.5 to 1 or better, in both appearances") {
    const auto luminance = [](const QColor& c) {
        const auto linear = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
        return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF()); // WCAG 2
    };
    const auto contrast = [&](const QColor& a, const QColor& b) {
        const double la = luminance(a);
        const double lb = luminance(b);
        return (std::max(la, lb) + 0.05) / (std::min(la, lb) + 0.05);
    };
    for (const auto appearance : {Theme::Appearance::light, Theme::Appearance::dark}) {
        Theme::instance().apply(appearance);
        const auto& c = app::colours();
        const std::pair<QColor, QColor> pairs[] = {{c.ink, c.paper},
                                                   {c.ink, c.surface},
                                                   {c.ink, c.well},
                                                   {c.muted, c.paper},
                                                   {c.muted, c.surface},
                                                   {c.muted, c.well},
                                                   {c.on_strong, c.steel},
                                                   {c.on_strong, c.ember},
                                                   {c.plum, c.surface},
                                                   {c.plum, c.plum_ground},
                                                   {c.ink, c.plum_ground},
                                                   {c.ink, c.ember_ground},
                                                   {c.ink, c.steel_ground},
                                                   {c.ink, c.steel_mid},
                                                   {c.steel, c.steel_ground},
                                                   {c.moss_text, c.duty_drive},
                                                   {c.moss_text, c.duty_light},
                                                   {c.brass_text, c.surface},
                                                   {c.brass_text, c.brass_ground},
                                                   {c.plum, c.duty_store}};
        int n = 0;
        for (const auto& [text, ground] : pairs) {
            INFO("pair " << n++ << " " << text.name().toStdString() << " on " << ground.name().toStdString());
            CHECK(contrast(text, ground) >= 4.5);
        }
    }
    Theme::instance().apply(Theme::Appearance::light);
}

TEST_CASE("Painted widgets have accessible names") {
    Window w;
    for (int i = 0; i < station_count; ++i) {
        w.go(static_cast<Station>(i));
        for (QWidget* child : w.window.current_view()->findChildren<QWidget*>())
            if (child->isVisible() && child->focusPolicy() == Qt::TabFocus &&
                qobject_cast<QAbstractButton*>(child) == nullptr) {
                INFO(child->metaObject()->className() << " " << child->objectName().toStdString());
                CHECK_FALSE(child->accessibleName().isEmpty());
            }
    }
}

TEST_CASE("A second window on the same file reads only, and says so") {
    Window w;
    app::MainWindow second;
    second.show();
    REQUIRE(second.open_file(QString::fromStdString(w.path())));
    CHECK(second.told().contains(QStringLiteral("another window")));
    CHECK_FALSE(second.workshop()->writable());
    second.go_to(Station::triage);
    for (QAction* action : second.view(Station::receive)->commands())
        if (action->text().contains(QStringLiteral("Add pack")))
            CHECK_FALSE(action->isEnabled());
}

TEST_CASE("A verdict is overruled with a reason, which is kept") {
    Window w;
    w.go(Station::sort);
    Id id = 0;
    for (const UnitState& u : w.shop().units())
        if (u.in_stock() && u.verdict.duty == Duty::store && u.facts.dc_resistance_ohm)
            id = u.record.id;
    w.scan(QString::fromStdString(w.shop().unit(id)->code()));
    Window::answer([](QWidget* dialog) {
        auto* reason = dialog->findChild<QLineEdit*>();
        auto* ok = dialog->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Ok);
        CHECK_FALSE(ok->isEnabled()); // no reason yet
        dialog->findChild<QComboBox*>()->setCurrentIndex(2);
        QTest::keyClicks(reason, QStringLiteral("only for lanterns"));
        QTest::mouseClick(ok, Qt::LeftButton);
    });
    w.press(QStringLiteral("Overrule…"));
    CHECK(w.shop().unit(id)->verdict.duty == Duty::light);
    CHECK(w.shop().unit(id)->verdict.evidence.front().note == "only for lanterns");
    w.window.activateWindow();
    w.settle();
    w.scan(QStringLiteral("withdraw"));
    CHECK(w.shop().unit(id)->verdict.duty == Duty::store);
}

TEST_CASE("Hazards are listed and closed with what was found") {
    Window w;
    const auto open = w.shop().receive().open_quarantines();
    REQUIRE(open.size() >= 2);
    QTest::mouseClick(w.find<app::PressButton>("hazards"), Qt::LeftButton);
    w.settle();
    auto* table = w.find<app::RecordTable>("hazards_open");
    CHECK(table->model()->rowCount() == static_cast<int>(open.size()));
    // A label selects its hazard; the Evidence panel shows its caution.
    w.scan(QString::fromStdString(w.shop().receive().subject_of(open.back())));
    CHECK(table->selected() == open.back().id);
    CHECK(w.window.current_view()->evidence().caution == "quarantine");
    Window::answer([](QWidget* dialog) {
        QTest::keyClicks(dialog->findChild<QLineEdit*>(), QStringLiteral("the sleeve was bulging, not the cell"));
        QTest::keyClick(dialog->findChild<QLineEdit*>(), Qt::Key_Return);
    });
    w.press(QStringLiteral("Close the hazard…"));
    CHECK(table->model()->rowCount() == static_cast<int>(open.size()) - 1); // the row went, the others stayed
    CHECK(w.shop().receive().open_quarantines().size() == open.size() - 1);
}

TEST_CASE("K34: every page stays inside a small window, sideways too, and with large type") {
    Window w;
    for (const QSize size : {QSize(1280, 720), QSize(1024, 700)}) {
        w.window.resize(size);
        w.settle();
        CHECK(w.window.size() == size); // nothing pushes it wider
        for (int i = 0; i < station_count; ++i) {
            w.window.go_to(static_cast<Station>(i));
            w.settle();
            INFO(app::station_name(static_cast<Station>(i)).toStdString() << " at " << size.width());
            CHECK(w.window.size() == size);
            CHECK(w.window.current_view()->isVisible());
            CHECK(w.window.route()->row_of(app::Room::library).bottom() <= w.window.route()->height());
        }
        for (int i = 0; i < app::room_count; ++i) {
            w.window.go_to(static_cast<app::Room>(i));
            w.settle();
            CHECK(w.window.size() == size);
        }
    }
    w.window.resize(1280, 720);
    w.key(Qt::Key_F12); // the Evidence makes room
    CHECK_FALSE(w.window.findChild<app::EvidencePanel*>()->isVisible());
    w.key(Qt::Key_F12);
    CHECK(w.window.findChild<app::EvidencePanel*>()->isVisible());
}

TEST_CASE("Every station and room of the demo, as it is entered, is seen whole at 1280 x 720") {
    Window w;
    w.window.resize(1280, 720);
    w.settle();
    const auto* stack = w.window.findChild<QStackedWidget*>();
    const auto* room = qobject_cast<QScrollArea*>(stack->parentWidget()->parentWidget());
    REQUIRE(room != nullptr);
    const auto fits = [&](const QString& name) {
        w.settle();
        INFO(name.toStdString() << ": " << stack->height() << " of " << room->viewport()->height());
        CHECK(room->verticalScrollBar()->maximum() == 0);
        CHECK(room->horizontalScrollBar()->maximum() == 0);
    };
    for (int i = 0; i < station_count; ++i) {
        w.window.go_to(static_cast<Station>(i));
        fits(app::station_name(static_cast<Station>(i)));
    }
    for (int i = 0; i < app::room_count; ++i) {
        w.window.go_to(static_cast<app::Room>(i));
        fits(w.window.current_view()->title());
    }
}

TEST_CASE("A file that is dropped goes where it belongs: workshop, log, folder") {
    Window w;
    const Temporary folder;
    REQUIRE(Workshop::create(folder.file("other.ingot"), "Other shop").ok());
    const QDir logs(QString::fromStdString(Workshop::shipped_folder("demo")) + QStringLiteral("/logs-to-import"));
    w.window.take_file(logs.filePath(logs.entryList({QStringLiteral("*.csv")}).front()));
    w.settle();
    CHECK(w.window.current_view() == w.window.view(Station::test));
    w.window.take_file(QString::fromStdString(folder.file("other.ingot")));
    w.settle();
    CHECK(w.shop().name() == "Other shop");
    w.window.take_file(QString::fromStdString(Workshop::shipped_folder("demo")));
    REQUIRE(w.wait_for([&] { return w.window.told().contains(QStringLiteral("brought in")); }));
    CHECK(w.shop().units().size() >= 420);
}

TEST_CASE("What the window said is in a log file of limited size") {
    const QtMessageHandler before = qInstallMessageHandler(nullptr);
    const Temporary folder;
    const QString path = QString::fromStdString(folder.file("ingot.log"));
    app::event_log::begin(path);
    app::event_log::objection(QStringLiteral("no such label"));
    qWarning("a warning of the toolkit");
    CHECK(Temporary::read(path.toStdString()).find("no such label") != std::string::npos);
    CHECK(Temporary::read(path.toStdString()).find("a warning of the toolkit") != std::string::npos);
    const QString long_line(4096, QLatin1Char('x'));
    for (int i = 0; i < 600; ++i)
        app::event_log::note(long_line);
    std::uintmax_t bytes = 0;
    std::size_t files = 0;
    for (const auto& entry :
         std::filesystem::directory_iterator(std::filesystem::path(path.toStdString()).parent_path())) {
        bytes += entry.file_size();
        ++files;
    }
    CHECK(files <= app::event_log::most_files);
    CHECK(bytes <= app::event_log::most_files * (app::event_log::largest_bytes + 8192));
    qInstallMessageHandler(nullptr);
    // Where it cannot be written, nothing happens.
    app::event_log::begin(QStringLiteral("/proc/nowhere/ingot.log"));
    app::event_log::note(QStringLiteral("lost"));
    qInstallMessageHandler(before);
}

TEST_CASE("K39: pictures of a workshop with nothing in it come to an end") {
    const Temporary folder;
    REQUIRE(Workshop::create(folder.file("empty.ingot"), "Empty").ok());
    Window w(folder.file("empty.ingot"));
    QElapsedTimer clock;
    clock.start();
    CHECK(app::write_screenshots(w.window, QString::fromStdString(folder.file("pictures"))) == false); // no such folder
    QDir().mkpath(QString::fromStdString(folder.file("pictures")));
    CHECK(app::write_screenshots(w.window, QString::fromStdString(folder.file("pictures"))));
    CHECK(clock.elapsed() < 60'000);
    CHECK(QDir(QString::fromStdString(folder.file("pictures"))).entryList({QStringLiteral("*.png")}).size() >= 15);
}

TEST_CASE("A workshop is opened beside the window, which stays with the old one until it is there") {
    Window w;
    const Temporary folder;
    const std::string path = folder.file("other.ingot");
    REQUIRE(Workshop::create(path, "Other shop"));
    const std::string before = w.shop().path();
    std::optional<bool> how;
    w.window.open_beside(QString::fromStdString(path), [&](bool opened) { how = opened; });
    CHECK_FALSE(how);
    CHECK(w.window.workshop()->path() == before);
    REQUIRE(w.wait_for([&] { return how.has_value(); }));
    CHECK(*how);
    CHECK(w.window.workshop()->path() == path);
    CHECK(w.window.workshop()->thread() == QThread::currentThread());
    CHECK(w.window.workshop()->writable());
    // It is worked with like any other: what changes is heard where the window lives.
    int heard = 0;
    QObject::connect(w.window.workshop(), &Workshop::changed, &w.window, [&](const ChangeSet&) { ++heard; });
    Lot lot;
    lot.label = "L1";
    CHECK(w.window.workshop()->receive().add_lot(lot));
    CHECK(heard == 1);

    how.reset();
    w.window.open_beside(QStringLiteral("/no/such.ingot"), [&](bool opened) { how = opened; });
    REQUIRE(w.wait_for([&] { return how.has_value(); }));
    CHECK_FALSE(*how);
    CHECK(w.window.told().contains(QStringLiteral("there is no such file")));
    CHECK(w.window.workshop()->path() == path);
    // One that is made meanwhile stays: what was being opened does not take its place.
    how.reset();
    w.window.open_beside(QString::fromStdString(w.path()), [&](bool opened) { how = opened; });
    REQUIRE(w.window.make_file(QString::fromStdString(folder.file("made.ingot")), QStringLiteral("Made meanwhile")));
    w.settle();
    CHECK_FALSE(how);
    CHECK(w.shop().name() == "Made meanwhile");
    REQUIRE(w.window.open_file(QString::fromStdString(path)));
    // The one that is open is not opened twice.
    how.reset();
    w.window.open_beside(QString::fromStdString(path), [&](bool opened) { how = opened; });
    CHECK(how.value_or(false));
    CHECK(w.window.workshop()->writable());
}

TEST_CASE("The demo is made beside the window; one that was interrupted is made anew") {
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    QDir().mkpath(folder);
    const std::string path = (folder + QStringLiteral("/demo.ingot")).toStdString();
    for (const char* of_file : {"", "-wal", "-shm"})
        std::filesystem::remove(path + of_file);
    std::ofstream(path + ".part") << "half a file";
    app::MainWindow window;
    window.resize(1280, 720);
    window.show();
    const auto wait_for = [](const std::function<bool()>& done) {
        QElapsedTimer clock;
        clock.start();
        while (!done() && clock.elapsed() < Window::patience_ms)
            QApplication::processEvents(QEventLoop::AllEvents, 10);
        return done();
    };
    CHECK_FALSE(window.findChild<app::EvidencePanel*>()->isVisible()); // nothing to give reasons for yet
    for (auto* button : window.findChildren<app::PressButton*>())
        if (button->isVisible() && button->text().remove(QLatin1Char('&')) == QStringLiteral("Look at the demo"))
            QTest::mouseClick(button, Qt::LeftButton);
    CHECK(window.workshop() == nullptr); // it is not made on the window's thread
    REQUIRE(wait_for([&] { return window.workshop() != nullptr; }));
    CHECK(window.workshop()->path() == path);
    CHECK(window.workshop()->units().size() > 300);
    CHECK(window.findChild<app::EvidencePanel*>()->isVisible());
    CHECK_FALSE(std::filesystem::exists(path + ".part"));
}

TEST_CASE("K22: what was cried of one workshop sounds no longer when another is opened") {
    Window w;
    auto* call = w.window.findChild<app::BenchCall*>();
    REQUIRE(call != nullptr);
    call->alarm(QStringLiteral("Bay 3 is hot"));
    auto* again = call->findChild<QTimer*>();
    REQUIRE(again != nullptr);
    CHECK(again->isActive());
    REQUIRE(w.window.make_file(QString::fromStdString(w.file("other.ingot")), QStringLiteral("Other")));
    w.settle();
    CHECK_FALSE(again->isActive());
}
