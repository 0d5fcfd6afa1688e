// A list of records as views show it: rows known by the identity of their record, columns with a word and a sort key.
// Only rows that a step touched signal a change, so that no view rebuilds what stands. Rows are on the GUI thread.
#pragma once

#include "core/cells/id.h"
#include "workshop/change_set.h"

#include <QAbstractTableModel>
#include <QSortFilterProxyModel>

#include <functional>
#include <set>
#include <unordered_map>
#include <vector>

namespace ingot {

struct RecordColumn {
    QString key;   // for remembered columns; never shown
    QString title; // in the head of the table
    bool number = false;
};

// What one field shows, and by what it is sorted (nothing: last).
struct RecordField {
    QString text;
    QVariant sort;
};

class RecordModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Role {
        id_role = Qt::UserRole,
        sort_role,
        struck_role, // true: the record was struck out
    };

    RecordModel(std::vector<RecordColumn> columns, QObject* parent);

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

    [[nodiscard]] const std::vector<RecordColumn>& columns() const { return columns_; }
    [[nodiscard]] Id id_at(int row) const { return rows_[static_cast<std::size_t>(row)]; }
    [[nodiscard]] int row_of(Id id) const; // -1: not here
    // What a search looks at: every word of the record, in small letters. Kept until the record changes.
    [[nodiscard]] const QString& words_of(int row) const;

signals:
    void slice_read(); // of a list that is read in slices: more rows, or the end

protected:
    [[nodiscard]] virtual RecordField field(Id id, int column) const = 0;
    [[nodiscard]] virtual QString tip(Id id) const;
    [[nodiscard]] virtual bool struck(Id id) const;
    // The columns that a search reads; all of them unless some are only figures.
    [[nodiscard]] virtual bool searched(int column) const { return !columns_[static_cast<std::size_t>(column)].number; }

    // The records that are there now, in order: rows that went or came signal so, the others stay.
    void show_rows(std::vector<Id> rows);
    void add_rows(const std::vector<Id>& more); // at the end
    void touch(const std::set<Id>& records);    // their fields may show something else
    void touch_all();

private:
    void number_from(std::size_t row);

    std::vector<RecordColumn> columns_;
    std::vector<Id> rows_;
    std::unordered_map<Id, int> row_of_;
    mutable std::unordered_map<Id, QString> words_;
};

// Sorted by the sort key; searched by words, all of which a record must hold.
class RecordFilter : public QSortFilterProxyModel {
    Q_OBJECT
public:
    explicit RecordFilter(QObject* parent);
    void set_words(const QString& words);
    void set_records(RecordModel* records);
    // A narrower choice beside the words: which records are meant at all.
    void set_choice(std::function<bool(Id)> choice);
    void choose_again() { invalidateFilter(); }
    [[nodiscard]] RecordModel* records() const { return records_; }
    [[nodiscard]] Id id_at(int row) const;
    [[nodiscard]] int row_of(Id id) const;

protected:
    [[nodiscard]] bool filterAcceptsRow(int row, const QModelIndex& parent) const override;
    [[nodiscard]] bool lessThan(const QModelIndex& left, const QModelIndex& right) const override;

private:
    RecordModel* records_ = nullptr;
    QStringList words_;
    std::function<bool(Id)> choice_;
};

} // namespace ingot
