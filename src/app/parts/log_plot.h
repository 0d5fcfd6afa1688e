// A tester's log as curves: voltage and current over time, steps shaded, the cutoff drawn.
#pragma once

#include "core/measure/capacity.h"

#include <QWidget>

class QCustomPlot;

namespace ingot::app {

class LogPlot : public QWidget {
    Q_OBJECT
public:
    explicit LogPlot(QWidget* parent = nullptr);
    void set(const LogSamples& samples, const CapacityResult& result);
    void clear();

private:
    void dress();
    QCustomPlot* plot_;
};

} // namespace ingot::app
