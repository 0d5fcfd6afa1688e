#include "app/parts/panel.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QAction>
#include <QFontMetrics>
#include <QKeyEvent>
#include <QPainter>
#include <QVBoxLayout>

namespace ingot::app {

Panel::Panel(const QString& title, QWidget* parent) : QWidget(parent) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(16, 10, 16, 12);
    outer->setSpacing(6);
    head_ = new QHBoxLayout;
    head_->setSpacing(10);
    title_ = new QLabel(title, this);
    title_->setFont(type(16, true));
    head_->addWidget(title_);
    head_->addStretch(1);
    outer->addLayout(head_);
    body_ = new QVBoxLayout;
    body_->setSpacing(6);
    outer->addLayout(body_, 1);
    title_->setVisible(!title.isEmpty());
}

void Panel::set_kind(Kind kind) {
    kind_ = kind;
    update();
}

void Panel::set_title(const QString& title) {
    title_->setText(title);
    title_->setVisible(!title.isEmpty());
}

void Panel::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const QRectF r = QRectF(rect()).adjusted(0.75, 0.75, -0.75, -0.75);
    const Colours& c = colours();
    QColor ground = c.surface;
    QColor line = c.hairline;
    double width = 1;
    if (kind_ == Kind::caution) {
        ground = c.plum_ground;
        line = c.plum;
        width = 1.5;
    } else if (kind_ == Kind::hand) {
        ground = c.ember_ground;
        line = c.ember;
        width = 1.5;
    } else if (kind_ == Kind::steel) {
        ground = c.steel_ground;
        line = c.steel;
        width = 1.5;
    }
    painter.setPen(QPen(line, width));
    painter.setBrush(ground);
    painter.drawPath(cut_top_left(r, 12));
}

PressButton::PressButton(const QString& text, QWidget* parent, bool strong) : QAbstractButton(parent), strong_(strong) {
    setText(text);
    setFont(type(15, strong));
    setFocusPolicy(Qt::TabFocus); // a click must not take the focus from the scan field
    setCursor(Qt::PointingHandCursor);
}

PressButton::PressButton(QAction* command, QWidget* parent, bool strong)
    : PressButton(command->text(), parent, strong) {
    const auto follow = [this, command] {
        setText(command->text());
        if (command->shortcut() == QKeySequence::mnemonic(command->text()))
            setShortcut({}); // the command's own; twice would be ambiguous
        setEnabled(command->isEnabled());
        const QString keys = command->shortcut().toString(QKeySequence::NativeText);
        setToolTip(keys.isEmpty() ? command->toolTip() : QStringLiteral("%1  (%2)").arg(command->toolTip(), keys));
        updateGeometry();
    };
    follow();
    connect(command, &QAction::changed, this, follow);
    connect(this, &QAbstractButton::clicked, command, &QAction::trigger);
}

void PressButton::set_hazard(bool hazard) {
    hazard_ = hazard;
    setFont(type(15, hazard));
    updateGeometry();
    update();
}

QSize PressButton::sizeHint() const {
    const QFontMetrics metrics(font());
    return {metrics.horizontalAdvance(text().remove(QLatin1Char('&'))) + 32 + (hazard_ ? 26 : 0),
            std::max(38, metrics.height() + 16)};
}

// Enter presses, as Space does: a foot switch sends it.
void PressButton::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        click();
    else
        QAbstractButton::keyPressEvent(event);
}

void PressButton::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    const QRectF r = QRectF(rect()).adjusted(1, 1, -1, -1);
    const bool filled = isEnabled() && (isChecked() || strong_);
    QColor ground = filled ? c.steel : (isDown() || underMouse() ? c.steel_ground : c.surface);
    if (!isEnabled())
        ground = c.well;
    if (hazard_)
        ground = c.plum_ground;
    const QColor edge = hazard_ ? c.plum : (filled ? c.steel : c.ink);
    painter.setPen(QPen(isEnabled() ? edge : c.hairline, hasFocus() ? 3 : 1.5));
    painter.setBrush(ground);
    painter.drawPath(cut_bottom_right(r, 9));
    if (hasFocus() && filled) { // a darker edge would not be seen on a filled one
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(c.on_strong, 2));
        painter.drawPath(cut_bottom_right(r.adjusted(4, 4, -4, -4), 7));
    }
    painter.setPen(isEnabled() ? (filled ? c.on_strong : c.ink) : c.muted);
    painter.setFont(font());
    if (hazard_) {
        draw_hazard(painter, {23, height() / 2.0}, 20);
        painter.setPen(c.plum);
    }
    painter.drawText(rect().adjusted(hazard_ ? 26 : 0, 0, 0, 0), Qt::AlignCenter | Qt::TextShowMnemonic, text());
}

Figure::Figure(const QString& caption_text, QWidget* parent, int size) : QWidget(parent) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(caption(caption_text, this));
    value_ = new QLabel(this);
    value_->setFont(type(size, true));
    layout->addWidget(value_);
    below_ = caption({}, this);
    below_->hide();
    layout->addWidget(below_);
    layout->addStretch(1);
    value_->setAccessibleName(caption_text);
}

void Figure::set(const QString& value, const QString& below) {
    value_->setText(value);
    below_->setText(below);
    below_->setVisible(!below.isEmpty());
}

void set_muted(QLabel* label) {
    const auto paint = [label] {
        QPalette palette = label->palette();
        palette.setColor(QPalette::WindowText, colours().muted);
        label->setPalette(palette);
    };
    paint();
    QObject::connect(&Theme::instance(), &Theme::changed, label, paint);
}

QLabel* caption(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setFont(type(13));
    set_muted(label);
    return label;
}

QLabel* sentence(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setFont(type(14));
    label->setWordWrap(true);
    return label;
}

} // namespace ingot::app
