// The application: an exception that would leave a slot becomes a message, and the work goes on.
#pragma once

#include <QApplication>

namespace ingot::app {

class Application : public QApplication {
    Q_OBJECT
public:
    Application(int& argc, char** argv);
    bool notify(QObject* receiver, QEvent* event) override;

signals:
    // What went wrong, in words; the step was not taken, everything recorded before stays.
    void went_wrong(const QString& sentence);
};

} // namespace ingot::app
