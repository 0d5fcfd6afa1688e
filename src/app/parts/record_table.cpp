#include "app/parts/record_table.h"

#include "app/theme/theme.h"

#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QHeaderView>
#include <QKeyEvent>
#include <QMenu>
#include <QSettings>
#include <QStyledItemDelegate>

namespace ingot::app {

namespace {

// What was struck out stays legible, with a line through it.
class StruckDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;

protected:
    void initStyleOption(QStyleOptionViewItem* option, const QModelIndex& index) const override {
        QStyledItemDelegate::initStyleOption(option, index);
        if ((option->displayAlignment & Qt::AlignRight) != 0)
            option->text += QStringLiteral("  "); // off the next column's words
        if (!index.data(RecordModel::struck_role).toBool())
            return;
        option->font.setStrikeOut(true);
        option->palette.setColor(QPalette::Text, colours().muted);
    }
};

// What stands on the left of a column does not touch what is in the one before it.
class RoomyDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        constexpr int apart = 12;
        return QStyledItemDelegate::sizeHint(option, index) + QSize(apart, 0);
    }
};

} // namespace

void dress_table(QTableView& table) {
    table.setItemDelegate(new RoomyDelegate(&table));
    table.setSelectionBehavior(QAbstractItemView::SelectRows);
    table.setEditTriggers(QAbstractItemView::NoEditTriggers);
    table.setShowGrid(false);
    table.setFrameShape(QFrame::NoFrame);
    table.verticalHeader()->hide();
    table.verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    table.verticalHeader()->setDefaultSectionSize(QFontMetrics(type(14)).height() + 8);
    table.horizontalHeader()->setAccessibleName(RecordTable::tr("Columns"));
    table.horizontalHeader()->setHighlightSections(false);
    table.horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
}

RecordTable::RecordTable(const QString& name, QWidget* parent) : QTableView(parent), filter_(new RecordFilter(this)) {
    setObjectName(name);
    setModel(filter_);
    dress_table(*this);
    setItemDelegate(new StruckDelegate(this));
    setSelectionMode(ExtendedSelection);
    setWordWrap(false);
    setTabKeyNavigation(false);
    horizontalHeader()->setSortIndicator(-1, Qt::AscendingOrder); // in the order of the records until somebody sorts
    setSortingEnabled(true);
    constexpr int measured_rows = 60; // of thousands: widths follow what is seen first
    horizontalHeader()->setResizeContentsPrecision(measured_rows);
    horizontalHeader()->setSectionsMovable(true);
    horizontalHeader()->setStretchLastSection(true);
    horizontalHeader()->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(horizontalHeader(), &QHeaderView::customContextMenuRequested, this,
            [this](const QPoint& at) { show_menu(horizontalHeader()->mapToGlobal(at)); });
    connect(horizontalHeader(), &QHeaderView::sectionMoved, this, [this] { remember(); });
    // By the person's hand: the last column also follows the window, and what is as wide as its head before any row is
    // there is nobody's wish.
    connect(horizontalHeader(), &QHeaderView::sectionResized, this, [this] {
        if (QApplication::mouseButtons() == Qt::NoButton)
            return;
        by_hand_ = true;
        remember();
    });
    connect(horizontalHeader(), &QHeaderView::sortIndicatorChanged, this, [this] { remember(); });
    connect(filter_, &QAbstractItemModel::rowsInserted, this, &RecordTable::size_columns);
    connect(this, &QTableView::doubleClicked, this, [this] {
        if (const Id id = selected(); id != 0)
            emit opened(id);
    });
}

void RecordTable::set_records(RecordModel* records, const QStringList& columns) {
    quiet_ = true;
    filter_->set_records(records);
    recall(columns);
    quiet_ = false;
}

Id RecordTable::selected() const {
    return currentIndex().isValid() && selectionModel()->isRowSelected(currentIndex().row())
               ? filter_->id_at(currentIndex().row())
               : 0;
}

void RecordTable::select(Id id) {
    quiet_ = true;
    const int row = id == 0 || filter_->records() == nullptr ? -1 : filter_->row_of(id);
    const QHeaderView* head = horizontalHeader();
    int at = 0;
    while (at + 1 < head->count() && head->isSectionHidden(head->logicalIndex(at)))
        ++at;
    const int column = std::max(head->logicalIndex(at), 0);
    if (row < 0)
        setCurrentIndex({});
    else if (selected() != id)
        setCurrentIndex(filter_->index(row, column));
    quiet_ = false;
}

std::vector<QStringList> RecordTable::rows(bool only_marked) const {
    const QHeaderView* head = horizontalHeader();
    std::vector<int> columns;
    for (int at = 0; at < head->count(); ++at)
        if (!head->isSectionHidden(head->logicalIndex(at)))
            columns.push_back(head->logicalIndex(at));
    std::vector<QStringList> out(1);
    for (const int column : columns)
        out.front() << filter_->headerData(column, Qt::Horizontal, Qt::DisplayRole).toString();
    for (int row = 0; row < filter_->rowCount(); ++row) {
        if (only_marked && !selectionModel()->isRowSelected(row))
            continue;
        QStringList& fields = out.emplace_back();
        for (const int column : columns)
            fields << filter_->index(row, column).data().toString();
    }
    return out;
}

