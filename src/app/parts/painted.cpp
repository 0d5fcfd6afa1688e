#include "app/parts/painted.h"

#include <QAccessibleWidget>
#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QMenu>
#include <QPointer>
#include <QToolTip>

namespace ingot::app {

namespace {

// One part; it asks the widget each time, so that it never tells what was painted before.
class PartInterface : public QAccessibleInterface {
public:
    PartInterface(Painted* widget, int index) : widget_(widget), index_(index) {}
    [[nodiscard]] bool isValid() const override { return part().has_value(); }
    [[nodiscard]] QObject* object() const override { return nullptr; }
    [[nodiscard]] QAccessibleInterface* childAt(int /*x*/, int /*y*/) const override { return nullptr; }
    [[nodiscard]] QAccessibleInterface* parent() const override {
        return widget_ == nullptr ? nullptr : QAccessible::queryAccessibleInterface(widget_);
    }
    [[nodiscard]] QAccessibleInterface* child(int /*index*/) const override { return nullptr; }
    [[nodiscard]] int childCount() const override { return 0; }
    [[nodiscard]] int indexOfChild(const QAccessibleInterface* /*child*/) const override { return -1; }
    [[nodiscard]] QString text(QAccessible::Text which) const override {
        const auto p = part();
        if (!p)
            return {};
        return which == QAccessible::Name ? p->name : which == QAccessible::Value ? p->value : QString();
    }
    void setText(QAccessible::Text /*which*/, const QString& /*words*/) override {}
    [[nodiscard]] QRect rect() const override {
        const auto p = part();
        return p ? p->at.toAlignedRect().translated(widget_->mapToGlobal(QPoint())) : QRect();
    }
    [[nodiscard]] QAccessible::Role role() const override {
        const auto p = part();
        return p ? p->role : QAccessible::NoRole;
    }
    [[nodiscard]] QAccessible::State state() const override {
        QAccessible::State state;
        const auto p = part();
        state.invalid = !p;
        state.selectable = true;
        state.selected = p && p->chosen;
        state.focused = p && p->chosen && widget_->hasFocus();
        state.invisible = !p || !widget_->isVisible();
        return state;
    }

private:
    [[nodiscard]] std::optional<PaintedPart> part() const {
        if (widget_ == nullptr)
            return std::nullopt;
        const auto all = widget_->parts();
        return index_ < static_cast<int>(all.size()) ? std::optional(all[static_cast<std::size_t>(index_)])
                                                     : std::nullopt;
    }

    QPointer<Painted> widget_;
    int index_;
};

class PaintedInterface : public QAccessibleWidget {
public:
    explicit PaintedInterface(Painted* widget) : QAccessibleWidget(widget, QAccessible::List), widget_(widget) {}
    ~PaintedInterface() override {
        for (const QAccessible::Id id : children_)
            QAccessible::deleteAccessibleInterface(id);
    }
    PaintedInterface(const PaintedInterface&) = delete;
    PaintedInterface& operator=(const PaintedInterface&) = delete;

    [[nodiscard]] int childCount() const override { return static_cast<int>(widget_->parts().size()); }
    [[nodiscard]] QAccessibleInterface* child(int index) const override {
        if (index < 0 || index >= childCount())
            return nullptr;
        while (static_cast<int>(children_.size()) <= index)
            children_.push_back(QAccessible::registerAccessibleInterface(
                new PartInterface(widget_, static_cast<int>(children_.size()))));
        return QAccessible::accessibleInterface(children_[static_cast<std::size_t>(index)]);
    }
    [[nodiscard]] int indexOfChild(const QAccessibleInterface* wanted) const override {
        for (std::size_t i = 0; i < children_.size(); ++i)
            if (QAccessible::accessibleInterface(children_[i]) == wanted)
                return static_cast<int>(i);
        return -1;
    }
    [[nodiscard]] QAccessibleInterface* childAt(int x, int y) const override {
        const QPointF at = widget_->mapFromGlobal(QPoint(x, y));
        const auto all = widget_->parts();
        for (std::size_t i = 0; i < all.size(); ++i)
            if (all[i].at.contains(at))
                return child(static_cast<int>(i));
        return nullptr;
    }
    [[nodiscard]] QAccessibleInterface* focusChild() const override {
        const auto all = widget_->parts();
        for (std::size_t i = 0; i < all.size(); ++i)
            if (all[i].chosen)
                return child(static_cast<int>(i));
        return nullptr;
    }

private:
    Painted* widget_;
    mutable std::vector<QAccessible::Id> children_;
};

QAccessibleInterface* interface_of(const QString& /*class_name*/, QObject* object) {
    auto* widget = qobject_cast<Painted*>(object);
    return widget == nullptr ? nullptr : new PaintedInterface(widget);
}

} // namespace

Painted::Painted(QWidget* parent) : QWidget(parent) {}

void Painted::install() {
    QAccessible::installFactory(interface_of);
}

QString Painted::table() const {
    QString out;
    for (const PaintedPart& part : parts())
        out += part.name + QLatin1Char('\t') + part.value + QLatin1Char('\n');
    return out;
}

int Painted::part_at(const QPointF& at) const {
    const auto all = parts();
    for (std::size_t i = all.size(); i-- > 0;) // what is painted last lies on top
        if (all[i].at.contains(at))
            return static_cast<int>(i);
    return -1;
}

bool Painted::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip && toolTip().isEmpty()) {
        auto* help = static_cast<QHelpEvent*>(event);
        if (const int at = part_at(help->pos()); at >= 0) {
            const PaintedPart part = parts()[static_cast<std::size_t>(at)];
            QToolTip::showText(help->globalPos(),
                               part.value.isEmpty() ? part.name : part.name + QStringLiteral(": ") + part.value, this);
        } else {
            QToolTip::hideText();
        }
        return true;
    }
    return QWidget::event(event);
}

void Painted::contextMenuEvent(QContextMenuEvent* event) {
    QMenu menu(this);
    menu.addAction(tr("Copy the &picture"), this, [this] { QApplication::clipboard()->setPixmap(grab()); });
    menu.addAction(tr("Copy as a &table"), this, [this] { QApplication::clipboard()->setText(table()); });
    menu.exec(event->globalPos());
}

void Painted::parts_changed() {
    if (!QAccessible::isActive())
        return;
    QAccessibleEvent event(this, hasFocus() ? QAccessible::SelectionWithin : QAccessible::ObjectReorder);
    QAccessible::updateAccessibility(&event);
}

} // namespace ingot::app
