// The routes for one pack side by side: cost per Wh and year, hours and chance as bars, what each gives and leaves.
#pragma once

#include "app/theme/theme.h"
#include "core/worth/worth.h"

#include <QWidget>

namespace ingot::app {

class RoutesView : public QWidget {
    Q_OBJECT
public:
    explicit RoutesView(QWidget* parent = nullptr);
    void set(const WorthResult& result);
    [[nodiscard]] QSize sizeHint() const override { return {scaled(560), scaled(400)}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {scaled(470), scaled(340)}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    WorthResult result_;
};

} // namespace ingot::app
