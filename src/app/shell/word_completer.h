// What the scan field offers while words are typed: commands with their station and keys, packs, units. It waits until
// the typing pauses, so that a scanner never meets it, and offers nothing to figures.
#pragma once

#include <QCompleter>
#include <QStandardItemModel>
#include <QTimer>

#include <functional>
#include <vector>

class QLineEdit;

namespace ingot::app {

struct Completion {
    QString words; // what is entered
    QString shown; // with where and by which keys
};

class WordCompleter : public QCompleter {
    Q_OBJECT
public:
    // `offer`: what fits the words that are typed, best first; asked once a pause.
    WordCompleter(QLineEdit* field, std::function<std::vector<Completion>(const QString& typed)> offer);

    static constexpr int pause_ms = 250;
    static constexpr int least_letters = 2;
    static constexpr std::size_t most = 12;

signals:
    void wanted(const QString& words); // chosen from the list

private:
    void look_up();

    QLineEdit* field_;
    std::function<std::vector<Completion>(const QString&)> offer_;
    QStandardItemModel found_;
    QTimer wait_;
};

} // namespace ingot::app
