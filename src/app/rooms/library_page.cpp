#include "app/rooms/library_page.h"

#include "app/parts/model_form.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/theme/theme.h"
#include "exchange/protocol_toml.h"
#include "workshop/wording.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QRegularExpression>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

constexpr int kind_role = Qt::UserRole;
constexpr int id_role = Qt::UserRole + 1;

} // namespace

LibraryPage::LibraryPage(Workshop& workshop, QWidget* parent) : Page(workshop, parent) {
    setObjectName(QStringLiteral("library"));
    copy_ = add_command(tr("&Copy under a new name…"), {},
                        tr("The text under a short name of your own; nothing is kept until it is saved"),
                        [this] { copy(); });
    save_ = add_command(tr("&Save as the next version"), QKeySequence(tr("Ctrl+S")),
                        tr("Checks the text and keeps it; what ran before keeps its version"), [this] { save(); });
    model_ = add_command(tr("New unit &model…"), QKeySequence(tr("F4")),
                         tr("What is printed on a cell or module, with its rating"), [this] { ask_new_model(); });
    auto* panel = new Panel(tr("Library: unit models, protocols, teardown plans"), this);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(panel);
    QVBoxLayout* layout = panel->body();
    layout->addWidget(
        sentence(tr("Each is a text with units in its names: It is the rating per hour, volts are per cell, "
                    "hours are hours. Runs and ticks keep the version they were made under."),
                 panel));
    auto* row = new QHBoxLayout;
    entries_ = new QListWidget(panel);
    entries_->setObjectName(QStringLiteral("library_entries"));
    entries_->setAccessibleName(tr("Unit models, protocols, teardown plans"));
    entries_->setMaximumWidth(270);
    entries_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    entries_->setTextElideMode(Qt::ElideRight);
    entries_->setWordWrap(true);
    text_ = new QPlainTextEdit(panel);
    text_->setObjectName(QStringLiteral("library_text"));
    text_->setAccessibleName(tr("Text of the entry"));
    text_->setFont(type(14));
    text_->setTabChangesFocus(true);
    row->addWidget(entries_, 2);
    row->addWidget(text_, 5);
    layout->addLayout(row, 1);
    says_ = sentence({}, panel);
    says_->setObjectName(QStringLiteral("library_says"));
    layout->addWidget(says_);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(new PressButton(model_, panel));
    buttons->addWidget(new PressButton(copy_, panel));
    buttons->addStretch(1);
    buttons->addWidget(new PressButton(save_, panel, true));
    layout->addLayout(buttons);
    connect(entries_, &QListWidget::currentRowChanged, this, [this] { show_entry(); });
    fill({});
}

// A text that is being changed is not taken away by what happens elsewhere.
void LibraryPage::refresh() {
    copy_->setEnabled(workshop().writable());
    model_->setEnabled(workshop().writable());
    save_->setEnabled(workshop().writable());
    const QListWidgetItem* item = entries_->currentItem();
    if (text_->toPlainText() != shown_)
        return;
    const QString said = says_->text();
    fill(item == nullptr ? QString() : item->data(id_role).toString());
    say(said);
}

bool LibraryPage::take_line(const QString& line) {
    for (int row = 0; row < entries_->count(); ++row)
        if (!line.isEmpty() && entries_->item(row)->text().contains(line, Qt::CaseInsensitive)) {
            entries_->setCurrentRow(row);
            return true;
        }
    return line.isEmpty();
}

EvidenceContent LibraryPage::evidence() const {
    EvidenceContent content;
    if (const QListWidgetItem* item = entries_->currentItem())
        content.subject = item->text();
    content.notes << tr("A protocol that would leave a chemistry's limits is refused with the reason.")
                  << tr("What ran keeps the version it ran under.");
    return content;
}

void LibraryPage::say(const QString& sentence) {
    says_->setText(sentence);
}