// With tabs, as tables of other programs take it.
void RecordTable::copy() const {
    QStringList lines;
    for (const QStringList& fields : rows(true))
        lines << fields.join(QLatin1Char('\t'));
    QApplication::clipboard()->setText(lines.join(QLatin1Char('\n')) + QLatin1Char('\n'));
}

void RecordTable::keyPressEvent(QKeyEvent* event) {
    if (event->matches(QKeySequence::Copy)) {
        copy();
        return;
    }
    if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && selected() != 0) {
        emit opened(selected());
        return;
    }
    QTableView::keyPressEvent(event);
}

void RecordTable::contextMenuEvent(QContextMenuEvent* event) {
    show_menu(event->globalPos());
}

void RecordTable::show_menu(const QPoint& at) {
    QMenu menu(this);
    menu.addAction(tr("&Copy the marked rows"), this, &RecordTable::copy)->setShortcut(QKeySequence::Copy);
    menu.addAction(tr("&Export as CSV…"), this, &RecordTable::export_wanted);
    QMenu* columns = menu.addMenu(tr("C&olumns"));
    for (int column = 0; column < filter_->columnCount(); ++column) {
        QAction* shown = columns->addAction(filter_->headerData(column, Qt::Horizontal, Qt::DisplayRole).toString());
        shown->setCheckable(true);
        shown->setChecked(!isColumnHidden(column));
        connect(shown, &QAction::toggled, this, [this, column](bool show) {
            setColumnHidden(column, !show);
            remember();
        });
    }
    menu.exec(at);
}

// Row and selection change one after the other, in either order.
void RecordTable::currentChanged(const QModelIndex& current, const QModelIndex& previous) {
    QTableView::currentChanged(current, previous);
    tell_chosen();
}

void RecordTable::selectionChanged(const QItemSelection& selected, const QItemSelection& deselected) {
    QTableView::selectionChanged(selected, deselected);
    tell_chosen();
}

void RecordTable::tell_chosen() {
    const Id now = selected();
    if (now == told_)
        return;
    told_ = now;
    if (!quiet_ && now != 0)
        emit chosen(now);
}

void RecordTable::size_columns() {
    if (sized_ || filter_->rowCount() == 0)
        return;
    sized_ = true;
    spread_columns();
}

// As wide as they need, and as far apart as there is room for.
void RecordTable::spread_columns() {
    constexpr int farthest = 18; // a head on the right and the next one on the left do not touch
    constexpr int nearest = 8;
    constexpr int widest = 380;
    std::vector<int> shown;
    int needed = 0;
    quiet_ = true;
    for (int column = 0; column < filter_->columnCount(); ++column)
        if (!isColumnHidden(column)) {
            resizeColumnToContents(column);
            shown.push_back(column);
            needed += std::min(columnWidth(column), widest);
        }
    const int room = (viewport()->width() - needed) / std::max(1, static_cast<int>(shown.size()));
    const int apart = room < nearest ? farthest : std::min(room, farthest); // what has to be scrolled gets all of it
    for (const int column : shown)
        setColumnWidth(column, std::min(columnWidth(column), widest) + apart);
    quiet_ = false;
}

void RecordTable::resizeEvent(QResizeEvent* event) {
    QTableView::resizeEvent(event);
    if (sized_ && !by_hand_ && event->size().width() != event->oldSize().width())
        spread_columns();
}

QString RecordTable::settings_key() const {
    return QStringLiteral("columns/") + objectName();
}

void RecordTable::remember() const {
    if (!quiet_ && sized_ && filter_->records() != nullptr)
        QSettings().setValue(settings_key(), horizontalHeader()->saveState());
}

void RecordTable::recall(const QStringList& columns) {
    const RecordModel* records = filter_->records();
    sized_ = horizontalHeader()->restoreState(QSettings().value(settings_key()).toByteArray()) &&
             horizontalHeader()->count() == static_cast<int>(records->columns().size());
    by_hand_ = sized_;
    if (sized_)
        return;
    for (int column = 0; column < static_cast<int>(records->columns().size()); ++column) {
        const auto place = columns.indexOf(records->columns()[static_cast<std::size_t>(column)].key);
        setColumnHidden(column, !columns.isEmpty() && place < 0);
        if (place >= 0)
            horizontalHeader()->moveSection(horizontalHeader()->visualIndex(column), static_cast<int>(place));
    }
    horizontalHeader()->setSortIndicator(-1, Qt::AscendingOrder); // in the order of the records
    size_columns();
}

} // namespace ingot::app
