// Tells a scanner from a person: a scanner types a label faster than anyone can, and ends it with Enter. Wherever the
// focus is, a scan goes to the scan field's business and never into a form; what a person types arrives where it was
// meant to, a moment later than it would without.
#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QPointer>
#include <QTimer>

class QKeyEvent;
class QWidget;

namespace ingot::app {

class ScanSense : public QObject {
    Q_OBJECT
public:
    explicit ScanSense(QObject* parent);
    // Keys that follow each other within this time may be a scanner's; 0: every key is a person's.
    void set_fastest_key_ms(int ms) { fastest_key_ms_ = ms; }
    // A key that goes to a form. True: it is kept back until it is known who typed.
    bool take(QWidget* form, const QKeyEvent& key);

    [[nodiscard]] bool busy() const { return wait_.isActive(); } // keys are kept back

    static constexpr int usual_key_ms = 30; // a person's keys are 60 ms apart at best (common practice, no source)
    static constexpr int least_keys = 4;

signals:
    void scanned(const QString& line);

private:
    void give_back();

    QPointer<QWidget> form_;
    QString kept_;
    QTimer wait_;
    int fastest_key_ms_ = usual_key_ms;
    bool giving_back_ = false;
};

} // namespace ingot::app
