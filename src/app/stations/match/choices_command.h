// Locks, exclusions and pairs kept apart, taken back with Ctrl+Z.
#pragma once

#include "app/stations/match/match_station.h"

#include <QUndoCommand>

namespace ingot::app {

class ChoicesCommand : public QUndoCommand {
public:
    ChoicesCommand(MatchStation& station, MatchStation::Choices choices, const QString& text)
        : QUndoCommand(text), station_(station), before_(station.choices_), choices_(std::move(choices)) {}
    void undo() override { station_.set_locks(before_); }
    void redo() override { station_.set_locks(choices_); }

private:
    MatchStation& station_;
    MatchStation::Choices before_, choices_;
};

} // namespace ingot::app
