// What the shop works by: unit models, chemistries, formats, look findings, symptoms, instruments, prices by their
// fields, protocols and teardown plans as text; copied, edited, saved as the next version. What cannot be read or is
// dangerous is refused with the reason, and what was typed stays. What a newer Ingot ships is offered.
#pragma once

#include "app/parts/entry_form.h"
#include "app/stations/page.h"
#include "exchange/library_offer.h"

#include <map>

class QLabel;
class QListWidget;
class QPlainTextEdit;
class QStackedWidget;

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
    void enable_copy();
    void take_in();
    [[nodiscard]] const exchange::LibraryOffer* offered() const; // that is chosen; null: none
    void fill(const QString& choose);
    void show_entry();
    void keep_draft();
    void show_draft();
    void copy();
    void save();
    void ask_new_model();
    void show_as_text(bool as_text);
    [[nodiscard]] bool changed() const; // and not saved
    [[nodiscard]] QString objection(const Problem& problem) const;

    void say(const QString& sentence);

    QAction* copy_ = nullptr;
    QAction* save_ = nullptr;
    QAction* model_ = nullptr;
    QAction* take_ = nullptr;
    QWidget *save_button_ = nullptr, *take_button_ = nullptr; // one of them stands there
    QListWidget* entries_ = nullptr;
    QAction* as_text_ = nullptr;
    QStackedWidget* pages_ = nullptr; // fields, text
    EntryForm* form_ = nullptr;
    QPlainTextEdit* text_ = nullptr;
    QString choose_kind_; // of the entry that is chosen next: ids are not of one kind alone
    QLabel* says_ = nullptr;
    QString shown_;       // the text as it stands in the library
    QString shown_entry_; // kind and id
    struct Draft {
        QString text;            // the entry as changed
        EntryForm::Typed fields; // where it is none: some figure in them cannot be read
    };
    std::map<QString, Draft> drafts_; // by that: typed and not saved
    // What is shipped is read once, and again when the library is another: it stands in many files.
    std::vector<exchange::LibraryOffer> offers_;
    bool offers_known_ = false;
};

} // namespace ingot::app
