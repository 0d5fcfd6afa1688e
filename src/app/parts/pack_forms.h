// Questions about a pack as a whole: what a person knows of it, and how it is laid out.
#pragma once

#include "core/measure/run.h"
#include "core/shop/found_parts.h"
#include "workshop/receive.h"
#include "workshop/workshop.h"

#include <optional>
#include <string>

class QLineEdit;
class QWidget;

namespace ingot::app {

class QuestionBox;

// Of a pack. What stands there already is shown; an emptied line takes it back. Nothing when cancelled.
[[nodiscard]] std::optional<ReceiveService::Particulars> ask_particulars(QWidget* parent,
                                                                         const ReceiveService::Particulars& known);
// The same of a unit: its age, mass and a note.
[[nodiscard]] std::optional<ReceiveService::Particulars> ask_unit_particulars(QWidget* parent,
                                                                              const ReceiveService::Particulars& known);
// A line for the codes of units in series on one channel, in order; what is no such thing is objected to beside it.
QLineEdit* add_series_codes(QuestionBox& box, const Workshop& workshop, const OnChannel& first);

struct LayoutAnswer {
    PackLayout layout;
    std::string reason;
};
[[nodiscard]] std::optional<LayoutAnswer> ask_layout(QWidget* parent, const Assembly& pack);

// Where each part that hid in a pack is kept; an empty line: there was none.
[[nodiscard]] std::optional<FoundParts> ask_found_parts(QWidget* parent, const Assembly& pack, const FoundParts& known);
// Of one lot; the roll that was used last is offered.
[[nodiscard]] std::optional<LooseUnits> ask_loose_units(QWidget* parent, const Workshop& workshop, Id lot);

} // namespace ingot::app
