// A step that can be taken back with Ctrl+Z. Taking it back is a step of its own, checked and recorded like any other:
// the record keeps both, nothing is deleted. A step that the workshop refuses to take back leaves the stack, with the
// workshop's reason.
#pragma once

#include "core/cells/problem.h"

#include <QUndoCommand>

#include <functional>

namespace ingot::app {

using Act = std::function<Result<bool>()>;

class StepCommand : public QUndoCommand {
public:
    // `forward` is done already when this is pushed. `refused` shows a problem.
    StepCommand(const QString& text, Act forward, Act back, std::function<void(const Problem&)> refused)
        : QUndoCommand(text), forward_(std::move(forward)), back_(std::move(back)), refused_(std::move(refused)) {}
    void undo() override { run(back_); }
    void redo() override {
        if (std::exchange(done_, false)) // the stack calls this once when the command is pushed
            return;
        run(forward_);
    }

private:
    void run(const Act& step) {
        const auto result = step();
        if (result.ok())
            return;
        setObsolete(true);
        refused_(result.problem());
    }

    Act forward_;
    Act back_;
    std::function<void(const Problem&)> refused_;
    bool done_ = true;
};

} // namespace ingot::app
