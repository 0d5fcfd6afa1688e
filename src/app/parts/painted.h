// The base of painted widgets whose picture has parts: groups, bays, units, wells, limits. What is painted can be
// pointed at, read aloud (each part is an accessible child with name, role, value and state), told in a tooltip, and
// copied as a picture or a table.
#pragma once

#include <QAccessible>
#include <QWidget>

#include <vector>

namespace ingot::app {

// Property of a widget on which letters act one by one: they do not go to the scan field.
inline constexpr const char* single_letters = "single_letters";

struct PaintedPart {
    QString name;  // "Group 3"
    QString value; // "3.812 V, working"
    QRectF at;     // in the widget
    bool chosen = false;
    QAccessible::Role role = QAccessible::ListItem;
};

class Painted : public QWidget {
    Q_OBJECT
public:
    explicit Painted(QWidget* parent);
    // The parts as they are painted now, in reading order.
    [[nodiscard]] virtual std::vector<PaintedPart> parts() const = 0;
    // One line a part, a tab between name and value.
    [[nodiscard]] QString table() const;
    // Makes painted widgets known to assistive technology; once, before the first window.
    static void install();

protected:
    bool event(QEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    // To be called when other parts, values or another choice are painted.
    void parts_changed();

private:
    [[nodiscard]] int part_at(const QPointF& at) const; // -1: none
};

} // namespace ingot::app
