#include "app/rooms/library_page.h"

#include "app/parts/entry_form.h"
#include "app/parts/model_form.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/theme/theme.h"
#include "exchange/protocol_toml.h"
#include "workshop/library_wording.h"
#include "workshop/wording.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QRegularExpression>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

constexpr int kind_role = Qt::UserRole;
constexpr int id_role = Qt::UserRole + 1;

// Kinds that are edited by their fields.
std::optional<exchange::EntryKind> kind_of(const QString& word) {
    using exchange::EntryKind;
    if (word == QStringLiteral("model"))
        return EntryKind::model;
    if (word == QStringLiteral("chemistry"))
        return EntryKind::chemistry;
    if (word == QStringLiteral("format"))
        return EntryKind::format;
    if (word == QStringLiteral("finding"))
        return EntryKind::finding;
    if (word == QStringLiteral("symptom"))
        return EntryKind::symptom;
    if (word == QStringLiteral("instrument"))
        return EntryKind::instrument;
    if (word == QStringLiteral("prices"))
        return EntryKind::prices;
    return std::nullopt;
}

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
    as_text_ = add_command(tr("As te&xt"), {}, tr("The entry as the text it is kept in, or its fields again"),
                           [this] { show_as_text(as_text_->isChecked()); });
    as_text_->setCheckable(true);
    add_command(tr("Leave the chan&ges"), {}, tr("The entry as it stands in the library; what was typed goes"), [this] {
        drafts_.erase(shown_entry_);
        show_entry();
    });
    take_ = add_command(tr("Take it into the li&brary"), {},
                        tr("What Ingot ships now and this shop's library has not; nothing is taken unasked"),
                        [this] { take_in(); });
    auto* panel = new Panel(tr("Library: what this shop works by"), this);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(panel);
    QVBoxLayout* layout = panel->body();
    layout->addWidget(
        sentence(tr("Volts are per cell; in texts, It is the rating per hour. What ran keeps the version it was made "
                    "under."),
                 panel));
    auto* row = new QHBoxLayout;
    entries_ = new QListWidget(panel);
    entries_->setObjectName(QStringLiteral("library_entries"));
    entries_->setAccessibleName(tr("Entries of the library"));
    entries_->setMaximumWidth(270);
    entries_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    entries_->setTextElideMode(Qt::ElideRight);
    entries_->setWordWrap(true);
    text_ = new QPlainTextEdit(panel);
    text_->setObjectName(QStringLiteral("library_text"));
    text_->setAccessibleName(tr("Text of the entry"));
    text_->setFont(type(14));
    text_->setTabChangesFocus(true);
    form_ = new EntryForm(panel);
    auto* scroll = new QScrollArea(panel);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidget(form_);
    pages_ = new QStackedWidget(panel);
    pages_->addWidget(scroll);
    pages_->addWidget(text_);
    row->addWidget(entries_, 2);
    row->addWidget(pages_, 5);
    layout->addLayout(row, 1);
    says_ = sentence({}, panel);
    says_->setObjectName(QStringLiteral("library_says"));
    layout->addWidget(says_);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(new PressButton(model_, panel));
    buttons->addWidget(new PressButton(copy_, panel));
    buttons->addWidget(new PressButton(as_text_, panel));
    buttons->addStretch(1);
    take_button_ = new PressButton(take_, panel, true);
    save_button_ = new PressButton(save_, panel, true);
    buttons->addWidget(take_button_);
    buttons->addWidget(save_button_);
    layout->addLayout(buttons);
    connect(entries_, &QListWidget::currentRowChanged, this, [this] {
        keep_draft();
        show_entry();
    });
    connect(&workshop, &Workshop::changed, this, [this](const ChangeSet& changes) {
        if (changes.library || changes.rules || changes.everything)
            offers_known_ = false;
    });
    fill({});
}

// A text that is being changed is not taken away by what happens elsewhere.
void LibraryPage::refresh() {
    enable_copy();
    model_->setEnabled(workshop().writable());
    const QListWidgetItem* item = entries_->currentItem();
    if (changed())
        return;
    const QString said = says_->text();
    choose_kind_ = item == nullptr ? QString() : item->data(kind_role).toString();
    fill(item == nullptr ? QString() : item->data(id_role).toString());
    say(said);
}

