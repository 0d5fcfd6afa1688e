// Curves of runs, live or finished, one over the other: voltage, current, temperature or amount over time or over Ah;
// the cutoff, and the band that the unit's siblings made. Drag to pan, wheel to zoom, point to read off.
#pragma once

#include "core/measure/discharge_curve.h"

#include <QString>
#include <QWidget>

#include <vector>

class QCustomPlot;
class QLabel;

namespace ingot::app {

class ChoiceRow;

struct RunCurve {
    QString name;
    LogSamples samples;
    bool faint = false; // an earlier run beneath the one that is looked at
};
struct CurveBand : DischargeBand {
    QString name;
};

class RunPlot : public QWidget {
    Q_OBJECT
public:
    explicit RunPlot(QWidget* parent = nullptr);
    void set(std::vector<RunCurve> curves, double cutoff_v, CurveBand band);
    [[nodiscard]] int curves() const { return static_cast<int>(curves_.size()); }
    [[nodiscard]] bool band_shown() const { return !band_.amount_ah.empty() && over_amount(); }
    void show_over_amount(bool amount);
    bool save_picture(const QString& path); // .png or .svg
    [[nodiscard]] QString read_off() const;

private:
    void dress();
    void draw();
    void read_at(const QPointF& at);
    [[nodiscard]] bool over_amount() const;

    QCustomPlot* plot_;
    QLabel* unit_ = nullptr; // of the upright axis
    ChoiceRow* what_;
    ChoiceRow* over_;
    QLabel* reading_;
    std::vector<RunCurve> curves_;
    double cutoff_v_ = 0;
    CurveBand band_;
    bool keep_view_ = false;
};

// Lowest and highest voltage of the siblings' discharges at each amount.
CurveBand band_of(const std::vector<LogSamples>& siblings, const QString& name);

} // namespace ingot::app
