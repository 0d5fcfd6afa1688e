#include "app/parts/entry_form.h"

#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/library_wording.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QLineEdit>

namespace ingot::app {

namespace {
using Type = exchange::EntryField::Type;
constexpr int figures_kept = 9;

bool is_figure(Type type) {
    return type == Type::number || type == Type::share;
}
} // namespace

EntryForm::EntryForm(QWidget* parent) : QWidget(parent), form_(new QFormLayout(this)) {
    form_->setRowWrapPolicy(QFormLayout::DontWrapRows);
    form_->setVerticalSpacing(4);
}

void EntryForm::set(std::optional<exchange::EntryKind> kind, const std::string& text, bool writable) {
    if (kind_ != kind) {
        kind_ = kind;
        while (form_->rowCount() > 0)
            form_->removeRow(0);
        inputs_.clear();
        if (kind)
            for (const exchange::EntryField& field : exchange::entry_fields(*kind)) {
                const QString name = wording::entry_field(*kind, field.key);
                QWidget* input = nullptr;
                if (field.type == Type::flag) {
                    input = new QCheckBox(this);
                } else if (field.type == Type::choice) {
                    auto* choices = new QComboBox(this);
                    for (const std::string& choice : field.choices)
                        choices->addItem(wording::entry_choice(choice), QString::fromStdString(choice));
                    input = choices;
                } else {
                    auto* line = new QLineEdit(this);
                    if (!field.required)
                        line->setPlaceholderText(tr("not known"));
                    input = line;
                }
                input->setObjectName(QStringLiteral("entry_") + QString::fromStdString(field.key));
                input->setAccessibleName(name);
                form_->addRow(name, input);
                inputs_[field.key] = input;
            }
    }
    text_ = text;
    setEnabled(writable);
    first_.clear();
    if (!kind)
        return;
    (void)take(text);
    for (const exchange::EntryField& field : exchange::entry_fields(*kind))
        first_[field.key] = value(field);
}

bool EntryForm::take(const std::string& text) {
    if (!kind_)
        return false;
    const auto values = exchange::entry_values(*kind_, text);
    if (!values)
        return false;
    text_ = text;
    for (const exchange::EntryField& field : exchange::entry_fields(*kind_)) {
        const auto found = values.value().find(field.key);
        show(field, found == values.value().end() ? std::string() : found->second);
    }
    return true;
}

void EntryForm::show(const exchange::EntryField& field, const std::string& value) {
    QWidget* input = inputs_.at(field.key);
    const QString shown = QString::fromStdString(value);
    if (auto* check = qobject_cast<QCheckBox*>(input)) {
        check->setChecked(value == "true");
    } else if (auto* choices = qobject_cast<QComboBox*>(input)) {
        choices->setCurrentIndex(std::max(0, choices->findData(shown)));
    } else if (auto* line = qobject_cast<QLineEdit*>(input)) {
        const double factor = wording::entry_factor(field.key);
        line->setText(is_figure(field.type) && !value.empty()
                          ? QString::number(shown.toDouble() / factor, 'g', figures_kept)
                          : shown);
        line->setCursorPosition(0);
    }
}

// As the entry has it: a point, and the unit of its key.
std::string EntryForm::value(const exchange::EntryField& field) const {
    const QWidget* input = inputs_.at(field.key);
    if (const auto* check = qobject_cast<const QCheckBox*>(input))
        return check->isChecked() ? "true" : field.required ? "false" : "";
    if (const auto* choices = qobject_cast<const QComboBox*>(input))
        return choices->currentData().toString().toStdString();
    const QString typed = qobject_cast<const QLineEdit*>(input)->text().trimmed();
    if (!is_figure(field.type) || typed.isEmpty())
        return typed.toStdString();
    const auto number = figures::typed(typed);
    return number ? QString::number(*number * wording::entry_factor(field.key), 'g', figures_kept).toStdString()
                  : typed.toStdString();
}

void EntryForm::set_value(const std::string& key, const std::string& value) {
    if (!kind_)
        return;
    for (const exchange::EntryField& field : exchange::entry_fields(*kind_))
        if (field.key == key)
            show(field, value);
}

bool EntryForm::changed() const {
    if (!kind_)
        return false;
    const auto& fields = exchange::entry_fields(*kind_);
    return std::any_of(fields.begin(), fields.end(),
                       [&](const exchange::EntryField& field) { return value(field) != first_.at(field.key); });
}

EntryForm::Typed EntryForm::typed() const {
    Typed out;
    if (!kind_)
        return out;
    for (const exchange::EntryField& field : exchange::entry_fields(*kind_))
        if (const std::string now = value(field); now != first_.at(field.key)) {
            const auto* line = qobject_cast<const QLineEdit*>(inputs_.at(field.key));
            out[field.key] = line != nullptr ? line->text() : QString::fromStdString(now);
        }
    return out;
}

void EntryForm::type(const Typed& typed) {
    if (!kind_)
        return;
    for (const exchange::EntryField& field : exchange::entry_fields(*kind_)) {
        const auto found = typed.find(field.key);
        if (found == typed.end())
            continue;
        if (auto* line = qobject_cast<QLineEdit*>(inputs_.at(field.key)))
            line->setText(found->second);
        else
            show(field, found->second.toStdString());
    }
}

Result<std::string> EntryForm::text() const {
    if (!kind_)
        return Problem{"", 0, said("This entry has no fields.")};
    std::map<std::string, std::string> typed;
    for (const exchange::EntryField& field : exchange::entry_fields(*kind_))
        if (const std::string now = value(field); now != first_.at(field.key))
            typed[field.key] = now;
    return exchange::entry_with(*kind_, text_, typed);
}

} // namespace ingot::app
