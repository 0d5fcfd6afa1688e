// Start with a workshop of 5,000 units against an empty Qt window of the same size: whole processes from start to the
// first painted frame, and to the frame that shows the workshop; best of seven each, in the same run.
#include "app/shell/main_window.h"
#include "app/theme/theme.h"
#include "large_shop.h"

#include <QApplication>
#include <QMainWindow>
#include <QProcess>
#include <QTimer>

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <filesystem>

namespace {

using namespace ingot;

// One process: shows its window and ends at the first frame, without tidying up: nobody waits for that.
int show_and_end(QApplication& application, QWidget& window) {
    window.resize(1280, 800);
    window.show();
    window.repaint();
    QTimer::singleShot(0, &application, [] { std::_Exit(0); });
    return QApplication::exec();
}

double best_of(const QString& program, const QStringList& arguments) {
    double best = 1e9;
    for (int run = 0; run < 7; ++run) {
        const auto start = std::chrono::steady_clock::now();
        if (QProcess::execute(program, arguments) != 0)
            return -1;
        best = std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
    }
    return best;
}

} // namespace

int main(int argc, char** argv) {
    app::Theme::choose_fonts();
    QApplication application(argc, argv);
    QApplication::setApplicationName(QStringLiteral("ingot-benchmark"));
    QApplication::setOrganizationName(QStringLiteral("ingot-benchmark"));
    if (argc > 1 && std::string(argv[1]) == "--empty") {
        QMainWindow window;
        return show_and_end(application, window);
    }
    if (argc > 2) { // as the application does it: the window first, the workshop beside it
        app::Theme::instance().apply(app::Theme::Appearance::light);
        app::MainWindow window;
        const bool whole = std::string(argv[1]) == "--whole";
        window.open_beside(QString::fromUtf8(argv[2]), [&](bool opened) {
            window.repaint();
            std::_Exit(whole && opened ? 0 : 1);
        });
        if (whole) {
            window.resize(1280, 800);
            window.show();
            return QApplication::exec();
        }
        return show_and_end(application, window);
    }
    const auto folder = std::filesystem::temp_directory_path() / "ingot-benchmark-start";
    std::filesystem::remove_all(folder);
    std::filesystem::create_directories(folder);
    const std::string path = (folder / "large.ingot").string();
    benchmarks::make_large_shop(path, 5000, 1);
    const QString program = QApplication::applicationFilePath();
    const double empty = best_of(program, {QStringLiteral("--empty")});
    const double frame = best_of(program, {QStringLiteral("--frame"), QString::fromStdString(path)});
    const double full = best_of(program, {QStringLiteral("--whole"), QString::fromStdString(path)});
    std::filesystem::remove_all(folder);
    if (empty <= 0 || frame <= 0 || full <= 0)
        return 2;
    std::printf(
        "start with 5,000 units: empty Qt window %.0f ms; Ingot's window, commands and route %.0f ms, ratio %.2f "
        "(hold: 3); with every unit judged and shown %.0f ms, ratio %.2f\n",
        empty * 1000, frame * 1000, frame / empty, full * 1000, full / empty);
    return frame / empty <= 3 ? 0 : 1;
}
