// The shop's protocols and teardown plans: read, copied, edited, saved as the next version. What cannot be read or is
// dangerous is refused with the reason, and the text stays.
#pragma once

#include "workshop/workshop.h"

#include <QDialog>

class QLabel;
class QListWidget;
class QPlainTextEdit;

namespace ingot::app {

class PressButton;

class LibraryDialog : public QDialog {
    Q_OBJECT
public:
    LibraryDialog(QWidget* parent, Workshop& workshop);

private:
    void fill(const QString& choose);
    void show_entry();
    void copy();
    void save();

    Workshop& workshop_;
    QListWidget* entries_;
    QPlainTextEdit* text_;
    QLabel* says_;
    PressButton* copy_;
    PressButton* save_;
};

} // namespace ingot::app
