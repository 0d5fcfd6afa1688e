#include "app/stations/test/log_import.h"

#include "app/parts/log_plot.h"
#include "app/parts/panel.h"
#include "app/parts/record_table.h"
#include "app/theme/theme.h"
#include "workshop/bench_wording.h"
#include "workshop/figures.h"
#include "workshop/log_reading.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QFileInfo>
#include <QHeaderView>
#include <QProgressBar>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ingot::app {

LogImport::LogImport(QWidget* parent) : QWidget(parent) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    words_ = sentence({}, this);
    words_->setFont(type(13));
    layout->addWidget(words_);
    busy_ = new QWidget(this);
    auto* busy_row = new QHBoxLayout(busy_);
    busy_row->setContentsMargins(0, 0, 0, 0);
    progress_ = new QProgressBar(busy_);
    progress_->setRange(0, 100);
    auto* stop_button = new PressButton(tr("Stop"), busy_);
    busy_row->addWidget(progress_, 1);
    busy_row->addWidget(stop_button);
    busy_->hide();
    layout->addWidget(busy_);
    head_row_ = new QWidget(this);
    auto* head = new QHBoxLayout(head_row_);
    head->setContentsMargins(0, 0, 0, 0);
    which_ = new QComboBox(head_row_);
    which_->setObjectName(QStringLiteral("log_run"));
    which_->setAccessibleName(tr("Run of the file"));
    auto* columns_button = new PressButton(tr("Columns…"), head_row_);
    columns_button->setObjectName(QStringLiteral("log_columns"));
    head->addWidget(which_);
    head->addStretch(1);
    head->addWidget(columns_button);
    layout->addWidget(head_row_);
    add_columns(layout);
    plot_ = new LogPlot(this);
    layout->addWidget(plot_, 3);
    outcome_ = sentence({}, this);
    outcome_->setFont(type(18, true));
    outcome_->setObjectName(QStringLiteral("log_outcome"));
    layout->addWidget(outcome_);
    notes_ = sentence({}, this);
    notes_->setFont(type(13));
    layout->addWidget(notes_);
    steps_ = new QTableWidget(0, 6, this);
    steps_->setHorizontalHeaderLabels({tr("step"), tr("lasted"), tr("Ah"), tr("from V"), tr("to V"), tr("mean A")});
    steps_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    steps_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    dress_table(*steps_);
    for (int column = 1; column < steps_->columnCount(); ++column) // as their figures
        steps_->horizontalHeaderItem(column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    steps_->setSelectionMode(QAbstractItemView::NoSelection);
    steps_->setFocusPolicy(Qt::TabFocus);
    steps_->setMinimumHeight(62);
    steps_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored); // takes what is left, asks for no more
    steps_->setAccessibleName(tr("Steps of the log"));
    layout->addWidget(steps_, 2);
    job_ = new Job(this);
    connect(job_, &Job::failed, this, [this](const Problem& problem) {
        clear();
        emit failed(wording::problem(problem));
    });
    connect(stop_button, &PressButton::clicked, this, &LogImport::stop);
    connect(columns_button, &PressButton::clicked, this, &LogImport::ask_columns);
    connect(which_, &QComboBox::activated, this, [this](int run) {
        run_ = static_cast<std::size_t>(run);
        show_preview();
        emit finished();
    });
    clear();
}

void LogImport::stop() {
    job_->stop();
}

void LogImport::clear() {
    job_->drop();
    runs_.clear();
    run_ = 0;
    several_ = false;
    head_ = {};
    columns_->hide();
    head_row_->hide();
    plot_->clear();
    plot_->hide();
    steps_->hide();
    outcome_->clear();
    notes_->clear();
    busy_->hide();
    words_->setText(tr("Import a tester's log: a CSV with time, voltage and current, in any usual dialect. You see "
                       "what was understood before "
                       "anything is recorded."));
}

void LogImport::read(const QString& path, const CapacityOptions& options,
                     const std::map<std::string, std::string>& shapes) {
    clear();
    path_ = path;
    const QFileInfo info(path);
    file_ = info.fileName();
    const QDateTime written = std::min(info.lastModified().toUTC(), QDateTime::currentDateTimeUtc());
    written_at_ = written.isValid() ? written.toString(Qt::ISODateWithMs).toStdString() : std::string();
    words_->setText(tr("Reading %1…").arg(file_));
    progress_->setValue(0);
    busy_->show();
    job_->begin<LogFile>(
        [progress = progress_, name = path.toStdString(), options, shapes](const Job::Token& token) {
            return read_log_runs(name, options, shapes, [&](double share) {
                token.tell([progress, share] { progress->setValue(static_cast<int>(share * 100)); });
                return token.wanted();
            });
        },
        [this](const LogFile& read) {
            busy_->hide();
            head_ = read.head;
            if (!read.runs) {
                const exchange::LogHead head = read.head;
                clear();
                // Nothing is lost: where it has columns, the person says what they are.
                constexpr std::size_t least_columns = 3;
                if (head.header.size() >= least_columns && !head.rows.empty() &&
                    read.runs.problem().line == head.line) {
                    head_ = head;
                    show_columns();
                }
                emit failed(wording::problem(read.runs.problem()));
                return;
            }
            runs_ = read.runs.value();
            several_ = runs_.size() > 1;
            show_preview();
            emit finished();
        });
}