void LibraryPage::fill(const QString& choose) {
    const QSignalBlocker quiet(entries_);
    entries_->clear();
    int row = 0;
    const auto add = [&](const QString& kind, const QString& id, const QString& name) {
        auto* item = new QListWidgetItem(name, entries_);
        item->setData(kind_role, kind);
        item->setData(id_role, id);
        if (id == choose)
            row = entries_->count() - 1;
    };
    for (const auto& [id, model] : workshop().library().models)
        add(QStringLiteral("model"), QString::fromStdString(id),
            tr("Unit: %1, v%2").arg(QString::fromStdString(model.name)).arg(model.version));
    for (const auto& [id, protocol] : workshop().library().protocols)
        add(QStringLiteral("protocol"), QString::fromStdString(id),
            tr("%1, v%2").arg(QString::fromStdString(protocol.name)).arg(protocol.version));
    for (const auto& plan : workshop().library().teardown)
        add(QStringLiteral("teardown"), QString::fromStdString(plan.id),
            tr("Teardown: %1, v%2").arg(QString::fromStdString(plan.name)).arg(plan.version));
    entries_->setCurrentRow(row);
    show_entry();
}

void LibraryPage::show_entry() {
    const QListWidgetItem* item = entries_->currentItem();
    if (item == nullptr)
        return;
    const std::string id = item->data(id_role).toString().toStdString();
    std::string text;
    if (item->data(kind_role) == QStringLiteral("protocol")) {
        if (const Protocol* protocol = workshop().library().protocol(id))
            text = exchange::write_protocol(*protocol);
    } else if (item->data(kind_role) == QStringLiteral("model")) {
        if (const UnitModel* model = workshop().library().model(id))
            text = exchange::write_model(*model);
    } else {
        for (const auto& plan : workshop().library().teardown)
            if (plan.id == id)
                text = exchange::write_teardown_plan(plan);
    }
    shown_ = QString::fromStdString(text);
    text_->setPlainText(shown_);
    says_->clear();
    emit evidence_changed();
}

void LibraryPage::copy() {
    const QListWidgetItem* item = entries_->currentItem();
    if (item == nullptr)
        return;
    const auto id =
        ask_line(this, tr("Copy"), tr("Short name of the copy (letters, figures, dashes):"),
                 item->data(id_role).toString() + QStringLiteral("-own"), [](const QString& answer) {
                     static const QRegularExpression plain(QStringLiteral("^[A-Za-z0-9-]+$"));
                     return plain.match(answer).hasMatch()
                                ? QString()
                                : tr("\"%1\" is not a short name: letters, figures and dashes only.").arg(answer);
                 });
    if (!id)
        return;
    QString text = text_->toPlainText();
    static const QRegularExpression id_line(QStringLiteral("^id = .*$"), QRegularExpression::MultilineOption);
    const auto match = id_line.match(text);
    if (match.hasMatch())
        text.replace(match.capturedStart(), match.capturedLength(), QStringLiteral("id = \"%1\"").arg(*id));
    text_->setPlainText(text);
    say(tr("Change it as you need, then save it. Nothing is kept until then."));
}

void LibraryPage::ask_new_model() {
    const auto model = ask_model(this, workshop().library());
    if (!model || !fine(workshop().catalogue().save_model(*model)))
        return;
    fill(QString::fromStdString(model->id));
    say(tr("Kept. Units with this print are known by it from now on."));
}

// The text as it was given, once it is kept.
Result<std::string> LibraryPage::save_models(const std::string& text) {
    const auto kept = workshop().catalogue().bring_in_models(text, "model");
    if (!kept)
        return kept.problem();
    return text;
}

void LibraryPage::save() {
    const QListWidgetItem* item = entries_->currentItem();
    if (item == nullptr)
        return;
    const std::string text = text_->toPlainText().toStdString();
    CatalogueService& catalogue = workshop().catalogue();
    const QString kind = item->data(kind_role).toString();
    const auto kept = kind == QStringLiteral("protocol") ? catalogue.save_protocol(text)
                      : kind == QStringLiteral("model")  ? save_models(text)
                                                         : catalogue.save_teardown_plan(text);
    if (!kept) {
        say(wording::problem(kept.problem()));
        return;
    }
    static const QRegularExpression id_line(QStringLiteral("^id = [\"'](.*)[\"']$"),
                                            QRegularExpression::MultilineOption);
    fill(id_line.match(QString::fromStdString(kept.value())).captured(1));
    say(tr("Kept as the next version."));
}

} // namespace ingot::app
