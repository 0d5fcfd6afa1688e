// Commands through their menus and dialogs, as they are used.
#include "window.h"

#include "app/parts/choice_row.h"
#include "app/parts/level_view.h"
#include "app/shell/start_page.h"
#include "app/stations/build/build_station.h"
#include "app/stations/match/match_station.h"
#include "app/stations/open/open_station.h"
#include "app/stations/receive/receive_station.h"
#include "app/stations/test/log_import.h"
#include "app/stations/test/test_station.h"
#include "exchange/pool_csv.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenuBar>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QSettings>
#include <QSpinBox>
#include <QUndoStack>

#include <filesystem>
#include <regex>

using namespace ingot;
using namespace ingot::tests;

namespace {

// Triggers a command by its words, wherever it stands in the menus.
void command(Window& w, const QString& words) {
    QAction* found = nullptr;
    const std::function<void(QMenu*)> walk = [&](QMenu* menu) {
        for (QAction* action : menu->actions()) {
            if (action->menu() != nullptr)
                walk(action->menu());
            else if (action->text().remove(QLatin1Char('&')).startsWith(words))
                found = action;
        }
    };
    for (QAction* action : w.window.menuBar()->actions())
        walk(action->menu());
    INFO(words.toStdString());
    REQUIRE(found != nullptr);
    REQUIRE(found->isEnabled());
    found->trigger();
    w.settle();
}

// Answers a file dialog with a path.
void choose_file(const std::string& path) {
    Window::answer([path](QWidget* dialog) {
        auto* files = qobject_cast<QFileDialog*>(dialog);
        REQUIRE(files != nullptr);
        auto* name = files->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"));
        REQUIRE(name != nullptr);
        name->setText(QString::fromStdString(path));
        QTest::keyClick(name, Qt::Key_Return);
        if (files->isVisible())
            static_cast<QDialog*>(files)->accept();
    });
}

} // namespace

TEST_CASE("The pool is exported and reads back as the command line reads it") {
    Window w;
    const std::string path = w.file("pool.csv");
    choose_file(path);
    command(w, QStringLiteral("Export the pool"));
    REQUIRE(std::filesystem::exists(path));
    const auto pool = exchange::read_pool(Temporary::read(path), path);
    REQUIRE(pool.ok());
    int stock = 0;
    for (const UnitState& u : w.shop().units())
        stock += u.in_stock() ? 1 : 0;
    CHECK(static_cast<int>(pool.value().rows.size()) == stock);
    CHECK(w.window.told().contains(QString::number(stock)));
}

TEST_CASE("A folder of open files is brought in through the menu; a second time it objects") {
    const Temporary folder;
    const std::string empty = folder.file("new.ingot");
    REQUIRE(Workshop::create(empty, "New").ok());
    Window w(empty);
    choose_file(Workshop::shipped_folder("demo"));
    command(w, QStringLiteral("Bring in a folder"));
    CHECK(w.shop().units().size() >= 420);
    choose_file(Workshop::shipped_folder("demo"));
    command(w, QStringLiteral("Bring in a folder"));
    CHECK(w.window.told().contains(QStringLiteral("exists already")));
}

