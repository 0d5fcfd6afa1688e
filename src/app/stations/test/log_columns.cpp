// What the columns of a log are, said by the person where their names do not say it.
#include "app/parts/log_plot.h"
#include "app/parts/panel.h"
#include "app/parts/record_table.h"
#include "app/stations/test/log_import.h"
#include "app/theme/theme.h"

#include <QComboBox>
#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>

#include <array>

namespace ingot::app {

namespace {

using exchange::LogQuantity;

struct ColumnKind {
    const char* words;
    LogQuantity quantity;
    const char* unit;
};
// In the order of the choice, after "left aside".
constexpr std::array<ColumnKind, 11> column_kinds{{
    {QT_TRANSLATE_NOOP("ingot::app::LogImport", "time, s"), LogQuantity::time, "s"},
    {QT_TRANSLATE_NOOP("ingot::app::LogImport", "time, ms"), LogQuantity::time, "ms"},
    {QT_TRANSLATE_NOOP("ingot::app::LogImport", "time, min"), LogQuantity::time, "min"},
    {QT_TRANSLATE_NOOP("ingot::app::LogImport", "time, h"), LogQuantity::time, "h"},
    {QT_TRANSLATE_NOOP("ingot::app::LogImport", "voltage, V"), LogQuantity::voltage, "V"},
    {QT_TRANSLATE_NOOP("ingot::app::LogImport", "voltage, mV"), LogQuantity::voltage, "mV"},
    {QT_TRANSLATE_NOOP("ingot::app::LogImport", "current, A"), LogQuantity::current, "A"},
    {QT_TRANSLATE_NOOP("ingot::app::LogImport", "current, mA"), LogQuantity::current, "mA"},
    {QT_TRANSLATE_NOOP("ingot::app::LogImport", "temperature, °C"), LogQuantity::temperature, "degC"},
    {QT_TRANSLATE_NOOP("ingot::app::LogImport", "step"), LogQuantity::step, ""},
    {QT_TRANSLATE_NOOP("ingot::app::LogImport", "channel"), LogQuantity::channel, ""},
}};

// A first guess by words that are in the name; index into column_kinds, -1: left aside.
int guess(const QString& header) {
    const QString name = header.toLower();
    const auto has = [&](const char* word) { return name.contains(QLatin1String(word)); };
    const bool milli = has("[m") || has("(m") || has("/ m") || has("_m");
    if (has("time") || has("elapsed"))
        return has("min") ? 2 : has("ms") ? 1 : has("(h") || has("[h") ? 3 : 0;
    if (has("volt"))
        return milli ? 5 : 4;
    if (has("curr") || has("amp"))
        return milli ? 7 : 6;
    if (has("temp"))
        return 8;
    if (has("step"))
        return 9;
    return has("chan") || has("slot") || has("bay") ? 10 : -1;
}

} // namespace

void LogImport::add_columns(QVBoxLayout* layout) {
    columns_ = new QWidget(this);
    auto* inside = new QVBoxLayout(columns_);
    inside->setContentsMargins(0, 0, 0, 0);
    column_rows_ = new QTableWidget(0, 3, columns_);
    column_rows_->setObjectName(QStringLiteral("log_column_rows"));
    column_rows_->setAccessibleName(tr("What each column is"));
    column_rows_->setHorizontalHeaderLabels({tr("column"), tr("first rows"), tr("is")});
    column_rows_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    dress_table(*column_rows_);
    column_rows_->verticalHeader()->setDefaultSectionSize(scaled(30)); // of a choice
    column_rows_->setSelectionMode(QAbstractItemView::NoSelection);
    column_rows_->setFocusPolicy(Qt::NoFocus); // the choices in it take it
    column_rows_->setMinimumHeight(scaled(150));
    auto* use = new PressButton(tr("Read with these columns"), columns_, true);
    use->setObjectName(QStringLiteral("read_with_columns"));
    auto* foot = new QHBoxLayout;
    foot->addStretch(1);
    foot->addWidget(use);
    inside->addWidget(column_rows_, 1);
    inside->addLayout(foot);
    layout->addWidget(columns_, 4);
    connect(use, &PressButton::clicked, this, &LogImport::say_columns);
}

void LogImport::ask_columns() {
    if (!head_.header.empty())
        show_columns();
}

void LogImport::show_columns() {
    plot_->hide();
    steps_->hide();
    outcome_->clear();
    notes_->clear();
    words_->setText(
        tr("<b>%1</b>: say what its columns are. Time, voltage and current are needed; several channels are "
           "parted. It is kept for every file of these columns.")
            .arg(file_.toHtmlEscaped()));
    column_rows_->setRowCount(static_cast<int>(head_.header.size()));
    for (int i = 0; i < column_rows_->rowCount(); ++i) {
        const auto at = static_cast<std::size_t>(i);
        const QString header = QString::fromStdString(head_.header[at]);
        QStringList first;
        for (const auto& row : head_.rows)
            if (at < row.size())
                first << QString::fromStdString(row[at]);
        column_rows_->setItem(i, 0, new QTableWidgetItem(header));
        column_rows_->setItem(i, 1, new QTableWidgetItem(first.join(QStringLiteral(";  "))));
        auto* choice = new QComboBox(column_rows_);
        choice->setObjectName(QStringLiteral("log_column_%1").arg(i));
        choice->setAccessibleName(tr("%1 is").arg(header));
        choice->addItem(tr("left aside"));
        for (const ColumnKind& kind : column_kinds)
            choice->addItem(tr(kind.words));
        choice->setCurrentIndex(guess(header) + 1);
        column_rows_->setCellWidget(i, 2, choice);
    }
    columns_->show();
}

void LogImport::say_columns() {
    exchange::LogShape shape;
    for (int i = 0; i < column_rows_->rowCount(); ++i) {
        const auto* choice = qobject_cast<QComboBox*>(column_rows_->cellWidget(i, 2));
        if (choice == nullptr || choice->currentIndex() < 1)
            continue;
        const ColumnKind& kind = column_kinds.at(static_cast<std::size_t>(choice->currentIndex() - 1));
        shape.columns.push_back({head_.header[static_cast<std::size_t>(i)], kind.quantity, kind.unit});
    }
    const std::vector<std::string> header = head_.header;
    emit columns_said(header, shape);
}

} // namespace ingot::app
