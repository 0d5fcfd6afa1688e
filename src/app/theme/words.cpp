#include "app/theme/words.h"

#include "workshop/workshop.h"

#include <QCoreApplication>
#include <QLibraryInfo>
#include <QTranslator>

// Outside the namespace, as the macro demands: the words are part of a static library.
static void take_in_resource() {
    Q_INIT_RESOURCE(translations);
}

namespace ingot::app {

void choose_words(const QLocale& locale) {
    take_in_resource();
    QLocale::setDefault(locale);
    const auto install = [](auto... where) {
        auto* translator = new QTranslator(QCoreApplication::instance());
        if (translator->load(where...))
            QCoreApplication::installTranslator(translator);
        else
            delete translator;
    };
    // What is installed later is asked first.
    install(QStringLiteral(":/translations/ingot_en.qm"));
    if (locale.language() == QLocale::English || locale.language() == QLocale::C)
        return;
    const QString apart = QStringLiteral("_");
    install(locale, QStringLiteral("qtbase"), apart, QLibraryInfo::path(QLibraryInfo::TranslationsPath));
    install(locale, QStringLiteral("ingot"), apart, QString::fromStdString(Workshop::shipped_folder("translations")));
}

} // namespace ingot::app
