#include "app/screenshots.h"

#include "app/shell/main_window.h"
#include "app/stations/match/match_station.h"
#include "app/stations/open/bench_dialog.h"
#include "app/stations/receive/worth_dialog.h"
#include "app/stations/test/log_import.h"
#include "app/stations/test/test_station.h"
#include "app/stations/triage/donors_dialog.h"
#include "app/stations/triage/triage_station.h"
#include "app/theme/theme.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QPixmap>
#include <QTimer>

#include <algorithm>
#include <functional>

namespace ingot::app {

namespace {

void settle(const std::function<bool()>& done) {
    QElapsedTimer timer;
    timer.start();
    constexpr int longest_ms = 20'000;
    do {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    } while (!done() && timer.elapsed() < longest_ms);
    for (int i = 0; i < 5; ++i)
        QApplication::processEvents(QEventLoop::AllEvents, 20);
}

} // namespace

bool write_screenshots(MainWindow& window, const QString& folder) {
    window.resize(1280, 800);
    window.show();
    bool fine = true;
    const auto shoot = [&](Station station, const QString& name) {
        window.go_to(station);
        settle([] { return true; });
        window.view(station)->pose();
        settle([&] {
            auto* match = qobject_cast<MatchStation*>(window.view(station));
            auto* test = qobject_cast<TestStation*>(window.view(station));
            return (match == nullptr || (!match->searching() && match->has_answer())) &&
                   (test == nullptr || !test->log_import()->reading());
        });
        fine &= window.grab().save(folder + QLatin1Char('/') + name);
    };
    shoot(Station::receive, QStringLiteral("receive.png"));
    {
        const auto& packs = window.workshop()->packs();
        const auto mower = std::find_if(packs.begin(), packs.end(), [](const auto& p) { return p.stage == "triage"; });
        WorthDialog worth(&window, *window.workshop(), mower == packs.end() ? 0 : mower->id);
        worth.pose();
        worth.show();
        settle([] { return true; });
        fine &= worth.grab().save(folder + QStringLiteral("/worth.png"));
    }
    shoot(Station::triage, QStringLiteral("triage.png"));
    QTimer::singleShot(400, &window, [&] {
        if (QWidget* dialog = QApplication::activeModalWidget()) {
            auto* window_v = dialog->findChild<QLineEdit*>(QStringLiteral("donors_window"));
            window_v->setText(QStringLiteral("0.15"));
            emit window_v->editingFinished();
            settle([] { return true; });
            fine &= dialog->grab().save(folder + QStringLiteral("/donors.png"));
            dialog->close();
        }
    });
    if (auto* triage = qobject_cast<TriageStation*>(window.view(Station::triage)))
        show_donors(&window, *window.workshop(), triage->pack());
    shoot(Station::open, QStringLiteral("open.png"));
    const auto& packs = window.workshop()->packs();
    const auto opening = std::find_if(packs.begin(), packs.end(), [](const auto& p) { return p.stage == "open"; });
    const auto picture = [&](QDialog& dialog, const QString& name) {
        dialog.show();
        settle([] { return true; });
        fine &= dialog.grab().save(folder + QLatin1Char('/') + name);
    };
    if (opening != packs.end()) {
        StripsDialog strips(&window, *window.workshop(), opening->id);
        picture(strips, QStringLiteral("strips.png"));
    }
    TraysDialog trays(&window, *window.workshop());
    picture(trays, QStringLiteral("trays.png"));
    trays.close();
    shoot(Station::test, QStringLiteral("test.png"));
    shoot(Station::sort, QStringLiteral("sort.png"));
    shoot(Station::match, QStringLiteral("match.png"));
    shoot(Station::build, QStringLiteral("build.png"));
    Theme::instance().apply(Theme::Appearance::dark);
    shoot(Station::match, QStringLiteral("match-dark.png"));
    shoot(Station::triage, QStringLiteral("triage-dark.png"));
    Theme::instance().apply(Theme::Appearance::light);
    return fine;
}

} // namespace ingot::app
