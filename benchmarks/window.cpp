// How long one event holds up the window's thread: every station and room seen for the first time, then walked by keys,
// with the demo and 20,000 units more. Reference in the same run: the same walk with the demo alone. Ends with 1 if a
// key takes 100 ms.
//
//   benchmark_window [UNITS]
#include "app/shell/main_window.h"
#include "app/shell/scan_field.h"
#include "app/theme/theme.h"
#include "large_shop.h"
#include "workshop/job.h"

#include <QAction>
#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <functional>
#include <vector>

namespace {

using namespace ingot;

// The longest event of the outermost kind since it was asked last: what the person waits for.
class TimedApplication : public QApplication {
public:
    using QApplication::QApplication;
    bool notify(QObject* receiver, QEvent* event) override {
        if (depth_++ == 0)
            clock_.start();
        const bool taken = QApplication::notify(receiver, event);
        if (--depth_ == 0)
            worst_ms_ = std::max(worst_ms_, static_cast<double>(clock_.nsecsElapsed()) / 1e6);
        return taken;
    }
    double worst_ms() { return std::exchange(worst_ms_, 0.0); }

private:
    QElapsedTimer clock_;
    int depth_ = 0;
    double worst_ms_ = 0;
};

struct PageWalk {
    QString name;
    double seen_ms = 0; // made and shown for the first time
    double key_ms = 0;
    QString key;
};

void settle(const QWidget& window) {
    const auto busy = [&window] {
        const auto jobs = window.findChildren<Job*>();
        return std::any_of(jobs.begin(), jobs.end(), [](const Job* job) { return job->busy(); });
    };
    constexpr int longest_ms = 8000; // a search for sets goes on beside the keys
    QElapsedTimer timer;
    timer.start();
    do {
        for (int i = 0; i < 5; ++i)
            QApplication::processEvents(QEventLoop::AllEvents, 10);
    } while (busy() && timer.elapsed() < longest_ms);
}

std::vector<PageWalk> walk(TimedApplication& application, const std::string& path) {
    app::MainWindow window;
    window.resize(1280, 800);
    window.show();
    if (!window.open_file(QString::fromStdString(path)))
        std::exit(2);
    settle(window);
    window.activateWindow();
    std::vector<PageWalk> steps;
    const auto walked = [&](const QString& name, const std::function<void()>& go) {
        application.worst_ms();
        QElapsedTimer made;
        made.start();
        window.scan_field()->setFocus();
        go();
        const double making_ms = static_cast<double>(made.nsecsElapsed()) / 1e6; // outside any event here
        settle(window);
        PageWalk step{name, std::max(application.worst_ms(), making_ms), 0, {}};
        const auto press = [&](Qt::Key key) {
            QWidget* focus = QApplication::focusWidget();
            if (focus == window.route() && key != Qt::Key_Tab && key != Qt::Key_F2) // leads to another page
                return;
            QTest::keyClick(focus != nullptr ? focus : window.scan_field(), key);
            settle(window);
            if (const double ms = application.worst_ms(); ms > step.key_ms) {
                step.key_ms = ms;
                step.key = QKeySequence(key).toString() + QStringLiteral(" in ") +
                           QString::fromLatin1(focus != nullptr ? focus->metaObject()->className() : "?");
            }
        };
        const auto keys = {Qt::Key_Down, Qt::Key_Down, Qt::Key_PageDown, Qt::Key_End, Qt::Key_Home, Qt::Key_Up};
        for (const Qt::Key key : keys)
            press(key);
        constexpr int stops = 8;
        for (int stop = 0; stop < stops; ++stop) {
            press(Qt::Key_Tab);
            for (const Qt::Key key : keys)
                press(key);
        }
        for (const Qt::Key key : {Qt::Key_F2, Qt::Key_T, Qt::Key_R, Qt::Key_A, Qt::Key_Escape})
            press(key);
        steps.push_back(step);
    };
    for (int i = 0; i < station_count; ++i)
        walked(app::station_name(static_cast<Station>(i)), [&] { window.go_to(static_cast<Station>(i)); });
    for (int i = 0; i < app::room_count; ++i)
        walked(app::room_name(static_cast<app::Room>(i)), [&] {
            const auto& packs = window.workshop()->packs();
            window.go_to(static_cast<app::Room>(i), packs.empty() ? 0 : packs.front().id);
        });
    return steps;
}

} // namespace

int main(int argc, char** argv) {
    ::setenv("QT_QPA_PLATFORM", "offscreen", 0);
    const int units = argc > 1 ? std::atoi(argv[1]) : 20'000;
    app::Theme::choose_fonts();
    TimedApplication application(argc, argv);
    QApplication::setApplicationName(QStringLiteral("ingot-benchmark"));
    QApplication::setOrganizationName(QStringLiteral("ingot-benchmark"));
    app::Theme::instance().apply(app::Theme::Appearance::light);
    const QTemporaryDir folder;
    const std::string demo = folder.filePath(QStringLiteral("demo.ingot")).toStdString();
    const std::string large = folder.filePath(QStringLiteral("large.ingot")).toStdString();
    for (const std::string& path : {demo, large}) {
        auto shop = Workshop::create(path, "Bench");
        if (!shop || !shop.value()->import_folder(Workshop::shipped_folder("demo")))
            return 2;
    }
    benchmarks::add_units(large, units, 2, "W");
    const std::vector<PageWalk> reference = walk(application, demo);
    const std::vector<PageWalk> steps = walk(application, large);
    std::printf("%-14s %30s %30s   key\n", "page", "first seen, ms (demo alone)", "worst key, ms (demo alone)");
    constexpr double limit_ms = 100;
    bool held = true;
    for (std::size_t i = 0; i < steps.size(); ++i) {
        std::printf("%-14s %18.0f (%9.0f) %18.1f (%9.1f)   %s\n", steps[i].name.toUtf8().constData(), steps[i].seen_ms,
                    reference[i].seen_ms, steps[i].key_ms, reference[i].key_ms, steps[i].key.toUtf8().constData());
        held = held && steps[i].key_ms < limit_ms;
    }
    return held ? 0 : 1;
}
