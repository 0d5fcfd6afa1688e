// One field for everything typed or scanned. Its right end says where the next scan or number goes.
#pragma once

#include <QLineEdit>

namespace ingot::app {

class ScanField : public QLineEdit {
    Q_OBJECT
public:
    explicit ScanField(QWidget* parent = nullptr);
    void set_hint(const QString& hint);
    [[nodiscard]] QString hint() const { return hint_; }

signals:
    void entered(const QString& line); // Enter was pressed
    void stepped_back();               // Backspace in the empty field

protected:
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    QString hint_;
};

} // namespace ingot::app
