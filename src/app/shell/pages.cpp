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
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
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
    constexpr int least = 300;
    return {pages_->minimumSizeHint().width(), least};
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
    const int needed = pages_->least_height(whole.width());
    if (needed <= whole.height()) {
        pages_->resize(whole);
        return;
    }
    const int width = whole.width() - verticalScrollBar()->sizeHint().width();
    pages_->resize(width, pages_->least_height(width));
}

} // namespace ingot::app
