#include "app/screenshots.h"
#include "app/shell/application.h"
#include "app/shell/event_log.h"
#include "app/shell/main_window.h"
#include "app/stations/test/bench_view.h"
#include "app/theme/theme.h"
#include "app/theme/words.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QSettings>
#include <QSocketNotifier>
#include <QStandardPaths>

#include <cstdio>
#include <unistd.h>

namespace {

// A scanner or foot switch that delivers lines on standard input instead of typing: each line is taken as if scanned,
// and what became durable is answered with a line that begins with "ack".
class LineScanner : public QObject {
public:
    explicit LineScanner(ingot::app::MainWindow& window)
        : QObject(&window), window_(window), notifier_(STDIN_FILENO, QSocketNotifier::Read) {
        connect(&notifier_, &QSocketNotifier::activated, this, [this] { read(); });
        connect(&window_, &ingot::app::MainWindow::acknowledged, this, [](const QString& what) {
            std::printf("ack %s\n", what.toUtf8().constData());
            std::fflush(stdout);
        });
    }

private:
    void read() {
        char buffer[512];
        const auto got = ::read(STDIN_FILENO, buffer, sizeof buffer);
        if (got <= 0) {
            notifier_.setEnabled(false);
            return;
        }
        rest_.append(buffer, static_cast<qsizetype>(got));
        for (qsizetype end = rest_.indexOf('\n'); end >= 0; end = rest_.indexOf('\n')) {
            const QString line = QString::fromUtf8(rest_.left(end)).trimmed();
            rest_.remove(0, end + 1);
            window_.take_line(line);
        }
    }

    ingot::app::MainWindow& window_;
    QSocketNotifier notifier_;
    QByteArray rest_;
};

} // namespace

int main(int argc, char** argv) {
    ingot::app::Theme::choose_fonts();
    ingot::app::Application application(argc, argv);
    QApplication::setApplicationName(QStringLiteral("ingot"));
    QApplication::setOrganizationName(QStringLiteral("ingot"));
    QApplication::setApplicationVersion(QStringLiteral(INGOT_VERSION));
    ingot::app::choose_words();
    QCommandLineParser parser;
    parser.setApplicationDescription(QApplication::translate("main", "Ingot: from old packs to matched sets"));
    parser.addHelpOption();
    parser.addVersionOption();
    const QCommandLineOption screenshot(
        QStringLiteral("screenshot"), QApplication::translate("main", "Write a PNG of every main view to DIR and end"),
        QStringLiteral("DIR"));
    const QCommandLineOption scanner(QStringLiteral("scanner"),
                                     QApplication::translate("main", "Take scanned lines from standard input (-)"),
                                     QStringLiteral("SOURCE"));
    const QCommandLineOption tester(
        QStringLiteral("tester"),
        QApplication::translate("main", "Attach the tester at ADDRESS (serial:PORT or socket:PATH)"),
        QStringLiteral("ADDRESS"));
    const QCommandLineOption size(QStringLiteral("size"),
                                  QApplication::translate("main", "Size of those pictures, such as 1024x700"),
                                  QStringLiteral("WxH"), QStringLiteral("1280x800"));
    parser.addOption(screenshot);
    parser.addOption(size);
    parser.addOption(tester);
    parser.addOption(scanner);
    parser.addPositionalArgument(QStringLiteral("FILE"), QApplication::translate("main", "Workshop to open (*.ingot)"),
                                 QStringLiteral("[FILE]"));
    parser.process(application);

    if (parser.isSet(screenshot)) { // pictures neither follow nor change what the person chose
        QApplication::setApplicationName(QStringLiteral("ingot-pictures"));
        QSettings().clear();
    }
    const QString state_folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    if (QDir().mkpath(state_folder) && !parser.isSet(screenshot))
        ingot::app::event_log::begin(state_folder + QStringLiteral("/ingot.log"));
    using ingot::app::Theme;
    const Theme::Appearance of_desktop = Theme::of_desktop();
    const QVariant chosen = QSettings().value(QStringLiteral("dark"));
    Theme::instance().apply(parser.isSet(screenshot) ? Theme::Appearance::light
                            : !chosen.isValid()      ? of_desktop
                            : chosen.toBool()        ? Theme::Appearance::dark
                                                     : Theme::Appearance::light);
    ingot::app::MainWindow window;
    QStringList files = parser.positionalArguments();
    if (files.isEmpty() && !parser.isSet(screenshot))
        files = window.last_opened(); // nothing, or the workshop of the last time
    if (parser.isSet(screenshot)) {
        if (files.isEmpty() || !window.open_file(files.front())) {
            std::fprintf(stderr, "ingot: %s\n",
                         qPrintable(files.isEmpty() ? QApplication::translate("main", "--screenshot needs a workshop")
                                                    : window.told()));
            return 3;
        }
        const QString folder = parser.value(screenshot);
        const QStringList sides = parser.value(size).split(QLatin1Char('x'));
        window.resize(sides.value(0).toInt(), sides.value(1).toInt());
        if (!QDir().mkpath(folder) || !ingot::app::write_screenshots(window, folder)) {
            std::fprintf(stderr, "ingot: pictures could not be written to %s\n", qPrintable(folder));
            return 1;
        }
        return 0;
    }
    window.show();
    const auto begin = [&](bool opened) {
        if (parser.isSet(tester) && opened && window.bench() != nullptr) {
            window.go_to(ingot::Station::test);
            window.bench()->attach(parser.value(tester).toStdString());
        }
        if (parser.isSet(scanner))
            new LineScanner(window);
    };
    if (files.isEmpty())
        begin(true);
    else
        window.open_beside(files.front(), begin);
    return QApplication::exec();
}
