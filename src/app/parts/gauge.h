// One reason as a gauge: zones from the rule set with their duty marks, the measured value as a pointer, its
// uncertainty as a bracket.
#pragma once

#include "core/cells/evidence.h"

#include <QWidget>

namespace ingot::app {

class Gauge : public QWidget {
    Q_OBJECT
public:
    explicit Gauge(QWidget* parent = nullptr);
    void set(const Evidence& evidence);
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Evidence evidence_;
    QString name_;
    QString value_;
};

} // namespace ingot::app