TEST_CASE("New and open through dialogs; what was opened is offered again") {
    QSettings().clear();
    Window w;
    const Temporary folder;
    // N50: name and place in one form; a place that is taken is objected to there.
    const auto make = [&](const std::string& path) {
        QString objected;
        Window::answer([&objected, path](QWidget* dialog) {
            auto* place = dialog->findChild<QLineEdit*>(QStringLiteral("new_place"));
            QTest::keyClicks(dialog->findChild<QLineEdit*>(QStringLiteral("new_name")), QStringLiteral("Second shop"));
            CHECK(place->text().endsWith(QStringLiteral("/Second shop.ingot")));
            place->setText(QString::fromStdString(path));
            QTest::keyClick(place, Qt::Key_Return);
            if (!dialog->isVisible())
                return;
            for (const auto* label : dialog->findChildren<QLabel*>(QStringLiteral("objection")))
                objected += label->text();
            static_cast<QDialog*>(dialog)->reject();
        });
        command(w, QStringLiteral("New workshop"));
        return objected;
    };
    CHECK(make(w.path()).contains(QStringLiteral("is there already")));
    CHECK(make(folder.file("none/second.ingot")).contains(QStringLiteral("There is no folder")));
    CHECK(make(folder.file("second")).isEmpty());
    CHECK(w.window.windowTitle().startsWith(QStringLiteral("Second shop")));
    CHECK(w.shop().name() == "Second shop");
    choose_file(w.path());
    command(w, QStringLiteral("Open workshop"));
    CHECK(w.shop().units().size() >= 420);
    command(w, QStringLiteral("second")); // from Open recent
    CHECK(w.shop().name() == "Second shop");
    app::MainWindow fresh;
    fresh.show();
    int offered = 0;
    for (auto* button : fresh.findChild<app::StartPage*>()->findChildren<app::PressButton*>())
        offered += button->text() == QStringLiteral("second") ? 1 : 0;
    CHECK(offered == 1);
}

TEST_CASE("Build sheet and labels through their dialogs; a build is given up") {
    Window w;
    w.go(Station::build);
    const std::string pdf = w.file("sheet.pdf");
    choose_file(pdf);
    command(w, QStringLiteral("Sheet as PDF"));
    CHECK(Temporary::read(pdf).substr(0, 5) == "%PDF-");
    const std::string csv = w.file("sheet.csv");
    choose_file(csv);
    command(w, QStringLiteral("Sheet as CSV"));
    CHECK(Temporary::read(csv).find("Group,Place,Unit ID") == 0);
    const std::string labels = w.file("labels.pdf");
    choose_file(labels);
    w.window.go_to(Station::open);
    command(w, QStringLiteral("Print labels"));
    CHECK(Temporary::read(labels).substr(0, 5) == "%PDF-");
    int stock = 0;
    for (const UnitState& u : w.shop().units())
        stock += u.in_stock() ? 1 : 0;
    w.window.go_to(Station::build);
    Window::answer([](QWidget* dialog) { static_cast<QMessageBox*>(dialog)->button(QMessageBox::Yes)->click(); });
    command(w, QStringLiteral("Give the build up"));
    int now = 0;
    for (const UnitState& u : w.shop().units())
        now += u.in_stock() ? 1 : 0;
    CHECK(now == stock + 16);
}

TEST_CASE("A log through the dialog, put away again") {
    Window w;
    w.go(Station::test);
    const QDir logs(QString::fromStdString(Workshop::shipped_folder("demo")) + QStringLiteral("/logs-to-import"));
    choose_file(logs.filePath(logs.entryList({QStringLiteral("*.csv")}).last()).toStdString());
    command(w, QStringLiteral("Import logs"));
    auto* station = w.view<app::TestStation>(Station::test);
    REQUIRE(w.wait_for([&] { return station->log_import()->ready(); }));
    const auto runs = w.shop().ledger().counts().runs;
    command(w, QStringLiteral("Discard the log"));
    CHECK_FALSE(station->log_import()->ready());
    CHECK(w.shop().ledger().counts().runs == runs);
    command(w, QStringLiteral("Next unit to test"));
    const Id first = station->unit();
    command(w, QStringLiteral("Next unit to test"));
    CHECK(station->unit() != first);
}

