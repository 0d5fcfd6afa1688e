// The window's words and figures in the person's language. English stands in the source; what its counts need (one
// unit, two units) stands in translations/ingot_en.ts. Another language is a file ingot_LANGUAGE.qm in the data folder
// "translations"; Qt's own words (Cancel, Copy) come from Qt's catalogue of that language.
#pragma once

#include <QLocale>

namespace ingot::app {

// Once, after the application object is made.
void choose_words(const QLocale& locale = QLocale::system());

} // namespace ingot::app
