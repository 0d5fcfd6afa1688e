// The stations' pages, of which one is seen, and the room they have in the window.
#pragma once

#include <QScrollArea>
#include <QStackedWidget>

namespace ingot::app {

// Only the page that is seen asks for room.
class Pages : public QStackedWidget {
public:
    using QStackedWidget::QStackedWidget;
    [[nodiscard]] QSize minimumSizeHint() const override;
    // What the page can do with at this width; its sentences wrap.
    [[nodiscard]] int least_height(int width) const;
};

// Shows the page whole where there is room; where there is not (a message across the top, a small screen, large type),
// it scrolls, down and sideways, instead of growing out of the screen.
class PagesInRoom : public QScrollArea {
public:
    PagesInRoom(Pages* pages, QWidget* parent);
    [[nodiscard]] QSize minimumSizeHint() const override;

protected:
    bool eventFilter(QObject* object, QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void fit();

    Pages* pages_;
};

} // namespace ingot::app