TEST_CASE("A lot is added with its source, and packs follow its label") {
    Window w;
    w.go(Station::receive);
    Window::answer([](QWidget* dialog) {
        const auto fields = dialog->findChildren<QLineEdit*>();
        REQUIRE(fields.size() == 2);
        QTest::keyClicks(fields[0], QStringLiteral("LAN-09"));
        QTest::keyClicks(fields[1], QStringLiteral("trail lanterns"));
        QTest::keyClick(fields[1], Qt::Key_Return);
    });
    command(w, QStringLiteral("New lot"));
    CHECK(w.shop().lots().back().label == "LAN-09");
    CHECK(w.shop().lots().back().source == "trail lanterns");
    CHECK(w.find<QLineEdit>("pack_label")->text().startsWith(QStringLiteral("LAN-09")));
    command(w, QStringLiteral("Add pack"));
    CHECK(w.shop().packs().back().lot == w.shop().lots().back().id);
    // N7: with a reason, and found again in the Ledger, from where it is taken back in.
    Window::answer_line(QString()); // no reason, no refusal: the box stays open
    command(w, QStringLiteral("Refuse pack"));
    CHECK(w.shop().packs().back().state == AssemblyState::received);
    Window::answer_line(QStringLiteral("wet, and smells sweet"));
    command(w, QStringLiteral("Refuse pack"));
    CHECK(w.shop().packs().back().state == AssemblyState::refused);
    const std::string label = w.shop().packs().back().label;
    CHECK(w.shop().ledger().events_of(label).back().detail == "wet, and smells sweet");
    w.window.take_line(QString::fromStdString(label)); // no station works on it: its history
    CHECK(w.window.current_view() == w.window.view(app::Room::ledger));
    command(w, QStringLiteral("Take the pack back in"));
    CHECK(w.shop().packs().back().state == AssemblyState::received);
}

TEST_CASE("A finding that was wrong is struck out with a reason; without one it stays") {
    Window w;
    w.go(Station::receive);
    QCheckBox* rusted = nullptr;
    for (auto* box : w.window.current_view()->findChildren<QCheckBox*>())
        if (box->text() == QStringLiteral("Rusted"))
            rusted = box;
    REQUIRE(rusted != nullptr);
    const auto click = [&] {
        QTest::mouseClick(rusted, Qt::LeftButton, {}, QPoint(8, rusted->height() / 2));
        w.settle();
    };
    click();
    CHECK_FALSE(w.shop().inventory().findings().empty());
    const auto standing = w.shop().inventory().findings().size();
    Window::answer([](QWidget* dialog) { static_cast<QDialog*>(dialog)->reject(); });
    click();
    CHECK(rusted->isChecked());
    CHECK(w.shop().inventory().findings().size() == standing);
    Window::answer([](QWidget* dialog) {
        QTest::keyClicks(dialog->findChild<QLineEdit*>(), QStringLiteral("it was paint"));
        QTest::keyClick(dialog->findChild<QLineEdit*>(), Qt::Key_Return);
    });
    click();
    CHECK_FALSE(rusted->isChecked());
    CHECK(w.shop().inventory().findings().size() == standing - 1);
}

TEST_CASE("Match: the give-up control searches again, exclusions can be forgotten and undone") {
    Window w;
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    match->start_search();
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    const double levelled = match->answer()->levelness;
    auto* control = match->findChild<app::ChoiceRow*>();
    QTest::mouseClick(control->button(0), Qt::LeftButton); // nothing given up
    REQUIRE(w.wait_for([&] { return !match->searching(); }));
    CHECK(match->answer()->levelness > levelled);
    CHECK(match->answer()->usable_ah == Approx(match->answer()->best_usable_ah));
    auto* level = match->level_view();
    QTest::mouseClick(level, Qt::LeftButton, {}, level->unit_box(1, 0).center().toPoint());
    const QString unit = level->selected_unit();
    command(w, QStringLiteral("Exclude the unit"));
    match->start_search();
    REQUIRE(w.wait_for([&] { return !match->searching(); }));
    const Id excluded = w.shop().find_unit(unit.toStdString()).value();
    command(w, QStringLiteral("Reserve for a build"));
    CHECK(w.shop().unit(excluded)->in_stock()); // it was left out
    CHECK(w.shop().inventory().placements(w.shop().builds().back().id).size() == 28);
}

