// A table of records: sorted by its heads, its columns remembered, copied and exported, walked by keys.
#pragma once

#include "workshop/models/record_model.h"

#include <QTableView>

namespace ingot::app {

// How every table of the window looks, those of a few fixed rows as well.
void dress_table(QTableView& table);

class RecordTable : public QTableView {
    Q_OBJECT
public:
    // `name`: under which widths, order, hidden columns and sorting are remembered; also the object's name.
    RecordTable(const QString& name, QWidget* parent);

    // `columns`: those that are shown unless the person chose others; empty: all.
    void set_records(RecordModel* records, const QStringList& columns = {});
    [[nodiscard]] RecordFilter* filter() const { return filter_; }
    [[nodiscard]] RecordModel* records() const { return filter_->records(); }
    [[nodiscard]] Id selected() const; // 0: none
    void select(Id id);                // without telling `chosen`; an unknown one: nothing is selected
    // What is marked, or all that is shown, as it stands on screen; the heads first.
    [[nodiscard]] std::vector<QStringList> rows(bool only_marked) const;
    void copy() const;

signals:
    void chosen(ingot::Id id);
    void opened(ingot::Id id); // Enter or a double-click
    void export_wanted();

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void currentChanged(const QModelIndex& current, const QModelIndex& previous) override;
    void selectionChanged(const QItemSelection& selected, const QItemSelection& deselected) override;

private:
    void remember() const;
    void recall(const QStringList& columns);
    [[nodiscard]] QString settings_key() const;
    void show_menu(const QPoint& at);
    void tell_chosen();
    void size_columns();
    void spread_columns();

    RecordFilter* filter_;
    bool quiet_ = false;
    bool sized_ = false;   // columns are as wide as their first rows need, or as the person left them
    bool by_hand_ = false; // the person left them so, now or an earlier time
    Id told_ = 0;
};

} // namespace ingot::app
