// What 64 bays at ten readings a second cost Ingot, window and file included, in shares of one core. Reference in the
// same run: the same window with the same tester attached and nothing running on it.
//
//   benchmark_bench [SECONDS]
#include "app/shell/main_window.h"
#include "app/stations/test/bench_view.h"
#include "app/theme/theme.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QProcess>
#include <QTemporaryDir>
#include <QTimer>

#include <cstdio>
#include <cstdlib>
#include <ctime>
#include <functional>

namespace {

using namespace ingot;

void sleep_ms(int ms) {
    QEventLoop loop;
    QTimer::singleShot(ms, &loop, &QEventLoop::quit);
    loop.exec();
}

double share_over(int seconds) {
    const std::clock_t before = std::clock();
    QElapsedTimer wall;
    wall.start();
    sleep_ms(seconds * 1000);
    return static_cast<double>(std::clock() - before) / CLOCKS_PER_SEC / (static_cast<double>(wall.elapsed()) / 1000);
}

} // namespace

int main(int argc, char** argv) {
    ::setenv("QT_QPA_PLATFORM", "offscreen", 0);
    const int seconds = argc > 1 ? std::atoi(argv[1]) : 20;
    app::Theme::choose_fonts();
    QApplication application(argc, argv);
    app::Theme::instance().apply(app::Theme::Appearance::light);
    const QTemporaryDir folder;
    const QString socket = folder.filePath(QStringLiteral("tester"));
    QProcess sim;
    sim.start(QCoreApplication::applicationDirPath() + QStringLiteral("/ingot-sim"),
              {QStringLiteral("--socket"), socket, QStringLiteral("--bays"), QStringLiteral("64")});
    if (!sim.waitForReadyRead()) {
        std::fprintf(stderr, "ingot-sim does not start\n");
        return 1;
    }
    const std::string path = folder.filePath(QStringLiteral("shop.ingot")).toStdString();
    {
        auto shop = Workshop::create(path, "Bench");
        if (!shop || !shop.value()->import_folder(Workshop::shipped_folder("demo")))
            return 1;
    }
    app::MainWindow window;
    window.resize(1280, 800);
    window.show();
    if (!window.open_file(QString::fromStdString(path)))
        return 1;
    window.go_to(Station::test);
    Bays& bays = window.bench()->bays();
    constexpr double ten_a_second = 0.1;
    constexpr int poll_ms = 100;
    bays.set_sample_interval(ten_a_second);
    bays.set_poll_interval(poll_ms);
    window.bench()->attach("socket:" + socket.toStdString());
    while (!bays.ready())
        sleep_ms(50);
    const double idle = share_over(seconds);
    int next = 1;
    for (const UnitState& unit : window.workshop()->units())
        if (next <= 64 && unit.in_stock() && unit.facts.chemistry == "nmc" &&
            bays.put_in(unit.record.id, next, "li-capacity"))
            ++next;
    sleep_ms(2000);
    const std::uint64_t from = bays.tester(bays.testers().front().place.address)->last_sequence();
    const double busy = share_over(seconds);
    int holes = 0;
    for (const BayView& bay : bays.bays())
        holes += bay.gaps;
    std::printf("%d bays, %.1f samples a second on each, %d holes: %.2f %% of one core; nothing running: %.2f %%\n",
                next - 1,
                static_cast<double>(bays.tester(bays.testers().front().place.address)->last_sequence() - from) /
                    seconds / (next - 1),
                holes, 100 * busy, 100 * idle);
    sim.kill();
    sim.waitForFinished();
    return 0;
}
