#include "app/shell/application.h"
#include "app/theme/theme.h"
#include "app/theme/words.h"
#include "run_tests.h"

#include <QApplication>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>

#include <cstdio>

namespace {

// What the offscreen platform cannot do says nothing about Ingot, and a thousand such lines hide a failure.
void print_what_matters(QtMsgType, const QMessageLogContext&, const QString& message) {
    if (!message.startsWith(QStringLiteral("This plugin does not support ")))
        std::fprintf(stderr, "%s\n", qPrintable(message));
}

} // namespace

int main(int argc, char** argv) {
    qInstallMessageHandler(print_what_matters);
    QStandardPaths::setTestModeEnabled(true);
    ingot::app::Theme::choose_fonts();
    ingot::app::Application application(argc, argv);
    QApplication::setApplicationName(QStringLiteral("ingot-test"));
    QApplication::setOrganizationName(QStringLiteral("ingot-test"));
    const QTemporaryDir settings; // other windows may be under test at the same time
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, settings.path());
    ingot::app::choose_words(QLocale::c());
    ingot::app::Theme::instance().apply(ingot::app::Theme::Appearance::light);
    return run_tests(argc, argv);
}
