#include "app/rooms/stock_page.h"

#include "app/parts/choice_row.h"
#include "app/parts/panel.h"
#include "app/parts/record_table.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/models/stock_units_model.h"
#include "workshop/stock_wording.h"
#include "workshop/wording.h"

#include <QLabel>
#include <QVBoxLayout>

namespace ingot::app {

namespace {
enum WhichUnits { due_units, reserved_units, free_units, all_units };
} // namespace

StockPage::StockPage(Workshop& workshop, QWidget* parent) : Page(workshop, parent) {
    setObjectName(QStringLiteral("stock_page"));
    QAction* next = add_command(tr("&Next that is due"), QKeySequence(tr("Ctrl+PgDown")),
                                tr("The next unit that storage asks something of"), [this] { next_due(); });
    add_command(tr("&Go to it"), {}, tr("The station where the selected unit is worked on"), [this] {
        if (table_->selected() != 0)
            emit unit_wanted(table_->selected());
    });
    add_way_back();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* panel = new Panel(tr("Stock"), this);
    which_ = new ChoiceRow({tr("Due"), tr("Reserved"), tr("Free"), tr("All")}, panel);
    which_->setObjectName(QStringLiteral("stock_which"));
    which_->choose(all_units);
    panel->head()->addWidget(which_);
    panel->head()->addWidget(new PressButton(next, panel));
    auto* row = new QHBoxLayout;
    row->setSpacing(18);
    units_ = new Figure(tr("in the shop's keeping"), panel);
    reserved_ = new Figure(tr("reserved"), panel);
    due_ = new Figure(tr("storage asks now"), panel);
    for (Figure* figure : {units_, reserved_, due_})
        row->addWidget(figure);
    row->addStretch(1);
    panel->body()->addLayout(row);
    none_ =
        sentence(tr("Nothing is in stock yet. Units stand here as soon as they have a code: open a pack, or take in "
                    "loose units at Receive."),
                 panel);
    panel->body()->addWidget(none_);
    table_ = new RecordTable(QStringLiteral("stock_units"), panel);
    table_->setAccessibleName(tr("Units in stock"));
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    model_ = new StockUnitsModel(workshop, table_);
    table_->set_records(model_, {QStringLiteral("code"), QStringLiteral("duty"), QStringLiteral("home"),
                                 QStringLiteral("promised"), QStringLiteral("rest_voltage"), QStringLiteral("read"),
                                 QStringLiteral("care"), QStringLiteral("due_on")});
    table_->filter()->set_choice([this](Id id) {
        const StockLine* line = model_->line(id);
        if (line == nullptr)
            return false;
        switch (which_->chosen()) {
        case due_units:
            return due(*line, model_->read_at());
        case reserved_units:
            return line->build != 0;
        case free_units:
            return line->build == 0;
        default:
            return true;
        }
    });
    panel->body()->addWidget(table_, 1);
    outer->addWidget(panel, 1);
    connect(which_, &ChoiceRow::changed, this, [this] { table_->filter()->choose_again(); });
    connect(table_, &RecordTable::chosen, this, [this] { emit evidence_changed(); });
    connect(&workshop, &Workshop::changed, this, [this](const ChangeSet& changes) {
        stale_ |= changes.everything || changes.library || changes.rules || !changes.units.empty() ||
                  !changes.assemblies.empty();
    });
}

void StockPage::refresh() {
    if (std::exchange(stale_, false)) {
        const Id before = table_->selected();
        model_->read_again();
        table_->filter()->choose_again();
        table_->select(before);
    }
    const StockCount count = count_of(model_->lines(), model_->read_at());
    units_->set(tr("%n units", nullptr, count.units));
    reserved_->set(QString::number(count.reserved));
    due_->set(QString::number(count.due));
    none_->setVisible(count.units == 0);
    table_->setVisible(count.units > 0);
    emit evidence_changed();
}

void StockPage::next_due() {
    which_->choose(due_units);
    table_->filter()->choose_again();
    const int row = table_->filter()->row_of(table_->selected());
    const int rows = table_->filter()->rowCount();
    if (rows == 0) {
        emit told(tr("Storage asks nothing now."), false);
        return;
    }
    show_unit(table_->filter()->id_at((row + 1) % rows));
}

bool StockPage::show_unit(Id unit) {
    if (model_->line(unit) == nullptr)
        return false;
    if (table_->filter()->row_of(unit) < 0) { // the choice above hides it
        which_->choose(all_units);
        table_->filter()->choose_again();
    }
    table_->select(unit);
    emit evidence_changed();
    emit hint_changed();
    return true;
}

QString StockPage::scan_hint() const {
    const UnitState* unit = workshop().unit(table_->selected());
    return unit == nullptr ? tr("a unit's label")
                           : tr("volts of %1, or a label").arg(QString::fromStdString(unit->code()));
}

bool StockPage::take_line(const QString& line) {
    const auto volts = figures::typed(line);
    const Id chosen = table_->selected();
    if (volts && chosen != 0 && (line.contains(QLatin1Char('.')) || line.contains(QLatin1Char(',')))) {
        const Measurement reading = RestService::reading({}, *volts, figures::last_digit(line));
        if (fine(workshop().test().record_reading(chosen, reading)))
            emit acknowledged(QStringLiteral("unit %1 voltage %2").arg(chosen).arg(*volts, 0, 'f', 4));
        return true;
    }
    const auto unit = workshop().find_unit(line.toStdString());
    return unit.ok() && show_unit(unit.value());
}

EvidenceContent StockPage::evidence() const {
    EvidenceContent content;
    const StockLine* line = model_->line(table_->selected());
    if (line == nullptr) {
        content.subject = tr("Stock");
        content.line = tr("What a chemistry's record says of storage decides what is asked: a look after so many days, "
                          "more charge, or less.");
        return content;
    }
    content = unit_evidence(workshop(), line->unit);
    content.notes.prepend(wording::care_reason(workshop(), *line));
    if (const Assembly* build = workshop().build_of(line->build))
        content.notes << tr("Reserved for %1.").arg(QString::fromStdString(build->label));
    content.caution = "rest";
    return content;
}

} // namespace ingot::app
