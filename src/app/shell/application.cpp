#include "app/shell/application.h"

#include "app/parts/painted.h"

#include <clocale>
#include <exception>

namespace ingot::app {

Application::Application(int& argc, char** argv) : QApplication(argc, argv) {
    // Qt takes the desktop's locale for the C library too. Files and settings keep the decimal point whatever it is;
    // what is shown goes through QLocale.
    std::setlocale(LC_NUMERIC, "C");
    Painted::install();
}

bool Application::notify(QObject* receiver, QEvent* event) {
    QString what;
    try {
        return QApplication::notify(receiver, event);
    } catch (const std::exception& exception) {
        what = QString::fromUtf8(exception.what());
    } catch (...) {
        what = tr("an unknown fault");
    }
    emit went_wrong(
        tr("Something went wrong inside Ingot (%1). This step was not finished; everything recorded before is safe.")
            .arg(what));
    return true;
}

} // namespace ingot::app
