#include "app/shell/word_completer.h"

#include <QAbstractItemView>
#include <QLineEdit>

namespace ingot::app {

WordCompleter::WordCompleter(QLineEdit* field, std::function<std::vector<Completion>(const QString&)> offer)
    : QCompleter(field), field_(field), offer_(std::move(offer)) {
    setModel(&found_);
    setCompletionMode(QCompleter::UnfilteredPopupCompletion);
    setCompletionRole(Qt::EditRole);
    setWidget(field);
    wait_.setSingleShot(true);
    wait_.setInterval(pause_ms);
    connect(field, &QLineEdit::textEdited, &wait_, qOverload<>(&QTimer::start));
    connect(field, &QLineEdit::textChanged, this, [this](const QString& text) {
        if (text.isEmpty()) {
            wait_.stop();
            popup()->hide();
        }
    });
    connect(&wait_, &QTimer::timeout, this, &WordCompleter::look_up);
    connect(this, qOverload<const QModelIndex&>(&QCompleter::activated), this, [this](const QModelIndex& index) {
        const QString words = index.data(Qt::UserRole).toString();
        field_->clear();
        emit wanted(words);
    });
}

void WordCompleter::look_up() {
    const QString typed = field_->text().trimmed();
    if (typed.size() < least_letters || !typed[0].isLetter()) {
        popup()->hide();
        return;
    }
    found_.clear();
    for (const Completion& completion : offer_(typed)) {
        auto* item = new QStandardItem(completion.shown);
        item->setData(completion.words, Qt::UserRole);
        found_.appendRow(item);
    }
    if (found_.rowCount() == 0) {
        popup()->hide();
        return;
    }
    complete();
}

} // namespace ingot::app
