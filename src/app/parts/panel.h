// Surfaces and things to press, in Ingot's shapes.
#pragma once

#include <QAbstractButton>
#include <QLabel>
#include <QWidget>

class QAction;

class QVBoxLayout;
class QHBoxLayout;

namespace ingot::app {

// A flat surface with its top-left corner cut; holds a layout with the usual margins and an optional title.
class Panel : public QWidget {
    Q_OBJECT
public:
    enum class Kind { plain, caution, hand, steel };
    explicit Panel(const QString& title = {}, QWidget* parent = nullptr);
    void set_kind(Kind kind);
    void set_title(const QString& title);
    [[nodiscard]] QVBoxLayout* body() const { return body_; }
    [[nodiscard]] QHBoxLayout* head() const { return head_; } // beside the title

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Kind kind_ = Kind::plain;
    QLabel* title_ = nullptr;
    QVBoxLayout* body_ = nullptr;
    QHBoxLayout* head_ = nullptr;
};

// A button cut at its bottom right. Strong: filled with steel, the one thing to do here. Checkable ones fill when
// chosen.
class PressButton : public QAbstractButton {
    Q_OBJECT
public:
    explicit PressButton(const QString& text, QWidget* parent = nullptr, bool strong = false);
    // Shows and triggers a command of the menus: same words, same shortcut, same enabled state.
    explicit PressButton(QAction* command, QWidget* parent = nullptr, bool strong = false);
    // Carries the hazard's mark and colour: it opens what is dangerous.
    void set_hazard(bool hazard);
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return sizeHint(); }

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    bool strong_;
    bool hazard_ = false;
};

// Small muted caption over a large figure.
class Figure : public QWidget {
    Q_OBJECT
public:
    explicit Figure(const QString& caption, QWidget* parent = nullptr, int size = 20);
    void set(const QString& value, const QString& below = {});

private:
    QLabel* value_;
    QLabel* below_;
};

QLabel* caption(const QString& text, QWidget* parent = nullptr);
QLabel* sentence(const QString& text = {}, QWidget* parent = nullptr); // wraps
void set_muted(QLabel* label);

} // namespace ingot::app
