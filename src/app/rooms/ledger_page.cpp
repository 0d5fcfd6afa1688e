#include "app/rooms/ledger_page.h"

#include "app/parts/choice_row.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/record_table.h"
#include "app/print/record_sheet.h"
#include "app/theme/theme.h"
#include "exchange/csv.h"
#include "exchange/text_file.h"
#include "workshop/wording.h"

#include <QFileDialog>
#include <QLineEdit>
#include <QStackedWidget>
#include <QTimer>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

constexpr int key_pause_ms = 150; // a word is typed before it is searched

QString list_name(LedgerPage::List list) {
    switch (list) {
    case LedgerPage::List::packs:
        return LedgerPage::tr("Packs");
    case LedgerPage::List::units:
        return LedgerPage::tr("Units");
    case LedgerPage::List::measurements:
        return LedgerPage::tr("Measurements");
    case LedgerPage::List::runs:
        return LedgerPage::tr("Runs");
    case LedgerPage::List::builds:
        return LedgerPage::tr("Builds");
    case LedgerPage::List::events:
        return LedgerPage::tr("Events");
    }
    return {};
}

QString text(const std::string& s) {
    return QString::fromStdString(s);
}

} // namespace

LedgerPage::LedgerPage(Workshop& workshop, QWidget* parent) : Page(workshop, parent) {
    history_ =
        add_command(tr("&History of the selected"), QKeySequence(tr("Ctrl+Return")),
                    tr("Everything that was said of it, measured on it, done with it"), [this] { open_selected(); });
    back_ = add_command(tr("&Back to the list"), QKeySequence(tr("Alt+Left")), tr("From a history to the list"),
                        [this] { step_back(); });
    work_on_ = add_command(tr("&Go where it is worked on"), QKeySequence(tr("Ctrl+J")),
                           tr("The selected pack or unit at its station"), [this] { work_on_selected(); });
    add_command(tr("&Take the pack back in"), {}, tr("A refused or returned pack waits at Receive again"),
                [this] { take_back(); });
    add_command(tr("What the pack turned out to be…"), {},
                tr("The true cause in the selected pack, or in the selected unit's, once its units are tested"),
                [this] {
                    const HistorySubject subject = selected_subject();
                    const UnitState* unit = this->workshop().unit(subject.unit);
                    ask_true_cause(unit != nullptr ? unit->record.pack : subject.assembly);
                });
    add_command(tr("Give the run to another &unit…"), {}, tr("It was made on another unit than was said"),
                [this] { give_run(); });
    add_command(tr("&Export the list as CSV…"), {}, tr("What is shown, with the columns that are shown"),
                [this] { export_csv(); });
    add_command(tr("&Print the list as PDF…"), QKeySequence(tr("Ctrl+P")), tr("What is shown, on A4 pages"),
                [this] { print(); });
    pause_ = new QTimer(this);
    pause_->setSingleShot(true);
    pause_->setInterval(key_pause_ms);
    connect(pause_, &QTimer::timeout, this, &LedgerPage::search);
    pages_ = new QStackedWidget(this);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(pages_);
    build_list_page();
    build_history_page();
    show_list(List::packs);
}

void LedgerPage::build_list_page() {
    auto* panel = new Panel(tr("Ledger"), pages_);
    QStringList names;
    for (int i = 0; i < list_count; ++i)
        names << list_name(static_cast<List>(i));
    kinds_ = new ChoiceRow(names, panel);
    kinds_->setObjectName(QStringLiteral("ledger_lists"));
    connect(kinds_, &ChoiceRow::changed, this, [this](int index) { show_list(static_cast<List>(index)); });
    panel->body()->addWidget(kinds_);
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    search_ = new QLineEdit(panel);
    search_->setObjectName(QStringLiteral("ledger_search"));
    search_->setPlaceholderText(tr("Search: label, model, state, tray … every word must be found"));
    search_->setAccessibleName(tr("Search the list"));
    search_->setClearButtonEnabled(true);
    connect(search_, &QLineEdit::textChanged, this, [this] { pause_->start(); });
    row->addWidget(search_, 1);
    count_ = caption({}, panel);
    count_->setObjectName(QStringLiteral("ledger_count"));
    row->addWidget(count_);
    panel->body()->addLayout(row);
    tables_ = new QStackedWidget(panel);
    panel->body()->addWidget(tables_, 1);
    auto* foot = new QHBoxLayout;
    foot->addWidget(new PressButton(work_on_, panel));
    foot->addStretch(1);
    foot->addWidget(new PressButton(history_, panel, true));
    panel->body()->addLayout(foot);
    pages_->addWidget(panel);
}

