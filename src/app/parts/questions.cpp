#include "app/parts/questions.h"

#include "app/parts/panel.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace ingot::app {

QuestionBox::QuestionBox(QWidget* parent, const QString& title, const QString& words) : QDialog(parent) {
    setObjectName(QStringLiteral("question"));
    setWindowTitle(title);
    auto* layout = new QVBoxLayout(this);
    if (!words.isEmpty())
        layout->addWidget(sentence(words, this));
    form_ = new QFormLayout;
    layout->addLayout(form_);
    buttons_ = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    layout->addWidget(buttons_);
    connect(buttons_, &QDialogButtonBox::accepted, this, &QuestionBox::accept);
    connect(buttons_, &QDialogButtonBox::rejected, this, &QDialog::reject);
}

QLineEdit* QuestionBox::add_line(const QString& name, const QString& first, Objection objection) {
    return add_field(name, first, std::move(objection), true);
}

QLineEdit* QuestionBox::add_optional_line(const QString& name, const QString& first, Objection objection) {
    return add_field(name, first, std::move(objection), false);
}

QLineEdit* QuestionBox::add_field(const QString& name, const QString& first, Objection objection, bool required) {
    auto* edit = new QLineEdit(first, this);
    constexpr int wide = 420;
    edit->setMinimumWidth(scaled(wide));
    edit->setAccessibleName(name);
    edit->selectAll();
    auto* says = sentence({}, this);
    says->setObjectName(QStringLiteral("objection"));
    says->hide();
    auto* both = new QVBoxLayout;
    both->setSpacing(1);
    both->addWidget(edit);
    both->addWidget(says);
    form_->addRow(fields_.empty() && form_->rowCount() == 0 && name == windowTitle() ? QString() : name, both);
    inputs_.push_back(edit);
    fields_.push_back({edit, says, std::move(objection), required});
    connect(edit, &QLineEdit::textChanged, this, [this] { look_again(); });
    look_again();
    return edit;
}

void QuestionBox::add_row(const QString& name, QWidget* widget) {
    widget->setAccessibleName(name);
    inputs_.push_back(widget);
    form_->addRow(name, widget);
}

void QuestionBox::look_again() {
    bool filled = true;
    for (const Field& field : fields_) {
        const QString answer = field.edit->text().trimmed();
        filled = filled && (!field.required || !answer.isEmpty());
        const QString wrong = tried_ && field.objection ? field.objection(answer) : QString();
        field.says->setText(wrong.isEmpty() ? wrong : QStringLiteral("\u26A0 ") + wrong);
        field.says->setVisible(!wrong.isEmpty());
        field.edit->setAccessibleDescription(wrong);
    }
    buttons_->button(QDialogButtonBox::Ok)->setEnabled(filled);
}

void QuestionBox::accept() {
    tried_ = true;
    look_again();
    for (const Field& field : fields_)
        if (field.says->isVisibleTo(this) || (field.required && field.edit->text().trimmed().isEmpty())) {
            field.edit->setFocus();
            field.edit->selectAll();
            grow();
            return;
        }
    QDialog::accept();
}

// The keys go through the fields first, whatever was made first.
bool QuestionBox::ask() {
    inputs_.push_back(buttons_->button(QDialogButtonBox::Ok));
    inputs_.push_back(buttons_->button(QDialogButtonBox::Cancel));
    for (std::size_t i = 1; i < inputs_.size(); ++i)
        setTabOrder(inputs_[i - 1], inputs_[i]);
    inputs_.front()->setFocus();
    adjustSize();
    grow();
    return exec() == QDialog::Accepted;
}

// As high as its rows ask for: Qt itself stops at two thirds of the screen and lets lines vanish.
void QuestionBox::grow() {
    layout()->activate();
    const int wanted = layout()->hasHeightForWidth() ? layout()->totalHeightForWidth(width()) : sizeHint().height();
    resize(width(), std::max(height(), wanted));
}

std::optional<QString> ask_line(QWidget* parent, const QString& title, const QString& question, const QString& first,
                                const Objection& objection) {
    QuestionBox box(parent, title, question);
    const QLineEdit* line = box.add_line(title, first, objection);
    if (!box.ask())
        return std::nullopt;
    return line->text().trimmed();
}

std::optional<double> ask_figure(QWidget* parent, const QString& title, const QString& question, const QString& unit,
                                 double least, double most, const std::optional<double>& first) {
    constexpr int most_digits = 3;
    const auto answer = ask_line(
        parent, title, question, first ? figures::plain(*first, most_digits) : QString(), [&](const QString& text) {
            const auto value = figures::typed(text);
            return value && *value >= least && *value <= most
                       ? QString()
                       : QuestionBox::tr("\"%1\" is not a figure from %2 to %3 %4.")
                             .arg(text, figures::plain(least, 0), figures::plain(most, 0), unit)
                             .trimmed();
        });
    return answer ? figures::typed(*answer) : std::nullopt;
}

std::optional<QString> ask_reason(QWidget* parent, const QString& title, const QString& question) {
    return ask_line(parent, title, question);
}

std::optional<int> ask_choice(QWidget* parent, const QString& title, const QString& question,
                              const QStringList& choices, int first) {
    QuestionBox box(parent, title, question);
    auto* combo = new QComboBox(&box);
    combo->addItems(choices);
    combo->setCurrentIndex(first);
    box.add_row(title, combo);
    if (!box.ask())
        return std::nullopt;
    return combo->currentIndex();
}

namespace {

// "S3 14", the well last.
std::optional<Home> home_of(const QString& answer) {
    const QString text = answer.simplified();
    const int well = text.section(QLatin1Char(' '), -1).toInt();
    const QString tray = text.section(QLatin1Char(' '), 0, -2);
    if (tray.isEmpty() || well <= 0)
        return std::nullopt;
    return Home{tray.toStdString(), well};
}

} // namespace

std::optional<Home> ask_home(QWidget* parent, const Unit& unit) {
    const QString now =
        unit.tray.empty() ? QString() : QStringLiteral("%1 %2").arg(QString::fromStdString(unit.tray)).arg(unit.well);
    const auto answer =
        ask_line(parent, QuestionBox::tr("Home"), QuestionBox::tr("Tray and well, such as S3 14:"), now,
                 [](const QString& text) {
                     return home_of(text)
                                ? QString()
                                : QuestionBox::tr("\"%1\" is not a tray and a well. Write them like S3 14.").arg(text);
                 });
    return answer ? home_of(*answer) : std::nullopt;
}

std::optional<OverruleAnswer> ask_overrule(QWidget* parent, const UnitState& unit) {
    QuestionBox box(
        parent, QuestionBox::tr("Overrule"),
        QuestionBox::tr("The rules say %1 for %2. What do you say, and why? The reason is kept with the verdict.")
            .arg(wording::duty(unit.verdict.overruled_from.value_or(unit.verdict.duty)),
                 QString::fromStdString(unit.code())));
    auto* duty = new QComboBox(&box);
    for (const Duty d : {Duty::drive, Duty::store, Duty::light, Duty::rest_again, Duty::scrap})
        duty->addItem(wording::duty(d), static_cast<int>(d));
    box.add_row(QuestionBox::tr("Duty"), duty);
    const QLineEdit* reason = box.add_line(QuestionBox::tr("Reason"));
    if (!box.ask())
        return std::nullopt;
    return OverruleAnswer{static_cast<Duty>(duty->currentData().toInt()), reason->text().trimmed()};
}

} // namespace ingot::app
