// The few questions that need a box of their own. A box says beside the field what is wrong with an answer, and closes
// only with answers that it takes.
#pragma once

#include "workshop/workshop.h"

#include <QDialog>
#include <QString>

#include <functional>
#include <optional>

class QDialogButtonBox;
class QFormLayout;
class QLabel;
class QLineEdit;

namespace ingot::app {

// What is wrong with an answer, with the remedy; empty: nothing.
using Objection = std::function<QString(const QString& answer)>;

class QuestionBox : public QDialog {
    Q_OBJECT
public:
    QuestionBox(QWidget* parent, const QString& title, const QString& words = {});
    // A field that must be filled: the box cannot be accepted while it is empty.
    QLineEdit* add_line(const QString& name, const QString& first = {}, Objection objection = {});
    // One that may stay empty; the objection is asked about the empty answer, too.
    QLineEdit* add_optional_line(const QString& name, const QString& first = {}, Objection objection = {});
    void add_row(const QString& name, QWidget* widget);
    bool ask(); // true: accepted
    void accept() override;

private:
    struct Field {
        QLineEdit* edit;
        QLabel* says;
        Objection objection;
        bool required;
    };
    QLineEdit* add_field(const QString& name, const QString& first, Objection objection, bool required);
    void look_again();
    void grow();

    std::vector<Field> fields_;
    std::vector<QWidget*> inputs_; // in the order of the rows
    QFormLayout* form_ = nullptr;
    QDialogButtonBox* buttons_ = nullptr;
    bool tried_ = false; // objections are said from then on
};

// One line; nothing when cancelled. What stands in the field at first may be empty.
[[nodiscard]] std::optional<QString> ask_line(QWidget* parent, const QString& title, const QString& question,
                                              const QString& first = {}, const Objection& objection = {});
// A figure with decimal comma or point between two limits, in `unit`. Nothing stands in the field that nobody said.
[[nodiscard]] std::optional<double> ask_figure(QWidget* parent, const QString& title, const QString& question,
                                               const QString& unit, double least, double most,
                                               const std::optional<double>& first = {});
// A sentence of the person's own; nothing when cancelled. The reason may not be empty.
[[nodiscard]] std::optional<QString> ask_reason(QWidget* parent, const QString& title, const QString& question);
// One of a few; its index.
[[nodiscard]] std::optional<int> ask_choice(QWidget* parent, const QString& title, const QString& question,
                                            const QStringList& choices, int first = 0);

struct Home {
    std::string tray;
    int well = 0;
};
[[nodiscard]] std::optional<Home> ask_home(QWidget* parent, const Unit& unit);

struct OverruleAnswer {
    Duty duty;
    QString reason;
};
[[nodiscard]] std::optional<OverruleAnswer> ask_overrule(QWidget* parent, const UnitState& unit);

} // namespace ingot::app