void LibraryPage::enable_copy() {
    const QListWidgetItem* item = entries_->currentItem();
    copy_->setEnabled(workshop().writable() && item != nullptr &&
                      item->data(kind_role).toString() != QStringLiteral("prices") && offered() == nullptr);
    save_->setEnabled(workshop().writable() && offered() == nullptr);
    take_->setEnabled(workshop().writable() && offered() != nullptr);
    take_button_->setVisible(offered() != nullptr);
    save_button_->setVisible(offered() == nullptr);
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
    const QListWidgetItem* item = entries_->currentItem();
    if (item == nullptr)
        return content;
    content.subject = item->text();
    const QString kind = item->data(kind_role).toString();
    if (kind == QStringLiteral("protocol"))
        content.notes << tr("A protocol that would leave a chemistry's limits is refused with the reason.");
    if (kind == QStringLiteral("instrument"))
        content.notes << tr(
            "Logs of it are corrected by what it reads wrong. When it was held against another is kept.");
    else if (kind == QStringLiteral("prices"))
        content.notes << tr("\"Worth it?\" and the shop's book reckon with them.");
    else if (kind == QStringLiteral("symptom"))
        content.notes << tr(
            "Of 100 packs with each fault, so many show it: Triage weighs what is said of a pack by that.");
    else
        content.notes << tr("What ran keeps the version it ran under.");
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
        if (id == choose && (choose_kind_.isEmpty() || kind == choose_kind_))
            row = entries_->count() - 1;
    };
    for (const auto& [id, model] : workshop().library().models)
        add(QStringLiteral("model"), QString::fromStdString(id),
            tr("Unit: %1, v%2").arg(QString::fromStdString(model.name)).arg(model.version));
    for (const auto& [id, chemistry] : workshop().library().chemistries)
        add(QStringLiteral("chemistry"), QString::fromStdString(id),
            tr("Chemistry: %1, v%2").arg(QString::fromStdString(chemistry.name)).arg(chemistry.version));
    for (const auto& [id, format] : workshop().library().formats)
        add(QStringLiteral("format"), QString::fromStdString(id),
            tr("Format: %1, v%2").arg(QString::fromStdString(id)).arg(format.version));
    for (const auto& finding : workshop().library().findings)
        add(QStringLiteral("finding"), QString::fromStdString(finding.id),
            tr("Finding: %1, v%2").arg(QString::fromStdString(finding.name)).arg(finding.version));
    for (const Symptom& symptom : workshop().library().triage.symptoms)
        add(QStringLiteral("symptom"), QString::fromStdString(symptom.id),
            tr("Symptom: %1").arg(QString::fromStdString(symptom.name)));
    for (const Instrument& instrument : workshop().catalogue().instruments())
        add(QStringLiteral("instrument"), QString::fromStdString(instrument.name),
            tr("Instrument: %1").arg(QString::fromStdString(instrument.name)));
    add(QStringLiteral("instrument"), {}, tr("Instrument: another one"));
    add(QStringLiteral("prices"), {}, tr("Prices and hours")); // there is one set of them
    for (const auto& [id, protocol] : workshop().library().protocols)
        add(QStringLiteral("protocol"), QString::fromStdString(id),
            tr("%1, v%2").arg(QString::fromStdString(protocol.name)).arg(protocol.version));
    for (const auto& plan : workshop().library().teardown)
        add(QStringLiteral("teardown"), QString::fromStdString(plan.id),
            tr("Teardown: %1, v%2").arg(QString::fromStdString(plan.name)).arg(plan.version));
    if (!offers_known_)
        offers_ = workshop().catalogue().offers();
    offers_known_ = true;
    for (std::size_t i = 0; i < offers_.size(); ++i) {
        const QString name = QString::fromStdString(offers_[i].name);
        add(QStringLiteral("offer"), QString::number(i),
            offers_[i].there == 0 ? tr("New from Ingot: %1").arg(name)
                                  : tr("Newer from Ingot: %1, v%2").arg(name).arg(offers_[i].version));
    }
    entries_->setCurrentRow(row);
    show_entry();
}

