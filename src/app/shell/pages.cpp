#include "app/shell/pages.h"

#include <QEvent>
#include <QLayout>
#include <QScrollBar>

namespace ingot::app {

QSize Pages::minimumSizeHint() const {
    const QMargins m = contentsMargins();
    const QSize page = currentWidget() == nullptr ? QSize() : currentWidget()->minimumSizeHint();
    return page.expandedTo({0, 0}) + QSize(m.left() + m.right(), m.top() + m.bottom());
}

int Pages::least_height(int width) const {
    const QMargins m = contentsMargins();
    const QLayout* layout = currentWidget() == nullptr ? nullptr : currentWidget()->layout();
    if (layout == nullptr || !layout->hasHeightForWidth())
        return minimumSizeHint().height();
    return layout->minimumHeightForWidth(width - m.left() - m.right()) + m.top() + m.bottom();
}

PagesInRoom::PagesInRoom(Pages* pages, QWidget* parent) : QScrollArea(parent), pages_(pages) {
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);
    viewport()->setAutoFillBackground(false);
    setWidget(pages);
    pages->setAutoFillBackground(false);
    connect(pages, &QStackedWidget::currentChanged, this, [this] {
        verticalScrollBar()->setValue(0);
        fit();
    });
}

QSize PagesInRoom::minimumSizeHint() const {
    constexpr int least_width = 400;
    constexpr int least_height = 300;
    return {std::min(pages_->minimumSizeHint().width(), least_width), least_height};
}

bool PagesInRoom::eventFilter(QObject* object, QEvent* event) {
    if (object == pages_ && event->type() == QEvent::LayoutRequest) {
        updateGeometry();
        fit();
    }
    return QScrollArea::eventFilter(object, event);
}

void PagesInRoom::resizeEvent(QResizeEvent* event) {
    QScrollArea::resizeEvent(event);
    fit();
}

void PagesInRoom::fit() {
    const QSize whole = maximumViewportSize();
    const int bar = verticalScrollBar()->sizeHint().width();
    const int least_width = pages_->minimumSizeHint().width();
    const bool sideways = least_width > whole.width();
    int height = whole.height() - (sideways ? horizontalScrollBar()->sizeHint().height() : 0);
    int width = std::max(whole.width(), least_width);
    const int needed = pages_->least_height(width);
    if (needed > height) { // the bar takes its width from the page, unless that goes sideways already
        width = std::max(whole.width() - bar, least_width);
        height = pages_->least_height(width);
    }
    pages_->resize(width, height);
}

} // namespace ingot::app