void LedgerPage::build_history_page() {
    history_panel_ = new Panel(tr("History"), pages_);
    history_panel_->head()->addWidget(new PressButton(back_, history_panel_));
    history_table_ = new RecordTable(QStringLiteral("ledger_history"), history_panel_);
    history_table_->setAccessibleName(tr("History"));
    history_model_ = new HistoryModel(workshop(), history_table_);
    history_table_->set_records(history_model_);
    connect(history_table_, &RecordTable::export_wanted, this, &LedgerPage::export_csv);
    history_panel_->body()->addWidget(history_table_, 1);
    pages_->addWidget(history_panel_);
}

RecordModel* LedgerPage::make_model(List list, QObject* parent) {
    switch (list) {
    case List::packs:
        return new PacksModel(workshop(), parent);
    case List::units:
        return new UnitsModel(workshop(), parent);
    case List::measurements:
        return measurements_ = new MeasurementsModel(workshop(), parent);
    case List::runs:
        return runs_ = new RunsModel(workshop(), parent);
    case List::builds:
        return new BuildsModel(workshop(), parent);
    case List::events:
        return events_ = new EventsModel(workshop(), parent);
    }
    return nullptr;
}

// A list is made when it is first looked at.
RecordTable* LedgerPage::make_table(List list) {
    auto* table = new RecordTable(QStringLiteral("ledger_%1").arg(static_cast<int>(list)), tables_);
    table->setAccessibleName(list_name(list));
    RecordModel* model = make_model(list, table);
    static const QStringList of_units{
        QStringLiteral("code"),     QStringLiteral("model"),         QStringLiteral("duty"), QStringLiteral("home"),
        QStringLiteral("capacity"), QStringLiteral("dc_resistance"), QStringLiteral("leak")};
    static const QStringList of_measurements{QStringLiteral("taken"),     QStringLiteral("subject"),
                                             QStringLiteral("quantity"),  QStringLiteral("value"),
                                             QStringLiteral("condition"), QStringLiteral("instrument")};
    table->set_records(model, list == List::units          ? of_units
                              : list == List::measurements ? of_measurements
                                                           : QStringList());
    // Half a list cannot be sorted by anything but the order in which it is read.
    table->setSortingEnabled(list == List::packs || list == List::units || list == List::builds);
    connect(table, &RecordTable::chosen, this, [this] {
        history_->setEnabled(true);
        emit evidence_changed();
    });
    connect(table, &RecordTable::opened, this, [this] { open_selected(); });
    connect(table, &RecordTable::export_wanted, this, &LedgerPage::export_csv);
    for (const auto signal : {&QAbstractItemModel::rowsInserted, &QAbstractItemModel::rowsRemoved})
        connect(table->filter(), signal, this, &LedgerPage::count);
    connect(model, &RecordModel::slice_read, this, &LedgerPage::count);
    tables_->addWidget(table);
    return table;
}

RecordTable* LedgerPage::table() const {
    return in_history() ? history_table_ : made_[static_cast<std::size_t>(list_)];
}

bool LedgerPage::in_history() const {
    return pages_->currentWidget() == history_panel_;
}

void LedgerPage::show_list(List list) {
    set_live(false);
    list_ = list;
    RecordTable*& made = made_[static_cast<std::size_t>(list)];
    if (made == nullptr)
        made = make_table(list);
    kinds_->choose(static_cast<int>(list));
    tables_->setCurrentWidget(made);
    pages_->setCurrentIndex(0);
    back_->setEnabled(false);
    search();
    set_live(isVisible());
    count();
    emit evidence_changed();
    emit hint_changed();
}

void LedgerPage::search() {
    pause_->stop();
    const QString words = search_->text();
    switch (list_) {
    case List::measurements:
        measurements_->set_words(words);
        break;
    case List::runs:
        runs_->set_words(words);
        break;
    case List::events:
        events_->set_words(words);
        break;
    default:
        made_[static_cast<std::size_t>(list_)]->filter()->set_words(words);
    }
    count();
}

