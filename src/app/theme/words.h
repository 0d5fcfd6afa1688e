// The window's words in the person's language. English stands in the source; what its counts need (one unit, two units)
// stands in translations/ingot_en.ts, and other languages would stand beside it.
#pragma once

namespace ingot::app {

// Once, after the application object is made.
void choose_words();

} // namespace ingot::app
