#include "app/stations/test/test_station.h"

#include "app/parts/choice_row.h"
#include "app/parts/pack_forms.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/record_table.h"
#include "app/stations/test/bench_view.h"
#include "app/stations/test/log_import.h"
#include "app/stations/test/log_queue.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/models/ledger_models.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QCryptographicHash>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QHeaderView>
#include <QLineEdit>
#include <QRegularExpression>
#include <QRegularExpressionValidator>
#include <QScrollArea>
#include <QSettings>
#include <QTableWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <tuple>

namespace ingot::app {

namespace {

struct QuantityChoice {
    Quantity quantity;
    const char* label;
    double factor; // shown to stored
};
constexpr std::array<QuantityChoice, 7> choices{
    {{Quantity::voltage, QT_TRANSLATE_NOOP("ingot::app::TestStation", "V"), 1},
     {Quantity::dc_resistance, QT_TRANSLATE_NOOP("ingot::app::TestStation", "DC m\xCE\xA9"), 1e-3},
     {Quantity::ac_resistance, QT_TRANSLATE_NOOP("ingot::app::TestStation", "AC m\xCE\xA9"), 1e-3},
     {Quantity::capacity, QT_TRANSLATE_NOOP("ingot::app::TestStation", "Ah"), 1},
     {Quantity::self_discharge, QT_TRANSLATE_NOOP("ingot::app::TestStation", "mAh/day"), 1e-3},
     {Quantity::temperature,
      QT_TRANSLATE_NOOP("ingot::app::TestStation", "\xC2\xB0"
                                                   "C"),
      1},
     {Quantity::resistance, QT_TRANSLATE_NOOP("ingot::app::TestStation", "m\xCE\xA9, method not said"), 1e-3}}};

} // namespace

TestStation::TestStation(Workshop& workshop, QWidget* parent) : StationView(workshop, Station::test, parent) {
    logs_ = new LogQueue(this);
    add_commands();
    auto* unit_page = new QWidget(this);
    auto* outer = new QVBoxLayout(unit_page);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    build_head(outer);
    auto* lower = new QHBoxLayout;
    lower->setSpacing(8);
    build_readings(lower);
    build_log(lower);
    outer->addLayout(lower, 1);

    auto* around = new QScrollArea(this); // with a tester on the bench there is less room for it
    around->setWidget(unit_page);
    around->setWidgetResizable(true);
    around->setFrameShape(QFrame::NoFrame);
    around->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    around->setMinimumHeight(150);
    bench_ = new BenchView(workshop, around, this);
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->addWidget(bench_);
    connect_parts();
}

void TestStation::add_commands() {
    import_ = add_command(tr("&Import logs…"), QKeySequence(tr("Ctrl+I")),
                          tr("Read testers' logs (CSV), one after the other; one named after a unit is that unit's"),
                          [this] { ask_file(); });
    take_log_ = add_command(tr("&Record the log"), QKeySequence(tr("Ctrl+S")),
                            tr("Record the log and its capacity for this unit"), [this] { take_log(); });
    put_away_ = add_command(tr("&Discard the log"), {}, tr("Leave the log; nothing is recorded"), [this] {
        if (log_->asking() || !log_->next_run())
            log_->clear();
        refresh();
        next_log();
    });
    add_command(tr("Watch a folder for logs…"), {},
                tr("Logs that a tester leaves there are read here as they arrive; again ends it"),
                [this] { watch_folder(); });
    strike_ = add_command(tr("&Strike out a reading…"), {}, tr("Strike the selected reading out, with a reason"),
                          [this] { strike(); });
    add_command(tr("Load test by hand…"), {},
                tr("Volts at a few currents, read off: resistance, and what it sags at its rating"),
                [this] { type_load_test(); });
    finding_ = add_command(tr("Note an inspection &finding…"), QKeySequence(tr("F6")),
                           tr("What is seen on this unit, with its consequence"), [this] { note_finding(); });
    add_command(tr("Particulars of this unit…"), {}, tr("Its age, its mass, a note"), [this] {
        const UnitState* unit = workshop().unit(unit_);
        if (unit == nullptr) {
            emit told(tr("Scan a unit first."), true);
            return;
        }
        const Id id = unit_;
        if (const auto answer = ask_unit_particulars(this, workshop().receive().particulars(0, id)))
            if (fine(workshop().receive().note_particulars(0, id, *answer)))
                emit evidence_changed();
    });
    add_command(tr("Instrument held against another…"), {}, tr("Both read the same: what each showed, and when it was"),
                [this] { note_check(); });
    home_ = add_command(tr("Give it a &home…"), QKeySequence(tr("F7")), tr("Tray and well of this unit"),
                        [this] { move_home(); });
    add_command(tr("&Next unit to test"), QKeySequence(tr("Ctrl+PgDown")), tr("The next unit without a capacity"),
                [this] { next_waiting(); });
    for (int i = 0; i < static_cast<int>(choices.size()); ++i)
        add_command(tr("Read %1").arg(wording::quantity(choices[static_cast<std::size_t>(i)].quantity)),
                    QKeySequence(QStringLiteral("Alt+%1").arg(i + 1)), tr("The next number is this quantity"),
                    [this, i] {
                        quantity_->choose(i);
                        show_conditions();
                        emit hint_changed();
                    });
}

void TestStation::build_head(QBoxLayout* outer) {
    head_ = new Panel({}, this);
    head_words_ = sentence({}, head_);
    head_->body()->addWidget(head_words_);
    quantity_ = new ChoiceRow(
        [] {
            QStringList labels;
            for (const QuantityChoice& choice : choices)
                labels << tr(choice.label);
            return labels;
        }(),
        head_);
    head_->head()->addWidget(new PressButton(finding_, head_));
    head_->head()->addWidget(new PressButton(home_, head_));
    auto* what = new QHBoxLayout;
    what->addWidget(quantity_);
    what->addStretch(1);
    head_->body()->addLayout(what);
    auto* row = new QHBoxLayout; // how it was read, in a row of its own: both do not fit beside Evidence
    row->setSpacing(10);
    instrument_ = new QComboBox(head_);
    instrument_->setEditable(true);
    instrument_->addItems({tr("bench meter"), tr("bench tester"), tr("1 kHz meter")});
    instrument_->setMinimumWidth(110);
    temperature_ = new QLineEdit(head_);
    temperature_->setPlaceholderText(QStringLiteral("\u2013"));
    temperature_->setMaximumWidth(54);
    days_ = new QLineEdit(head_);
    discharge_a_ = new QLineEdit(head_);
    charged_to_v_ = new QLineEdit(head_);
    cutoff_v_ = new QLineEdit(head_);
    for (QLineEdit* figure : {days_, discharge_a_, charged_to_v_, cutoff_v_}) {
        figure->setPlaceholderText(QStringLiteral("\u2013"));
        figure->setMaximumWidth(54);
        figure->setValidator(
            new QRegularExpressionValidator(QRegularExpression(QStringLiteral("\\d*[.,]?\\d*")), figure));
    }
    for (const auto& [name, input, tip] : {std::tuple<QString, QWidget*, QString>{tr("instrument"), instrument_, {}},
                                           {tr("room \u00B0C"), temperature_, {}},
                                           {tr("days since charge"), days_, {}},
                                           {tr("at A"), discharge_a_, tr("The current of the discharge, A")},
                                           {tr("from V"), charged_to_v_, tr("What it was charged to, V")},
                                           {tr("down to V"), cutoff_v_, tr("Where the discharge ended, V")}}) {
        auto* around = new QWidget(head_);
        auto* box = new QVBoxLayout(around);
        box->setContentsMargins(0, 0, 0, 0);
        box->setSpacing(0);
        box->addWidget(caption(name, around));
        box->addWidget(input);
        input->setAccessibleName(tip.isEmpty() ? name : tip);
        input->setToolTip(tip);
        row->addWidget(around);
        if (!tip.isEmpty())
            of_capacity_.push_back(around);
        else if (input == days_)
            of_others_.push_back(around);
    }
    show_conditions();
    row->addStretch(1);
    head_->body()->addLayout(row);
    outer->addWidget(head_);
}

void TestStation::build_readings(QBoxLayout* lower) {
    auto* list = new Panel(tr("Readings"), this);
    list->head()->addWidget(new PressButton(strike_, list));
    readings_ = new RecordTable(QStringLiteral("readings"), list);
    measurements_ = new MeasurementsModel(workshop(), readings_);
    measurements_->show_of(0, 0);
    readings_->set_records(measurements_, {QStringLiteral("quantity"), QStringLiteral("value"), QStringLiteral("day")});
    readings_->horizontalHeader()->setStretchLastSection(false);
    readings_->horizontalHeader()->setSectionResizeMode(MeasurementsModel::quantity, QHeaderView::Stretch);
    readings_->setSelectionMode(QAbstractItemView::SingleSelection);
    readings_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
    readings_->setMinimumHeight(80);
    readings_->setAccessibleName(tr("Readings"));
    list->body()->addWidget(readings_);
    lower->addWidget(list, 4);
}

void TestStation::build_log(QBoxLayout* lower) {
    log_panel_ = new Panel(tr("Tester's log"), this);
    log_panel_->head()->addWidget(new PressButton(import_, log_panel_));
    log_ = new LogImport(log_panel_);
    log_panel_->body()->addWidget(log_, 1);
    auto* buttons = new QHBoxLayout;
    buttons->addStretch(1);
    buttons->addWidget(new PressButton(put_away_, log_panel_));
    buttons->addWidget(new PressButton(take_log_, log_panel_, true));
    log_panel_->body()->addLayout(buttons);
    lower->addWidget(log_panel_, 5);
}

void TestStation::connect_parts() {
    add_bench_commands();
    connect(bench_, &BenchView::told, this, &TestStation::told);
    connect(bench_, &BenchView::alarmed, this, &TestStation::alarmed);
    connect(bench_, &BenchView::acknowledged, this, &TestStation::acknowledged);
    connect(bench_, &BenchView::evidence_changed, this, &TestStation::evidence_changed);
    connect(bench_, &BenchView::unit_chosen, this, [this](qlonglong unit) {
        if (unit != unit_)
            show_unit(unit);
    });

    connect(temperature_, &QLineEdit::textChanged, this,
            [this](const QString& text) { bench_->bays().set_room(figures::typed(text)); });
    bench_->bays().set_room(figures::typed(temperature_->text()));
    connect(quantity_, &ChoiceRow::changed, this, [this] {
        show_conditions();
        emit hint_changed();
    });
    connect(logs_, &LogQueue::arrived, this, [this] {
        keep_watch();
        next_log();
    });
    resume_watch();
    connect(log_, &LogImport::finished, this, [this] {
        show_unit_of_run();
        if (logs_->waiting() > 0)
            emit told(tr("%n more logs wait.", nullptr, logs_->waiting()), false);
        refresh();
    });
    connect(log_, &LogImport::columns_said, this,
            [this](const std::vector<std::string>& header, const exchange::LogShape& shape) {
                if (fine(workshop().catalogue().keep_log_shape(header, shape)))
                    import_file(log_->path());
            });
    connect(log_, &LogImport::failed, this, [this](const QString& sentence_text) {
        emit told(sentence_text, true);
        refresh();
        next_log();
    });
    connect(readings_->selectionModel(), &QItemSelectionModel::selectionChanged, this,
            [this] { strike_->setEnabled(workshop().writable() && readings_->selected() != 0); });
}

Quantity TestStation::quantity() const {
    return choices[static_cast<std::size_t>(quantity_->chosen())].quantity;
}

void TestStation::show_conditions() {
    const bool capacity = quantity() == Quantity::capacity;
    for (QWidget* box : of_capacity_)
        box->setVisible(capacity);
    for (QWidget* box : of_others_)
        box->setVisible(!capacity);
}

void TestStation::refresh() {
    const UnitState* unit = workshop().unit(unit_);
    const bool may = workshop().writable();
    if (unit == nullptr) {
        unit_ = 0;
        head_->set_title(tr("Scan a unit"));
        const int waiting = workshop().waiting()[static_cast<std::size_t>(Station::test)];
        head_words_->setText(
            waiting > 0
                ? tr("%n units wait for a capacity test. Scan a label, or type its last figures.", nullptr, waiting)
                : tr("Scan a label, or type its last figures. Units come from Open."));
    } else {
        const UnitModel* model = workshop().library().model(unit->record.model);
        head_->set_title(QString::fromStdString(unit->code()));
        const QString home =
            unit->record.tray.empty()
                ? tr("no tray")
                : tr("tray %1, well %2").arg(QString::fromStdString(unit->record.tray)).arg(unit->record.well);
        head_words_->setText(
            model != nullptr
                ? tr("%1, rated %2, %3. Choose what you read, type the number, press Enter.")
                      .arg(QString::fromStdString(model->name), figures::pack_capacity(model->rated_ah), home)
                : tr("%1, not in the library, %2. Choose what you read, type the number, press Enter.")
                      .arg(QString::fromStdString(unit->record.model), home));
    }
    import_->setEnabled(may);
    finding_->setEnabled(may && unit != nullptr);
    home_->setEnabled(may && unit != nullptr);
    take_log_->setEnabled(may && unit != nullptr && log_->ready());
    put_away_->setEnabled(log_->ready() || log_->asking());
    show_readings();
    bench_->refresh();
}

// The list follows the workshop by itself; only another unit is another list.
void TestStation::show_readings() {
    if (listed_ != unit_)
        measurements_->show_of(unit_, 0);
    listed_ = unit_;
    strike_->setEnabled(workshop().writable() && readings_->selected() != 0);
}

bool TestStation::show_unit(Id unit) {
    if (unit != unit_)
        days_->clear(); // another unit's days are not this one's
    unit_ = unit;
    refresh();
    bench_->show_unit(unit);
    emit evidence_changed();
    emit hint_changed();
    return true;
}

void TestStation::note_check() {
    QuestionBox box(this, tr("Instrument held against another"),
                    tr("Both at the same clips, one after the other. The day is kept with the instrument."));
    QLineEdit* which = box.add_line(tr("Instrument"), instrument_->currentText());
    which->setObjectName(QStringLiteral("check_which"));
    QLineEdit* against = box.add_line(tr("Against"));
    against->setObjectName(QStringLiteral("check_against"));
    QLineEdit* showed =
        box.add_optional_line(tr("What both showed"), QString(), [](const QString&) { return QString(); });
    showed->setObjectName(QStringLiteral("check_showed"));
    if (box.ask() && fine(workshop().catalogue().note_check(which->text().trimmed().toStdString(),
                                                            against->text().trimmed().toStdString(),
                                                            showed->text().trimmed().toStdString())))
        emit told(tr("Noted; %1 was checked today.").arg(which->text().trimmed()), false);
}

Measurement TestStation::typed_reading(double shown_value) const {
    Measurement reading;
    reading.quantity = quantity();
    reading.value = shown_value * choices[static_cast<std::size_t>(quantity_->chosen())].factor;
    reading.instrument = instrument_->currentText().toStdString();
    reading.protocol = "typed";
    reading.conditions.temperature_c = figures::typed(temperature_->text());
    reading.conditions.days_since_charge = figures::typed(days_->text());
    if (reading.quantity == Quantity::self_discharge)
        reading.conditions.condition = Condition::stored;
    if (reading.quantity == Quantity::capacity) {
        reading.conditions.days_since_charge = {};
        reading.conditions.discharge_current_a = figures::typed(discharge_a_->text());
        reading.conditions.charged_to_v = figures::typed(charged_to_v_->text());
        reading.conditions.cutoff_v = figures::typed(cutoff_v_->text());
    }
    return reading;
}

bool TestStation::take_line(const QString& line) {
    if (line.isEmpty())
        return true;
    // A bay: B3, bay 3.
    static const QRegularExpression bay(QStringLiteral("^b(?:ay)?[ -]?(\\d{1,3})$"),
                                        QRegularExpression::CaseInsensitiveOption);
    if (const auto match = bay.match(line); match.hasMatch()) {
        bench_->bay_scanned(match.captured(1).toInt(), unit_);
        return true;
    }
    if (bench_->offered() && line.compare(tr("yes"), Qt::CaseInsensitive) == 0) {
        bench_->take_offer();
        return true;
    }
    // Last figures pick a unit: any number while none is chosen; with one chosen, four figures that begin with a zero.
    const bool four_figures = line.size() == 4 && line.startsWith(QLatin1Char('0')) &&
                              !line.contains(QLatin1Char('.')) && !line.contains(QLatin1Char(','));
    const auto number = figures::typed(line);
    if (number && (unit_ == 0 || four_figures)) {
        const auto found = workshop().find_unit(line.toStdString());
        if (fine(found))
            show_unit(found.value());
        return true;
    }
    if (!number)
        return false;
    const auto id = workshop().test().record_reading(unit_, typed_reading(*number));
    if (!fine(id))
        return true;
    emit acknowledged(
        QStringLiteral("unit %1 %2 %3").arg(unit_).arg(QLatin1String(code(quantity()))).arg(*number, 0, 'f', 4));
    return true;
}

QString TestStation::scan_hint() const {
    if (unit_ == 0)
        return tr("a unit label opens it");
    const QuantityChoice& choice = choices[static_cast<std::size_t>(quantity_->chosen())];
    if (!bench_->bays().bays().empty() && bench_->bays().bay_of(unit_) == nullptr)
        return tr("number: %1; B1 for bay 1").arg(tr(choice.label));
    return tr("number: %1 of this unit").arg(tr(choice.label));
}

EvidenceContent TestStation::evidence() const {
    EvidenceContent content;
    if (unit_ != 0)
        content = unit_evidence(workshop(), unit_);
    return bench_->evidence(content);
}

void TestStation::ask_file() {
    logs_->add(QFileDialog::getOpenFileNames(this, tr("Testers' logs"), {}, tr("Logs (*.csv *.txt);;All files (*)")));
    next_log();
}

// One after the other: each is looked at, recorded or discarded, then the next one is read.
void TestStation::next_log() {
    if (log_->ready() || log_->reading() || log_->asking())
        return;
    if (const QString path = logs_->take(); !path.isEmpty())
        import_file(path);
}

void TestStation::watch_folder() {
    if (!logs_->folder().isEmpty()) {
        logs_->watch({});
        keep_watch();
        emit told(tr("No folder is watched for logs any more."), false);
        return;
    }
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Where the tester leaves its logs"));
    if (folder.isEmpty() || !logs_->watch(folder))
        return;
    keep_watch();
    emit told(
        tr("Logs that arrive in %1 are read here, one after the other. What is in it now stays as it is.").arg(folder),
        false);
}

// This machine's, for this workshop: the next start goes on where this one ended.
void TestStation::keep_watch() {
    QSettings settings;
    settings.beginGroup(watched_group());
    settings.setValue(QStringLiteral("folder"), logs_->folder());
    settings.setValue(QStringLiteral("known"), logs_->known_names());
}

void TestStation::resume_watch() {
    QSettings settings;
    settings.beginGroup(watched_group());
    if (const QString folder = settings.value(QStringLiteral("folder")).toString(); !folder.isEmpty())
        logs_->resume(folder, settings.value(QStringLiteral("known")).toStringList());
}

QString TestStation::watched_group() {
    return QStringLiteral("watched_logs/") +
           QString::fromLatin1(
               QCryptographicHash::hash(QByteArray::fromStdString(workshop().path()), QCryptographicHash::Sha1)
                   .toHex());
}

void TestStation::import_file(const QString& path) {
    // A file named after a unit is that unit's.
    const std::string stem = QFileInfo(path).completeBaseName().toStdString();
    if (looks_like_unit_code(stem))
        if (const auto found = workshop().find_unit(stem); found)
            show_unit(found.value());
    log_->read(path,
               workshop().test().options_for_log(workshop().unit(unit_), instrument_->currentText().toStdString()),
               workshop().catalogue().log_shapes());
    refresh();
}

// A channel that is named after a unit is that unit's.
void TestStation::show_unit_of_run() {
    const std::string channel = log_->ready() ? log_->channel().toStdString() : std::string();
    if (looks_like_unit_code(channel))
        if (const auto found = workshop().find_unit(channel); found)
            show_unit(found.value());
}

void TestStation::take_log() {
    if (!log_->ready())
        return;
    const QString name = log_->run_name().isEmpty() ? log_->file() : tr("%1, %2").arg(log_->file(), log_->run_name());
    const auto id =
        workshop().test().import_log(unit_, log_->log(), log_->result(), name.toStdString(),
                                     instrument_->currentText().toStdString(), log_->resistance(), log_->written_at());
    if (!fine(id))
        return;
    emit acknowledged(QStringLiteral("log %1").arg(log_->file()));
    emit told(log_->result().discharge_capacity_ah
                  ? tr("Log and capacity recorded for %1.").arg(QString::fromStdString(workshop().unit(unit_)->code()))
                  : tr("Log recorded for %1; it holds no capacity.")
                        .arg(QString::fromStdString(workshop().unit(unit_)->code())),
              false);
    if (log_->next_run()) { // it is another unit's: nobody records it for this one by a second keystroke
        emit told(tr("Recorded. %1 of the file waits: scan its unit.").arg(log_->run_name()), false);
        unit_ = 0;
        show_unit_of_run();
    } else {
        log_->clear();
    }
    refresh();
    emit evidence_changed();
    next_log();
}

// Figures between semicolons or blanks; a comma is a decimal one.
namespace {
std::optional<std::vector<double>> figures_in(const QString& text) {
    static const QRegularExpression between(QStringLiteral("[;\\s]+"));
    std::vector<double> out;
    for (const QString& part : text.split(between, Qt::SkipEmptyParts)) {
        const auto value = figures::typed(part);
        if (!value)
            return std::nullopt;
        out.push_back(*value);
    }
    return out;
}
} // namespace

void TestStation::type_load_test() {
    const UnitState* unit = workshop().unit(unit_);
    if (unit == nullptr || !workshop().writable()) {
        emit told(tr("Scan a unit first."), true);
        return;
    }
    QuestionBox box(this, tr("Load test of %1").arg(QString::fromStdString(unit->code())),
                    tr("Clip the load on at the unit's own ends, read the volts there a few seconds after each change, "
                       "and take it off again. A sensor on the unit, hands off what gets hot."));
    const Objection some = [](const QString& text) {
        const auto values = figures_in(text);
        return values && values->size() >= 2 ? QString() : tr("Two figures at least, with semicolons between them.");
    };
    QLineEdit* amperes = box.add_line(tr("Amperes drawn"), QStringLiteral("0; 0.35; 1; 1.5"), some);
    amperes->setObjectName(QStringLiteral("load_amperes"));
    QLineEdit* volts = box.add_line(tr("Volts at each"), QString(), [some, amperes](const QString& text) {
        const QString why = some(text);
        if (!why.isEmpty())
            return why;
        const auto drawn = figures_in(amperes->text());
        return drawn && drawn->size() == figures_in(text)->size() ? QString()
                                                                  : tr("As many volts as amperes, in their order.");
    });
    volts->setObjectName(QStringLiteral("load_volts"));
    volts->setFocus();
    if (!box.ask())
        return;
    const auto drawn = *figures_in(amperes->text());
    const auto read = *figures_in(volts->text());
    std::vector<LoadPoint> points;
    for (std::size_t i = 0; i < drawn.size(); ++i)
        points.push_back({drawn[i], read[i]});
    const auto result = load_test(points);
    if (!result) {
        emit told(tr("The volts do not fall as more is drawn. Look at the clips, or at what was typed; nothing was "
                     "recorded."),
                  true);
        return;
    }
    Measurement reading;
    reading.quantity = Quantity::dc_resistance;
    reading.value = result->resistance_ohm;
    reading.uncertainty = result->uncertainty_ohm;
    reading.instrument = instrument_->currentText().toStdString();
    reading.protocol = "load test by hand";
    reading.conditions.condition = Condition::load;
    reading.conditions.discharge_current_a = *std::max_element(drawn.begin(), drawn.end());
    reading.conditions.temperature_c = figures::typed(temperature_->text());
    if (!fine(workshop().test().record_reading(unit_, reading)))
        return;
    const UnitModel* model = workshop().library().model(unit->record.model);
    QString words = tr("%1, %2 where nothing is drawn.")
                        .arg(figures::milliohms(result->resistance_ohm), figures::volts(result->open_v));
    if (model != nullptr && model->continuous_a > 0)
        words +=
            QLatin1Char(' ') + tr("At its rating of %1 it would sag to %2.")
                                   .arg(figures::amperes(model->continuous_a),
                                        figures::volts(result->open_v - result->resistance_ohm * model->continuous_a));
    emit told(words, false);
}

void TestStation::strike() {
    const Id selected = readings_->selected();
    if (selected == 0)
        return;
    const auto reason = ask_reason(this, tr("Strike out"), tr("Why is this reading struck out? It stays on record."));
    if (reason && fine(workshop().test().strike_reading(selected, reason->toStdString()))) {
        refresh();
        emit evidence_changed();
    }
}

void TestStation::note_finding() {
    QStringList names;
    for (const auto& finding : workshop().library().findings)
        names << QStringLiteral("%1: %2").arg(QString::fromStdString(finding.name),
                                              wording::consequence(finding.consequence));
    const auto chosen = ask_choice(this, tr("Inspection finding"), tr("What do you see on this unit?"), names);
    if (!chosen)
        return;
    const auto& finding = workshop().library().findings[static_cast<std::size_t>(*chosen)];
    if (fine(workshop().receive().note_finding(0, unit_, finding.id))) {
        emit told(QString::fromStdString(finding.consequence_text), finding.consequence >= Consequence::quarantine);
        refresh();
        emit evidence_changed();
    }
}

void TestStation::move_home() {
    const UnitState* unit = workshop().unit(unit_);
    if (unit == nullptr)
        return;
    const auto wanted = ask_home(this, unit->record);
    if (!wanted)
        return;
    const auto home = [this, id = unit_](const std::string& name, int place) {
        return [this, id, name, place] { return workshop().open().set_home(id, name, place); };
    };
    do_step(tr("home of %1").arg(QString::fromStdString(unit->code())), home(wanted->tray, wanted->well),
            home(unit->record.tray, unit->record.well));
}

void TestStation::next_waiting() {
    if (const Id next = workshop().test().next_waiting(unit_); next != 0)
        show_unit(next);
}

void TestStation::pose() {
    next_waiting();
    const QString folder = QString::fromStdString(Workshop::shipped_folder("demo")) + QStringLiteral("/logs-to-import");
    const QStringList files = QDir(folder).entryList({QStringLiteral("*.csv")});
    if (!files.isEmpty())
        import_file(folder + QLatin1Char('/') + files.front());
}

} // namespace ingot::app