void LedgerPage::count() {
    const RecordTable* shown = made_[static_cast<std::size_t>(list_)];
    const int rows = shown->filter()->rowCount();
    QString words;
    if (sliced_searching())
        words = tr("searching … %1 so far").arg(rows);
    else if (rows == 0)
        words = tr("nothing found");
    else if (list_ == List::packs || list_ == List::units || list_ == List::builds)
        words = tr("%1 of %2").arg(rows).arg(shown->records()->rowCount());
    else
        words = shown->filter()->canFetchMore({}) ? tr("the newest %1; more as you scroll").arg(rows)
                                                  : tr("%1 found").arg(rows);
    count_->setText(words);
    history_->setEnabled(!in_history() && shown->selected() != 0);
}

bool LedgerPage::sliced_searching() const {
    return (list_ == List::measurements && measurements_->searching()) || (list_ == List::runs && runs_->searching()) ||
           (list_ == List::events && events_->searching());
}

void LedgerPage::set_live(bool live) {
    if (measurements_ != nullptr)
        measurements_->set_live(live && list_ == List::measurements);
    if (runs_ != nullptr)
        runs_->set_live(live && list_ == List::runs);
    if (events_ != nullptr)
        events_->set_live(live && list_ == List::events);
}

void LedgerPage::showEvent(QShowEvent* event) {
    Page::showEvent(event);
    set_live(true);
}

void LedgerPage::hideEvent(QHideEvent* event) {
    Page::hideEvent(event);
    set_live(false);
}

// The lists follow the workshop by themselves.
void LedgerPage::refresh() {
    count();
}

HistorySubject LedgerPage::subject_of(List list, Id id) const {
    switch (list) {
    case List::packs:
    case List::builds:
        return {0, id};
    case List::units:
        return {id, 0};
    case List::measurements:
        if (const Measurement* m = measurements_->record(id))
            return {m->subject.unit, m->subject.assembly};
        break;
    case List::runs:
        if (const Run* run = runs_->record(id))
            return {run->unit, run->assembly};
        break;
    case List::events:
        if (const Event* event = events_->record(id))
            return workshop().ledger().named(event->subject);
        break;
    }
    return {};
}

void LedgerPage::open_selected() {
    if (in_history() || table()->selected() == 0) {
        emit told(tr("Select a row first: its history is opened."), true);
        return;
    }
    if (const HistorySubject subject = selected_subject(); !subject.nothing())
        show_history(subject);
    else
        emit told(tr("This is about no pack and no unit."), true);
}

void LedgerPage::show_history(const HistorySubject& subject) {
    history_model_->show_of(subject);
    history_panel_->set_title(tr("History of %1").arg(history_model_->title()));
    pages_->setCurrentWidget(history_panel_);
    back_->setEnabled(true);
    history_->setEnabled(false);
    history_table_->setFocus();
    emit evidence_changed();
    emit hint_changed();
}

bool LedgerPage::step_back() {
    if (!in_history()) {
        if (search_->text().isEmpty())
            return false;
        search_->clear();
        search();
        return true;
    }
    pages_->setCurrentIndex(0);
    back_->setEnabled(false);
    count();
    table()->setFocus();
    emit evidence_changed();
    emit hint_changed();
    return true;
}

HistorySubject LedgerPage::selected_subject() const {
    if (in_history())
        return history_model_->subject();
    const Id id = table()->selected();
    return id == 0 ? HistorySubject{} : subject_of(list_, id);
}

void LedgerPage::work_on_selected() {
    const HistorySubject subject = selected_subject();
    if (subject.unit != 0)
        emit unit_wanted(subject.unit);
    else if (subject.assembly != 0)
        emit pack_wanted(subject.assembly);
    else
        emit told(tr("Select a pack or a unit first."), true);
}

void LedgerPage::take_back() {
    const HistorySubject subject = selected_subject();
    if (workshop().pack(subject.assembly) == nullptr) {
        emit told(tr("Select a pack first."), true);
        return;
    }
    if (send_pack(subject.assembly, AssemblyState::received, tr("take %1 back in")))
        emit told(tr("%1 waits at Receive.").arg(text(workshop().pack(subject.assembly)->label)), false);
}

