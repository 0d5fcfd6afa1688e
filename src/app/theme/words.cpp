#include "app/theme/words.h"

#include <QCoreApplication>
#include <QTranslator>

// Outside the namespace, as the macro demands: the words are part of a static library.
static void take_in_resource() {
    Q_INIT_RESOURCE(translations);
}

namespace ingot::app {

void choose_words() {
    take_in_resource();
    auto* translator = new QTranslator(QCoreApplication::instance());
    if (translator->load(QStringLiteral(":/translations/ingot_en.qm")))
        QCoreApplication::installTranslator(translator);
}

} // namespace ingot::app
