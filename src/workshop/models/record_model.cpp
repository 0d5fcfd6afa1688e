#include "workshop/models/record_model.h"

namespace ingot {

RecordModel::RecordModel(std::vector<RecordColumn> columns, QObject* parent)
    : QAbstractTableModel(parent), columns_(std::move(columns)) {}

int RecordModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int RecordModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(columns_.size());
}

QVariant RecordModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    const Id id = id_at(index.row());
    switch (role) {
    case Qt::DisplayRole:
        return field(id, index.column()).text;
    case sort_role: {
        const RecordField shown = field(id, index.column());
        return shown.sort.isValid() || columns_[static_cast<std::size_t>(index.column())].number ? shown.sort
                                                                                                 : QVariant(shown.text);
    }
    case id_role:
        return QVariant::fromValue<qlonglong>(id);
    case struck_role:
        return struck(id);
    case Qt::ToolTipRole: {
        const QString said = tip(id);
        return said.isEmpty() ? field(id, index.column()).text : said; // what a narrow column cuts off
    }
    case Qt::TextAlignmentRole:
        return QVariant::fromValue(
            Qt::Alignment((columns_[static_cast<std::size_t>(index.column())].number ? Qt::AlignRight : Qt::AlignLeft) |
                          Qt::AlignVCenter));
    default:
        return {};
    }
}

QVariant RecordModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || section < 0 || section >= static_cast<int>(columns_.size()))
        return {};
    const RecordColumn& column = columns_[static_cast<std::size_t>(section)];
    if (role == Qt::DisplayRole)
        return column.title;
    if (role == Qt::TextAlignmentRole)
        return QVariant::fromValue(Qt::Alignment((column.number ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter));
    return {};
}

int RecordModel::row_of(Id id) const {
    const auto at = row_of_.find(id);
    return at == row_of_.end() ? -1 : at->second;
}

const QString& RecordModel::words_of(int row) const {
    QString& words = words_[id_at(row)];
    if (words.isNull()) {
        QStringList all;
        for (int column = 0; column < static_cast<int>(columns_.size()); ++column)
            if (searched(column))
                all << field(id_at(row), column).text;
        words = all.join(QLatin1Char('\n')).toLower();
    }
    return words;
}

QString RecordModel::tip(Id /*id*/) const {
    return {};
}

bool RecordModel::struck(Id /*id*/) const {
    return false;
}

void RecordModel::number_from(std::size_t row) {
    for (; row < rows_.size(); ++row)
        row_of_[rows_[row]] = static_cast<int>(row);
}

void RecordModel::show_rows(std::vector<Id> rows) {
    const std::size_t shorter = std::min(rows.size(), rows_.size());
    std::size_t same = 0; // at the front
    while (same < shorter && rows[same] == rows_[same])
        ++same;
    std::size_t tail = 0; // alike at the end
    while (tail < shorter - same && rows[rows.size() - 1 - tail] == rows_[rows_.size() - 1 - tail])
        ++tail;
    const std::size_t gone = rows_.size() - same - tail;
    const std::size_t come = rows.size() - same - tail;
    const auto at = [](std::size_t row) { return static_cast<std::ptrdiff_t>(row); };
    if (gone > 0) {
        beginRemoveRows({}, static_cast<int>(same), static_cast<int>(same + gone - 1));
        for (std::size_t row = same; row < same + gone; ++row) {
            row_of_.erase(rows_[row]);
            words_.erase(rows_[row]);
        }
        rows_.erase(rows_.begin() + at(same), rows_.begin() + at(same + gone));
        number_from(same);
        endRemoveRows();
    }
    if (come > 0) {
        beginInsertRows({}, static_cast<int>(same), static_cast<int>(same + come - 1));
        rows_.insert(rows_.begin() + at(same), rows.begin() + at(same), rows.begin() + at(same + come));
        number_from(same);
        endInsertRows();
    }
}

void RecordModel::add_rows(const std::vector<Id>& more) {
    if (more.empty())
        return;
    const std::size_t from = rows_.size();
    beginInsertRows({}, static_cast<int>(from), static_cast<int>(from + more.size() - 1));
    rows_.insert(rows_.end(), more.begin(), more.end());
    number_from(from);
    endInsertRows();
}

void RecordModel::touch(const std::set<Id>& records) {
    for (const Id id : records)
        if (const int row = row_of(id); row >= 0) {
            words_.erase(id);
            emit dataChanged(index(row, 0), index(row, static_cast<int>(columns_.size()) - 1));
        }
}

void RecordModel::touch_all() {
    words_.clear();
    if (!rows_.empty())
        emit dataChanged(index(0, 0), index(static_cast<int>(rows_.size()) - 1, static_cast<int>(columns_.size()) - 1));
}

RecordFilter::RecordFilter(QObject* parent) : QSortFilterProxyModel(parent) {
    setSortRole(RecordModel::sort_role);
    setDynamicSortFilter(true);
}

void RecordFilter::set_records(RecordModel* records) {
    records_ = records;
    setSourceModel(records);
}

void RecordFilter::set_words(const QString& words) {
    words_ = words.toLower().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    invalidateFilter();
}

void RecordFilter::set_choice(std::function<bool(Id)> choice) {
    choice_ = std::move(choice);
    invalidateFilter();
}

Id RecordFilter::id_at(int row) const {
    return records_->id_at(mapToSource(index(row, 0)).row());
}

int RecordFilter::row_of(Id id) const {
    const int row = records_->row_of(id);
    return row < 0 ? -1 : mapFromSource(records_->index(row, 0)).row();
}

bool RecordFilter::filterAcceptsRow(int row, const QModelIndex& /*parent*/) const {
    if (records_ == nullptr || (choice_ && !choice_(records_->id_at(row))))
        return false;
    return std::all_of(words_.begin(), words_.end(),
                       [&](const QString& word) { return records_->words_of(row).contains(word); });
}

// What is not known comes last in rising order.
bool RecordFilter::lessThan(const QModelIndex& left, const QModelIndex& right) const {
    const QVariant a = left.data(RecordModel::sort_role);
    const QVariant b = right.data(RecordModel::sort_role);
    if (!a.isValid() || !b.isValid())
        return a.isValid();
    if (a.userType() == QMetaType::QString)
        return QString::localeAwareCompare(a.toString(), b.toString()) < 0;
    return a.toDouble() < b.toDouble();
}

} // namespace ingot