void LedgerPage::give_run() {
    const Run* run = list_ == List::runs && !in_history() ? runs_->record(table()->selected()) : nullptr;
    const UnitState* from = run != nullptr ? workshop().unit(run->unit) : nullptr;
    if (from == nullptr) {
        emit told(tr("Select a run in the list of runs first."), true);
        return;
    }
    const Id id = run->id;
    const Id before = run->unit;
    const auto found = [this](const QString& typed) { return workshop().find_unit(typed.toStdString()); };
    const auto typed =
        ask_line(this, tr("Give the run to another unit"),
                 tr("Code of the unit that it was made on. Its readings stand there with their times; %1's are struck "
                    "out.")
                     .arg(text(from->code())),
                 {}, [found](const QString& words) {
                     const auto unit = found(words);
                     return unit ? QString() : wording::problem(unit.problem());
                 });
    if (!typed)
        return;
    const Id to = found(*typed).value();
    const auto give = [this, id](Id unit) { return [this, id, unit] { return workshop().test().give_run(id, unit); }; };
    const QString code = text(workshop().unit(to)->code());
    if (do_step(tr("give the run to %1").arg(code), give(to), give(before)))
        emit told(tr("The run stands at %1 now, with what it tells.").arg(code), false);
}

// A label opens that thing's history; other words are searched for.
bool LedgerPage::take_line(const QString& line) {
    if (line.isEmpty()) {
        open_selected();
        return true;
    }
    if (const HistorySubject subject = workshop().ledger().named(line.toStdString()); !subject.nothing()) {
        show_history(subject);
        return true;
    }
    if (looks_like_unit_code(line.toStdString()))
        return false;
    if (in_history())
        step_back();
    search_->setText(line);
    search();
    return true;
}

bool LedgerPage::show_unit(Id unit) {
    show_history({unit, 0});
    return true;
}

QString LedgerPage::scan_hint() const {
    return in_history() ? tr("a label opens its history") : tr("a label, or words to search");
}

EvidenceContent LedgerPage::evidence() const {
    const HistorySubject subject = selected_subject();
    EvidenceContent content;
    if (subject.unit != 0) {
        content = unit_evidence(workshop(), subject.unit);
        add_causes_by_units(content, subject.unit);
        return content;
    }
    const Assembly* assembly = workshop().assembly(subject.assembly);
    if (assembly == nullptr)
        return content;
    content.subject = text(assembly->label);
    content.verdict = wording::assembly_state(assembly->state);
    const Chemistry* chemistry = workshop().library().chemistry(assembly->chemistry);
    content.line = tr("%1, %2").arg(text(chemistry != nullptr ? chemistry->name : assembly->chemistry),
                                    wording::layout(assembly->layout));
    if (workshop().receive().pack_quarantined(assembly->id)) {
        content.mark = Duty::quarantine;
        content.caution = "quarantine";
    }
    if (!assembly->created_at.empty())
        content.notes
            << (assembly->came_in() ? tr("Received %1.") : tr("Planned %1.")).arg(text(assembly->created_at).left(10));
    if (assembly->came_in())
        add_particulars(content, assembly->id);
    return content;
}

void LedgerPage::write_csv(const QString& path) {
    std::string csv;
    for (const QStringList& fields : table()->rows(false)) {
        std::vector<std::string> line;
        for (const QString& field : fields)
            line.push_back(field.toStdString());
        csv += exchange::csv_line(line);
    }
    if (fine(exchange::write_text(path.toStdString(), csv)))
        emit told(tr("%n rows written to %1.", nullptr, table()->filter()->rowCount()).arg(path), false);
}

void LedgerPage::export_csv() {
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Export the list"), list_name(list_).toLower() + QStringLiteral(".csv"), tr("CSV (*.csv)"));
    if (!path.isEmpty())
        write_csv(path);
}

void LedgerPage::print() {
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Print the list"), list_name(list_).toLower() + QStringLiteral(".pdf"), tr("PDF (*.pdf)"));
    if (path.isEmpty())
        return;
    const QString heading = in_history() ? tr("History of %1").arg(history_model_->title()) : list_name(list_);
    if (write_record_sheet(path, heading, text(workshop().name()), table()->rows(false)))
        emit told(tr("%n rows written to %1.", nullptr, table()->filter()->rowCount()).arg(path), false);
    else
        emit told(tr("%1 could not be written. Choose another place.").arg(path), true);
}

void LedgerPage::pose() {
    show_list(List::units);
    search_->setText(QString());
    if (table()->filter()->rowCount() > 0)
        table()->selectRow(0);
}

} // namespace ingot::app