void LibraryPage::take_in() {
    const exchange::LibraryOffer* offer = offered();
    if (offer == nullptr)
        return;
    const QString name = QString::fromStdString(offer->name);
    if (!fine(workshop().catalogue().take_in(*offer)))
        return;
    shown_entry_.clear();
    fill({});
    say(tr("%1 is in the library now.").arg(name));
}

const exchange::LibraryOffer* LibraryPage::offered() const {
    const QListWidgetItem* item = entries_->currentItem();
    if (item == nullptr || item->data(kind_role).toString() != QStringLiteral("offer"))
        return nullptr;
    const auto at = item->data(id_role).toULongLong();
    return at < offers_.size() ? &offers_[at] : nullptr;
}

// What was typed and not saved waits with its entry until it is saved.
void LibraryPage::keep_draft() {
    if (shown_entry_.isEmpty())
        return;
    if (pages_->currentIndex() == 1 && text_->toPlainText() != shown_)
        drafts_[shown_entry_] = {text_->toPlainText(), {}};
    else if (pages_->currentIndex() == 0 && form_->changed()) {
        if (const auto whole = form_->text())
            drafts_[shown_entry_] = {QString::fromStdString(whole.value()), {}};
        else
            drafts_[shown_entry_] = {{}, form_->typed()};
    }
}

void LibraryPage::show_draft() {
    const auto draft = drafts_.find(shown_entry_);
    if (draft == drafts_.end())
        return;
    const auto& [text, fields] = draft->second;
    form_->type(fields);
    const auto whole = fields.empty() ? Result<std::string>(text.toStdString()) : form_->text();
    if (whole)
        text_->setPlainText(QString::fromStdString(whole.value()));
    // What is no entry yet stays where it was typed.
    if (pages_->currentIndex() == 0 && fields.empty() && !form_->take(text.toStdString()))
        pages_->setCurrentIndex(1);
    else if (pages_->currentIndex() == 1 && !whole)
        pages_->setCurrentIndex(0);
    say(tr("Changed and not saved yet."));
}

void LibraryPage::show_entry() {
    const QListWidgetItem* item = entries_->currentItem();
    if (item == nullptr)
        return;
    shown_entry_ = item->data(kind_role).toString() + QLatin1Char(' ') + item->data(id_role).toString();
    const std::string id = item->data(id_role).toString().toStdString();
    std::string text;
    const auto kind = kind_of(item->data(kind_role).toString());
    const exchange::LibraryOffer* offer = offered();
    if (offer != nullptr) {
        text = offer->text;
    } else if (kind) {
        text = workshop().catalogue().entry(*kind, id);
    } else if (item->data(kind_role) == QStringLiteral("protocol")) {
        if (const Protocol* protocol = workshop().library().protocol(id))
            text = exchange::write_protocol(*protocol);
    } else if (item->data(kind_role) == QStringLiteral("teardown")) {
        for (const auto& plan : workshop().library().teardown)
            if (plan.id == id)
                text = exchange::write_teardown_plan(plan);
    }
    shown_ = QString::fromStdString(text);
    text_->setPlainText(shown_);
    form_->set(kind, text, workshop().writable());
    as_text_->setEnabled(kind.has_value());
    enable_copy();
    pages_->setCurrentIndex(kind && !as_text_->isChecked() ? 0 : 1);
    says_->clear();
    text_->setReadOnly(offer != nullptr);
    if (offer != nullptr)
        say(tr("Ingot ships it now. Nothing changes until you take it in."));
    show_draft();
    emit evidence_changed();
}

