#include "app/parts/questions.h"

#include "app/parts/panel.h"
#include "app/theme/theme.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QCoreApplication>
#include <QDialog>
#include <QDialogButtonBox>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

QString tr(const char* text) {
    return QCoreApplication::translate("dialogs", text);
}

QDialogButtonBox* buttons(QDialog& dialog, QLineEdit* reason) {
    auto* box = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, &dialog);
    QObject::connect(box, &QDialogButtonBox::accepted, &dialog, &QDialog::accept);
    QObject::connect(box, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
    auto* ok = box->button(QDialogButtonBox::Ok);
    ok->setEnabled(false);
    QObject::connect(reason, &QLineEdit::textChanged, ok,
                     [ok](const QString& text) { ok->setEnabled(!text.trimmed().isEmpty()); });
    return box;
}

} // namespace

std::optional<QString> ask_reason(QWidget* parent, const QString& title, const QString& question) {
    QDialog dialog(parent);
    dialog.setObjectName(QStringLiteral("ask_reason"));
    dialog.setWindowTitle(title);
    auto* layout = new QVBoxLayout(&dialog);
    layout->addWidget(sentence(question, &dialog));
    auto* reason = new QLineEdit(&dialog);
    reason->setMinimumWidth(420);
    reason->setAccessibleName(tr("Reason"));
    layout->addWidget(reason);
    layout->addWidget(buttons(dialog, reason));
    if (dialog.exec() != QDialog::Accepted)
        return std::nullopt;
    return reason->text().trimmed();
}

std::optional<OverruleAnswer> ask_overrule(QWidget* parent, const UnitState& unit) {
    QDialog dialog(parent);
    dialog.setObjectName(QStringLiteral("ask_overrule"));
    dialog.setWindowTitle(tr("Overrule"));
    auto* layout = new QVBoxLayout(&dialog);
    layout->addWidget(
        sentence(tr("The rules say %1 for %2. What do you say, and why? The reason is kept with the verdict.")
                     .arg(wording::duty(unit.verdict.overruled_from.value_or(unit.verdict.duty)),
                          QString::fromStdString(unit.code())),
                 &dialog));
    auto* duty = new QComboBox(&dialog);
    duty->setAccessibleName(tr("Duty"));
    for (const Duty d : {Duty::drive, Duty::store, Duty::light, Duty::rest_again, Duty::scrap})
        duty->addItem(wording::duty(d), static_cast<int>(d));
    layout->addWidget(duty);
    auto* reason = new QLineEdit(&dialog);
    reason->setMinimumWidth(420);
    reason->setPlaceholderText(tr("Reason"));
    reason->setAccessibleName(tr("Reason"));
    layout->addWidget(reason);
    layout->addWidget(buttons(dialog, reason));
    if (dialog.exec() != QDialog::Accepted)
        return std::nullopt;
    return OverruleAnswer{static_cast<Duty>(duty->currentData().toInt()), reason->text().trimmed()};
}

} // namespace ingot::app