TEST_CASE("A protocol is copied, edited and kept; a dangerous one is refused and its text stays") {
    Window w;
    command(w, QStringLiteral("Library"));
    auto* page = w.window.view(app::Room::library);
    auto* entries = page->findChild<QListWidget*>(QStringLiteral("library_entries"));
    auto* text = page->findChild<QPlainTextEdit*>(QStringLiteral("library_text"));
    auto* says = page->findChild<QLabel*>(QStringLiteral("library_says"));
    const int before = entries->count();
    const auto press = [&](const QString& words) { w.press(words); };
    for (int row = 0; row < entries->count(); ++row)
        if (entries->item(row)->text().startsWith(QStringLiteral("Li-ion capacity, 0.2 It")))
            entries->setCurrentRow(row);
    const QString shipped = text->toPlainText();
    text->setPlainText(QString(shipped).replace(QStringLiteral("volts = 4.2"), QStringLiteral("volts = 4.4")));
    press(QStringLiteral("Save as the next version"));
    CHECK(says->text().contains(QStringLiteral("4.400")));
    CHECK(text->toPlainText().contains(QStringLiteral("volts = 4.4"))); // nothing typed is lost
    text->setPlainText(
        QString(shipped).replace(QStringLiteral("id = \"li-capacity\""), QStringLiteral("id = \"li-capacity-own\"")));
    press(QStringLiteral("Save as the next version"));
    CHECK(says->text().contains(QStringLiteral("next version")));
    // A teardown plan as well.
    const int next_version = w.shop().library().teardown.back().version + 1;
    entries->setCurrentRow(entries->count() - 1);
    press(QStringLiteral("Save as the next version"));
    CHECK(entries->currentItem()->text().endsWith(QStringLiteral("v%1").arg(next_version)));
    text->setPlainText(QStringLiteral("[[plan]]\nid = "));
    press(QStringLiteral("Save as the next version"));
    CHECK(says->text().contains(QStringLiteral(":2")));
    CHECK(entries->count() == before + 1);
    REQUIRE(w.shop().library().protocol("li-capacity-own") != nullptr);
    CHECK(w.shop().library().protocol("li-capacity")->version == 1);
    const auto again = Workshop::open(w.path());
    REQUIRE(again);
    CHECK(again.value()->library().protocol("li-capacity-own") != nullptr);
    CHECK(again.value()->library().teardown.back().version == next_version);
}

TEST_CASE("Counts are said as people say them, and no counted sentence is without its singular") {
    const auto said = [](const char* context, const char* words, int n) {
        return QCoreApplication::translate(context, words, nullptr, n);
    };
    CHECK(said("ingot::app::DonorsPage", "%n packs went to Open.", 1) == QStringLiteral("1 pack went to Open."));
    CHECK(said("ingot::app::DonorsPage", "%n packs went to Open.", 3) == QStringLiteral("3 packs went to Open."));
    CHECK(said("ingot::app::Route", "units", 1) == QStringLiteral("unit"));
    CHECK(said("ingot::app", "%n units of models without a mass in the library are counted, not weighed.", 1)
              .startsWith(QStringLiteral("1 unit of a model")));
    CHECK(app::TestStation::tr("%n units wait for a bay.", nullptr, 1) == QStringLiteral("1 unit waits for a bay."));
    CHECK(app::OpenStation::tr("%n photos are kept with it.", nullptr, 0) ==
          QStringLiteral("0 photos are kept with it."));

    const std::string source = std::string(INGOT_SOURCE_DIR) + "/src/app";
    const std::string known = Temporary::read(source + "/translations/ingot_en.ts");
    const std::regex counted("\"([^\"\\n]*%n[^\"\\n]*)\"");
    int found = 0;
    for (const auto& entry : std::filesystem::recursive_directory_iterator(source)) {
        if (entry.path().extension() != ".cpp")
            continue;
        const std::string text = Temporary::read(entry.path().string());
        for (std::sregex_iterator at(text.begin(), text.end(), counted), end; at != end; ++at) {
            ++found;
            INFO(entry.path().filename().string() << ": " << (*at)[1].str());
            CHECK(known.find((*at)[1].str()) != std::string::npos);
        }
    }
    CHECK(found > 10);
}