void LibraryPage::copy() {
    const QListWidgetItem* item = entries_->currentItem();
    if (item == nullptr)
        return;
    const auto id =
        ask_line(this, tr("Copy"), tr("Short name of the copy (letters, figures, dashes):"),
                 item->data(id_role).toString() + QStringLiteral("-own"),
                 [any = item->data(kind_role).toString() == QStringLiteral("instrument")](const QString& answer) {
                     if (any && !answer.trimmed().isEmpty()) // as it is called on the bench
                         return QString();
                     static const QRegularExpression plain(QStringLiteral("^[A-Za-z0-9-]+$"));
                     return plain.match(answer).hasMatch()
                                ? QString()
                                : tr("\"%1\" is not a short name: letters, figures and dashes only.").arg(answer);
                 });
    if (!id)
        return;
    if (pages_->currentIndex() == 0) {
        form_->set_value("id", id->toStdString());
    } else {
        QString text = text_->toPlainText();
        static const QRegularExpression id_line(QStringLiteral("^id = .*$"), QRegularExpression::MultilineOption);
        const auto match = id_line.match(text);
        if (match.hasMatch())
            text.replace(match.capturedStart(), match.capturedLength(), QStringLiteral("id = \"%1\"").arg(*id));
        text_->setPlainText(text);
    }
    say(tr("Change it as you need, then save it. Nothing is kept until then."));
}

bool LibraryPage::changed() const {
    return text_->toPlainText() != shown_ || form_->changed();
}

// What was typed goes along: from the form into the text, or back.
void LibraryPage::show_as_text(bool as_text) {
    const QListWidgetItem* item = entries_->currentItem();
    const auto kind = item == nullptr ? std::nullopt : kind_of(item->data(kind_role).toString());
    if (!kind)
        return;
    if (as_text) {
        const auto text = form_->text();
        if (!text) {
            as_text_->setChecked(false);
            say(objection(text.problem()));
            return;
        }
        if (form_->changed())
            text_->setPlainText(QString::fromStdString(text.value()));
    } else if (text_->toPlainText() != shown_ && !form_->take(text_->toPlainText().toStdString())) {
        as_text_->setChecked(true);
        say(tr("The text cannot be read as one entry. Mend it first."));
        return;
    }
    pages_->setCurrentIndex(as_text ? 1 : 0);
}

QString LibraryPage::objection(const Problem& problem) const {
    const QListWidgetItem* item = entries_->currentItem();
    const auto kind = item == nullptr ? std::nullopt : kind_of(item->data(kind_role).toString());
    const QString field = kind ? wording::entry_field(*kind, problem.where) : QString();
    return field.isEmpty() ? wording::problem(problem) : tr("%1: %2").arg(field, wording::sentence(problem.sentence));
}

void LibraryPage::ask_new_model() {
    const auto model = ask_model(this, workshop().library());
    if (!model || !fine(workshop().catalogue().save_model(*model)))
        return;
    choose_kind_ = QStringLiteral("model");
    fill(QString::fromStdString(model->id));
    say(tr("Kept. Units with this print are known by it from now on."));
}

void LibraryPage::save() {
    const QListWidgetItem* item = entries_->currentItem();
    if (item == nullptr)
        return;
    const auto entry = kind_of(item->data(kind_role).toString());
    const auto typed =
        pages_->currentIndex() == 0 ? form_->text() : Result<std::string>(text_->toPlainText().toStdString());
    if (!typed) {
        say(objection(typed.problem()));
        return;
    }
    const std::string& text = typed.value();
    CatalogueService& catalogue = workshop().catalogue();
    const QString kind = item->data(kind_role).toString();
    const auto kept = entry                                ? catalogue.save_entry(*entry, text)
                      : kind == QStringLiteral("protocol") ? catalogue.save_protocol(text)
                                                           : catalogue.save_teardown_plan(text);
    if (!kept) {
        say(objection(kept.problem()));
        return;
    }
    choose_kind_ = kind;
    drafts_.erase(shown_entry_);
    shown_entry_.clear(); // nothing of it waits any more
    static const QRegularExpression id_line(QStringLiteral("^id = [\"'](.*)[\"']$"),
                                            QRegularExpression::MultilineOption);
    fill(id_line.match(QString::fromStdString(kept.value())).captured(1));
    say(entry && *exchange::library_kind(*entry) == '\0' ? tr("Kept.") : tr("Kept as the next version."));
}

} // namespace ingot::app
