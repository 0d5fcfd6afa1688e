#include "app/shell/scan_sense.h"

#include <QApplication>
#include <QKeyEvent>
#include <QWidget>

namespace ingot::app {

ScanSense::ScanSense(QObject* parent) : QObject(parent) {
    wait_.setSingleShot(true);
    wait_.setTimerType(Qt::PreciseTimer);
    connect(&wait_, &QTimer::timeout, this, &ScanSense::give_back);
}

bool ScanSense::take(QWidget* form, const QKeyEvent& key) {
    if (fastest_key_ms_ <= 0 || giving_back_)
        return false;
    const bool enter = key.key() == Qt::Key_Return || key.key() == Qt::Key_Enter;
    const bool plain = !(key.modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier));
    const bool letter = plain && !key.text().isEmpty() && key.text()[0].isPrint();
    const bool goes_on = wait_.isActive() && form_ == form;
    if (enter && goes_on && kept_.size() >= least_keys) {
        wait_.stop();
        const QString line = kept_.trimmed();
        kept_.clear();
        emit scanned(line);
        return true;
    }
    if (!goes_on || !letter)
        give_back();
    if (!letter)
        return false;
    form_ = form;
    kept_ += key.text();
    wait_.start(fastest_key_ms_);
    return true;
}

// It was a person: the form gets its keys.
void ScanSense::give_back() {
    wait_.stop();
    const QString typed = kept_;
    kept_.clear();
    if (typed.isEmpty() || form_ == nullptr)
        return;
    giving_back_ = true;
    for (const QChar c : typed) {
        QKeyEvent press(QEvent::KeyPress, 0, Qt::NoModifier, c);
        QApplication::sendEvent(form_, &press);
    }
    giving_back_ = false;
}

} // namespace ingot::app
