// What a person's hand does in Layout, as commands.
#include "app/stations/build/build_station.h"
#include "app/stations/build/layout_view.h"

namespace ingot::app {

void BuildStation::add_layout_commands() {
    move_ = add_command(tr("Move by hand…"), {}, tr("Cells, leads and links of the layout, typed; or drag them"),
                        [this] { layout_->ask_moves(); });
    swap_ = add_command(tr("Swap…"), {}, tr("Two groups, two places or two units change places"),
                        [this] { layout_->ask_swap(); });
    leave_out_ = add_command(tr("Leave the link out"), {}, tr("The chosen link between two groups; or Delete on it"),
                             [this] { layout_->leave_link_out(); });
    as_proposed_ = add_command(tr("As proposed again"), {}, tr("What was moved by hand goes back"),
                               [this] { layout_->forget_moves(); });
}

void BuildStation::enable_layout_commands() {
    const Assembly* record = workshop().build_of(build_);
    const bool may = record != nullptr && workshop().writable() && view_ == View::layout;
    const bool stands = may && !workshop().inventory().wants_units(*record);
    place_by_heat_->setEnabled(stands);
    for (QAction* remedy : remedies_)
        remedy->setEnabled(may);
    move_->setEnabled(stands && layout_->plan().now() != nullptr);
    swap_->setEnabled(move_->isEnabled());
    leave_out_->setEnabled(stands && layout_->link_chosen());
    as_proposed_->setEnabled(may && layout_->moved());
}

} // namespace ingot::app