QString LogImport::name_of(const LogRun& run) const {
    const bool again = std::any_of(runs_.begin(), runs_.end(),
                                   [&](const LogRun& one) { return one.channel == run.channel && one.run != run.run; });
    if (run.channel.empty())
        return tr("run %1").arg(run.run);
    const QString channel = tr("channel %1").arg(QString::fromStdString(run.channel));
    return again || run.run > 1 ? tr("%1, run %2").arg(channel).arg(run.run) : channel;
}

QString LogImport::run_name() const {
    return several_ && !runs_.empty() ? name_of(shown()) : QString();
}

bool LogImport::next_run() {
    if (!runs_.empty())
        runs_.erase(runs_.begin() + static_cast<std::ptrdiff_t>(run_));
    run_ = 0;
    if (runs_.empty())
        return false;
    show_preview();
    return true;
}

void LogImport::show_preview() {
    const exchange::ImportedLog& read = log();
    const CapacityResult& measured = result();
    const ResistanceResult& ohms = resistance();
    head_row_->show();
    columns_->hide();
    which_->setVisible(several_);
    which_->clear();
    for (const LogRun& run : runs_)
        which_->addItem(name_of(run));
    which_->setCurrentIndex(static_cast<int>(run_));
    QStringList understood;
    for (const std::string& column : read.understood)
        understood << QString::fromStdString(column);
    QStringList ignored;
    for (const std::string& column : read.ignored)
        ignored << QString::fromStdString(column);
    const char separator = read.dialect.separator;
    words_->setText(tr("<b>%1</b>: %2 samples. Understood: %3. %4, decimal %5.%6")
                        .arg(file_.toHtmlEscaped())
                        .arg(read.samples.size())
                        .arg(understood.join(QStringLiteral(", ")).toHtmlEscaped(),
                             separator == '\t' ? tr("Tabs") : (separator == ';' ? tr("Semicolons") : tr("Commas")),
                             read.dialect.decimal_comma ? tr("comma") : tr("point"),
                             ignored.isEmpty()
                                 ? QString()
                                 : tr(" Left aside: %1.").arg(ignored.join(QStringLiteral(", ")).toHtmlEscaped())));
    plot_->show();
    plot_->set(read.samples, measured);
    if (measured.discharge_capacity_ah)
        outcome_->setText(tr("%1 ± %2, %3 Wh")
                              .arg(figures::unit_capacity(*measured.discharge_capacity_ah),
                                   figures::unit_capacity(measured.uncertainty_ah.value_or(0)),
                                   figures::plain(measured.discharge_energy_wh.value_or(0), 2)));
    else
        outcome_->setText(tr("No capacity in this log"));
    QStringList notes;
    if (ohms.dc_resistance_ohm && *ohms.dc_resistance_ohm > 0)
        notes << tr("DC resistance %1 (%2).")
                     .arg(figures::milliohms(*ohms.dc_resistance_ohm), wording::resistance_method(ohms.method));
    if (measured.coulombic_efficiency)
        notes << tr("Coulombic efficiency %1.").arg(figures::percent(*measured.coulombic_efficiency));
    for (const LogNote& note : measured.notes)
        notes << wording::log_note(note);
    if (read.dialect.last_line_dropped)
        notes << tr("The last line was cut off and was dropped.");
    constexpr qsizetype most_notes = 4;
    if (notes.size() > most_notes)
        notes = notes.mid(0, most_notes) << tr("and %1 more").arg(notes.size() - most_notes);
    notes_->setText(notes.join(QLatin1Char('\n')));
    notes_->setVisible(!notes.isEmpty());
    steps_->show();
    const int rows = static_cast<int>(std::min<std::size_t>(measured.steps.size(), 200));
    steps_->setRowCount(rows);
    for (int i = 0; i < rows; ++i) {
        const Step& step = measured.steps[static_cast<std::size_t>(i)];
        const QString cells[] = {wording::step(step.kind) + (step.complete || step.kind != StepKind::discharge
                                                                 ? QString()
                                                                 : tr(" (not complete)")),
                                 figures::seconds(step.end_s - step.start_s),
                                 figures::plain(step.capacity_ah, 3),
                                 figures::plain(step.start_v, 3),
                                 figures::plain(step.end_v, 3),
                                 figures::plain(step.mean_a, 2)};
        for (int c = 0; c < 6; ++c) {
            auto* item = new QTableWidgetItem(cells[c]);
            if (c > 0)
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            steps_->setItem(i, c, item);
        }
    }
}

} // namespace ingot::app
