// The shop's protocols and teardown plans: read, copied, edited, saved as the next version. What cannot be read or is
// dangerous is refused with the reason, and the text stays.
#pragma once

#include "app/stations/page.h"

class QLabel;
class QListWidget;
class QPlainTextEdit;

namespace ingot::app {

class LibraryPage : public Page {
    Q_OBJECT
public:
    explicit LibraryPage(Workshop& workshop, QWidget* parent = nullptr);
    [[nodiscard]] QString title() const override { return tr("Library"); }
    void refresh() override;
    bool take_line(const QString& line) override; // words of an entry's name choose it
    [[nodiscard]] QString scan_hint() const override { return tr("the words of an entry choose it"); }
    [[nodiscard]] EvidenceContent evidence() const override;

private:
    void fill(const QString& choose);
    void show_entry();
    void copy();
    void save();
    void ask_new_model();
    Result<std::string> save_models(const std::string& text);

    void say(const QString& sentence);

    QAction* copy_ = nullptr;
    QAction* save_ = nullptr;
    QAction* model_ = nullptr;
    QListWidget* entries_ = nullptr;
    QPlainTextEdit* text_ = nullptr;
    QLabel* says_ = nullptr;
    QString shown_; // the text as it stands in the library
};

} // namespace ingot::app
