#include "app/shell/message_bar.h"

#include "app/parts/marks.h"
#include "app/parts/panel.h"
#include "app/theme/theme.h"

#include <QAccessible>
#include <QApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>

namespace ingot::app {

namespace {

// Errors and doubts have a mark of their own; ember stays what the hand is needed for.
class MessageMark : public QWidget {
public:
    explicit MessageMark(QWidget* parent) : QWidget(parent) { setFixedSize(24, 24); }
    void set(Severity severity) {
        severity_ = severity;
        setVisible(severity != Severity::note);
        update();
    }

protected:
    void paintEvent(QPaintEvent* /*event*/) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing, true);
        if (severity_ == Severity::alarm)
            draw_hazard(painter, {12, 12}, 20);
        else
            draw_doubt(painter, {12, 12}, 18);
    }

private:
    Severity severity_ = Severity::note;
};

// A screen reader says it, wherever its focus is.
void speak(QWidget* widget, const QString& words) {
    widget->setAccessibleName(words);
    QAccessibleEvent event(widget, QAccessible::Alert);
    QAccessible::updateAccessibility(&event);
}

} // namespace

MessageBar::MessageBar(QWidget* parent) : QWidget(parent) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(0);
    alarm_ = make_strip(QStringLiteral("alarm_bar"), QStringLiteral("alarm_read"), [this] {
        if (!alarms_.isEmpty())
            alarms_.removeFirst();
        show_alarm();
    });
    answer_ = make_strip(QStringLiteral("message_bar"), QStringLiteral("message_read"), [this] {
        answer_.widget->hide();
        setVisible(!alarms_.isEmpty());
    });
    connect(&Theme::instance(), &Theme::changed, this, &MessageBar::dress);
    hide();
}

MessageBar::Strip MessageBar::make_strip(const QString& name, const QString& button,
                                         const std::function<void()>& read) {
    Strip strip;
    strip.widget = new QWidget(this);
    strip.widget->setObjectName(name);
    strip.widget->setAutoFillBackground(true);
    auto* row = new QHBoxLayout(strip.widget);
    row->setContentsMargins(16, 6, 16, 6);
    strip.mark = new MessageMark(strip.widget);
    row->addWidget(strip.mark);
    strip.words = sentence({}, strip.widget);
    strip.words->setTextInteractionFlags(Qt::TextSelectableByMouse);
    row->addWidget(strip.words, 1);
    auto* press = new PressButton(tr("Dismiss"), strip.widget);
    press->setObjectName(button);
    press->setToolTip(tr("Put this message away"));
    connect(press, &PressButton::clicked, this, [this, read] {
        read();
        emit dismissed();
    });
    row->addWidget(press);
    layout()->addWidget(strip.widget);
    strip.widget->hide();
    return strip;
}

void MessageBar::add(Severity severity, const QString& sentence_text) {
    if (severity == Severity::alarm) {
        if (!alarms_.contains(sentence_text)) // told again before it was read: nothing new
            alarms_ << sentence_text;
        show_alarm();
        speak(alarm_.widget, sentence_text);
        emit announced(sentence_text);
        return;
    }
    objects_ = severity == Severity::objection;
    answer_.words->setText(sentence_text);
    answer_.widget->show();
    dress();
    show();
    speak(answer_.widget, sentence_text);
    emit announced(sentence_text);
}

void MessageBar::clear() {
    alarms_.clear();
    answer_.widget->hide();
    show_alarm();
}

QString MessageBar::shown() const {
    QStringList out;
    if (!alarms_.isEmpty())
        out << alarm_.words->text();
    if (!answer_.widget->isHidden())
        out << answer_.words->text();
    return out.join(QLatin1Char('\n'));
}

void MessageBar::show_alarm() {
    if (!alarms_.isEmpty())
        alarm_.words->setText(
            alarms_.size() == 1 ? alarms_.front()
                                : tr("%1 (%2 more to read)").arg(alarms_.front(), QString::number(alarms_.size() - 1)));
    alarm_.widget->setVisible(!alarms_.isEmpty());
    dress();
    setVisible(!alarms_.isEmpty() || !answer_.widget->isHidden());
}

void MessageBar::dress() {
    const auto ground = [](QWidget* widget, const QColor& colour) {
        QPalette palette = QApplication::palette();
        palette.setColor(QPalette::Window, colour);
        widget->setPalette(palette);
    };
    ground(alarm_.widget, colours().plum_ground);
    ground(answer_.widget, objects_ ? colours().brass_ground : colours().steel_ground);
    static_cast<MessageMark*>(alarm_.mark)->set(Severity::alarm);
    static_cast<MessageMark*>(answer_.mark)->set(objects_ ? Severity::objection : Severity::note);
}

} // namespace ingot::app
