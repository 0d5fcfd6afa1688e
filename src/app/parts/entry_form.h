// An entry of the library as a form: its fields one below the other, each with its unit.
#pragma once

#include "exchange/library_entry.h"

#include <QWidget>

#include <map>

class QFormLayout;

namespace ingot::app {

class EntryForm : public QWidget {
    Q_OBJECT
public:
    explicit EntryForm(QWidget* parent = nullptr);
    // Nothing: no fields.
    void set(std::optional<exchange::EntryKind> kind, const std::string& text, bool writable);
    // The fields of that text, as typed ones; false: it is no such entry.
    bool take(const std::string& text);
    void set_value(const std::string& key, const std::string& value);
    [[nodiscard]] bool changed() const;
    // What differs from the entry, field by field as it stands there, a figure that is none among it; and typed again.
    using Typed = std::map<std::string, QString>;
    [[nodiscard]] Typed typed() const;
    void type(const Typed& typed);
    // The entry with what was typed; objects naming the field.
    [[nodiscard]] Result<std::string> text() const;

private:
    [[nodiscard]] std::string value(const exchange::EntryField& field) const;
    void show(const exchange::EntryField& field, const std::string& value);

    std::optional<exchange::EntryKind> kind_;
    std::string text_;
    std::map<std::string, std::string> first_; // as shown
    std::map<std::string, QWidget*> inputs_;
    QFormLayout* form_ = nullptr;
};

} // namespace ingot::app
