// One of the views of a build: what its device needs, its units, its layout, its steps, how it runs. The station shows
// one of them, hands it lines and asks it for its evidence.
#pragma once

#include "app/parts/figure_boxes.h"
#include "app/stations/station.h"

#include <QWidget>

namespace ingot::app {

// Figures of a design as boxes in which they are typed, one after the other.
class DesignBoxes : public FigureBoxes {
    Q_OBJECT
public:
    DesignBoxes(const QString& name, std::vector<DesignFigure> figures, QWidget* parent = nullptr);
    void show_design(const BuildDesign& design);
    [[nodiscard]] std::optional<DesignFigure> figure() const; // that takes the next number
    void advance();

private:
    std::vector<DesignFigure> figures_;
};

class BuildView : public QWidget {
    Q_OBJECT
public:
    BuildView(Workshop& workshop, QWidget* parent) : QWidget(parent), workshop_(workshop) {}

    // To be called whenever something of the build changed while the view is on screen.
    void show_build(Id build) {
        build_ = build;
        refresh();
    }
    virtual void refresh() = 0;
    virtual void take_plan(const BuildPlan& plan) { Q_UNUSED(plan); } // worked out beside the window
    virtual void take_run(const BuildRun& run) { Q_UNUSED(run); }
    virtual bool take_line(const QString& line) {
        Q_UNUSED(line);
        return false;
    }
    virtual void echo(const QString& typed) { Q_UNUSED(typed); }
    virtual bool step_back() { return false; }
    [[nodiscard]] virtual QString scan_hint() const = 0;
    [[nodiscard]] virtual EvidenceContent evidence() const = 0;
    virtual bool show_unit(Id unit) {
        Q_UNUSED(unit);
        return false;
    }

signals:
    void evidence_changed();
    void hint_changed();
    void told(const QString& sentence, bool objection);
    void acknowledged(const QString& what);
    // A step, done already when `done`; Ctrl+Z takes it back.
    void step_wanted(const QString& text, const ingot::app::Act& forward, const ingot::app::Act& back);

protected:
    [[nodiscard]] Workshop& workshop() const { return workshop_; }
    [[nodiscard]] Id build() const { return build_; }
    [[nodiscard]] QString label() const;
    // A number for the box that takes it; "?": no longer known; an empty line: the next box.
    bool type_figure(DesignBoxes& boxes, const QString& line);
    void set_figure(DesignFigure figure, const QString& value);

private:
    Workshop& workshop_;
    Id build_ = 0;
};

} // namespace ingot::app
