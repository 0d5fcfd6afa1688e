#include "app/shell/library_dialog.h"

#include "app/parts/panel.h"
#include "app/theme/theme.h"
#include "exchange/protocol_toml.h"

#include <QHBoxLayout>
#include <QInputDialog>
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

LibraryDialog::LibraryDialog(QWidget* parent, Workshop& workshop)
    : QDialog(parent), workshop_(workshop), entries_(new QListWidget(this)), text_(new QPlainTextEdit(this)),
      says_(sentence({}, this)), copy_(new PressButton(tr("Copy under a new name…"), this)),
      save_(new PressButton(tr("Save as the next version"), this, true)) {
    setObjectName(QStringLiteral("library"));
    setWindowTitle(tr("Library: protocols and teardown plans"));
    resize(940, 640);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(
        sentence(tr("Each is a text with units in its names: It is the rating per hour, volts are per cell, "
                    "hours are hours. Runs and ticks keep the version they were made under."),
                 this));
    auto* row = new QHBoxLayout;
    entries_->setObjectName(QStringLiteral("library_entries"));
    entries_->setAccessibleName(tr("Protocols and teardown plans"));
    entries_->setMaximumWidth(340);
    entries_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    entries_->setTextElideMode(Qt::ElideRight);
    entries_->setWordWrap(true);
    text_->setObjectName(QStringLiteral("library_text"));
    text_->setAccessibleName(tr("Text of the entry"));
    text_->setFont(type(14));
    row->addWidget(entries_, 2);
    row->addWidget(text_, 5);
    layout->addLayout(row, 1);
    says_->setObjectName(QStringLiteral("library_says"));
    layout->addWidget(says_);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(copy_);
    buttons->addStretch(1);
    buttons->addWidget(save_);
    layout->addLayout(buttons);
    copy_->setEnabled(workshop.writable());
    save_->setEnabled(workshop.writable());
    connect(entries_, &QListWidget::currentRowChanged, this, [this] { show_entry(); });
    connect(copy_, &PressButton::clicked, this, [this] { copy(); });
    connect(save_, &PressButton::clicked, this, [this] { save(); });
    fill({});
}

void LibraryDialog::fill(const QString& choose) {
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
    for (const auto& [id, protocol] : workshop_.library().protocols)
        add(QStringLiteral("protocol"), QString::fromStdString(id),
            tr("%1, v%2").arg(QString::fromStdString(protocol.name)).arg(protocol.version));
    for (const auto& plan : workshop_.library().teardown)
        add(QStringLiteral("teardown"), QString::fromStdString(plan.id),
            tr("Teardown: %1, v%2").arg(QString::fromStdString(plan.name)).arg(plan.version));
    entries_->setCurrentRow(row);
    show_entry();
}

void LibraryDialog::show_entry() {
    const QListWidgetItem* item = entries_->currentItem();
    if (item == nullptr)
        return;
    const std::string id = item->data(id_role).toString().toStdString();
    std::string text;
    if (item->data(kind_role) == QStringLiteral("protocol")) {
        if (const Protocol* protocol = workshop_.library().protocol(id))
            text = exchange::write_protocol(*protocol);
    } else {
        for (const auto& plan : workshop_.library().teardown)
            if (plan.id == id)
                text = exchange::write_teardown_plan(plan);
    }
    text_->setPlainText(QString::fromStdString(text));
    says_->clear();
}

void LibraryDialog::copy() {
    const QListWidgetItem* item = entries_->currentItem();
    if (item == nullptr)
        return;
    bool ok = false;
    const QString id =
        QInputDialog::getText(this, tr("Copy"), tr("Short name of the copy (letters, figures, dashes):"),
                              QLineEdit::Normal, item->data(id_role).toString() + QStringLiteral("-own"), &ok)
            .trimmed();
    static const QRegularExpression plain(QStringLiteral("^[A-Za-z0-9-]+$"));
    if (!ok)
        return;
    if (!plain.match(id).hasMatch()) {
        says_->setText(tr("\"%1\" is not a short name: letters, figures and dashes only.").arg(id));
        return;
    }
    QString text = text_->toPlainText();
    static const QRegularExpression id_line(QStringLiteral("^id = .*$"), QRegularExpression::MultilineOption);
    const auto match = id_line.match(text);
    if (match.hasMatch())
        text.replace(match.capturedStart(), match.capturedLength(), QStringLiteral("id = \"%1\"").arg(id));
    text_->setPlainText(text);
    says_->setText(tr("Change it as you need, then save it. Nothing is kept until then."));
}

void LibraryDialog::save() {
    const QListWidgetItem* item = entries_->currentItem();
    if (item == nullptr)
        return;
    const std::string text = text_->toPlainText().toStdString();
    const auto kept = item->data(kind_role) == QStringLiteral("protocol")
                          ? workshop_.catalogue().save_protocol(text)
                          : workshop_.catalogue().save_teardown_plan(text);
    if (!kept) {
        says_->setText(QString::fromStdString(kept.problem().text()));
        return;
    }
    static const QRegularExpression id_line(QStringLiteral("^id = [\"'](.*)[\"']$"),
                                            QRegularExpression::MultilineOption);
    fill(id_line.match(QString::fromStdString(kept.value())).captured(1));
    says_->setText(tr("Kept as the next version."));
}

} // namespace ingot::app
