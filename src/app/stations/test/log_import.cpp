#include "app/stations/test/log_import.h"

#include "app/parts/log_plot.h"
#include "app/parts/panel.h"
#include "app/theme/theme.h"
#include "workshop/bench_wording.h"
#include "workshop/figures.h"
#include "workshop/log_reading.h"
#include "workshop/wording.h"

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
    steps_->verticalHeader()->hide();
    steps_->setShowGrid(false);
    steps_->setFrameShape(QFrame::NoFrame);
    steps_->horizontalHeader()->setAccessibleName(tr("Columns"));
    steps_->setEditTriggers(QAbstractItemView::NoEditTriggers);
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
    clear();
}

void LogImport::stop() {
    job_->stop();
}

void LogImport::clear() {
    job_->drop();
    log_.reset();
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

void LogImport::read(const QString& path, const CapacityOptions& options) {
    clear();
    const QFileInfo info(path);
    file_ = info.fileName();
    const QDateTime written = std::min(info.lastModified().toUTC(), QDateTime::currentDateTimeUtc());
    written_at_ = written.isValid() ? written.toString(Qt::ISODateWithMs).toStdString() : std::string();
    words_->setText(tr("Reading %1…").arg(file_));
    progress_->setValue(0);
    busy_->show();
    job_->begin<Result<LogReading>>(
        [progress = progress_, name = path.toStdString(), options](const Job::Token& token) {
            return read_log_file(name, options, [&](double share) {
                token.tell([progress, share] { progress->setValue(static_cast<int>(share * 100)); });
                return token.wanted();
            });
        },
        [this](const Result<LogReading>& read) {
            busy_->hide();
            if (!read) {
                clear();
                emit failed(wording::problem(read.problem()));
                return;
            }
            log_ = std::make_shared<exchange::ImportedLog>(read.value().log);
            result_ = read.value().capacity;
            resistance_ = read.value().resistance;
            show_preview();
            emit finished();
        });
}

void LogImport::show_preview() {
    QStringList understood;
    for (const std::string& column : log_->understood)
        understood << QString::fromStdString(column);
    QStringList ignored;
    for (const std::string& column : log_->ignored)
        ignored << QString::fromStdString(column);
    const char separator = log_->dialect.separator;
    words_->setText(tr("<b>%1</b>: %2 samples. Understood: %3. %4, decimal %5.%6")
                        .arg(file_.toHtmlEscaped())
                        .arg(log_->samples.size())
                        .arg(understood.join(QStringLiteral(", ")).toHtmlEscaped(),
                             separator == '\t' ? tr("Tabs") : (separator == ';' ? tr("Semicolons") : tr("Commas")),
                             log_->dialect.decimal_comma ? tr("comma") : tr("point"),
                             ignored.isEmpty()
                                 ? QString()
                                 : tr(" Left aside: %1.").arg(ignored.join(QStringLiteral(", ")).toHtmlEscaped())));
    plot_->show();
    plot_->set(log_->samples, result_);
    if (result_.discharge_capacity_ah)
        outcome_->setText(tr("%1 ± %2, %3 Wh")
                              .arg(figures::unit_capacity(*result_.discharge_capacity_ah),
                                   figures::unit_capacity(result_.uncertainty_ah.value_or(0)),
                                   figures::plain(result_.discharge_energy_wh.value_or(0), 2)));
    else
        outcome_->setText(tr("No capacity in this log"));
    QStringList notes;
    if (resistance_.dc_resistance_ohm && *resistance_.dc_resistance_ohm > 0)
        notes << tr("DC resistance %1 (%2).")
                     .arg(figures::milliohms(*resistance_.dc_resistance_ohm),
                          wording::resistance_method(resistance_.method));
    if (result_.coulombic_efficiency)
        notes << tr("Coulombic efficiency %1.").arg(figures::percent(*result_.coulombic_efficiency));
    for (const LogNote& note : result_.notes)
        notes << wording::log_note(note);
    if (log_->dialect.last_line_dropped)
        notes << tr("The last line was cut off and was dropped.");
    constexpr qsizetype most_notes = 4;
    if (notes.size() > most_notes)
        notes = notes.mid(0, most_notes) << tr("and %1 more").arg(notes.size() - most_notes);
    notes_->setText(notes.join(QLatin1Char('\n')));
    notes_->setVisible(!notes.isEmpty());
    steps_->show();
    const int rows = static_cast<int>(std::min<std::size_t>(result_.steps.size(), 200));
    steps_->setRowCount(rows);
    for (int i = 0; i < rows; ++i) {
        const Step& step = result_.steps[static_cast<std::size_t>(i)];
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
