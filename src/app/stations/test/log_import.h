// Bringing in a tester's log: what was understood, curve, steps, result and warnings, before anything is recorded.
#pragma once

#include "core/measure/resistance.h"
#include "exchange/log_csv.h"
#include "workshop/job.h"
#include "workshop/log_reading.h"
#include "workshop/workshop.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QProgressBar;
class QTableWidget;
class QVBoxLayout;

namespace ingot::app {

class LogPlot;
class PressButton;

class LogImport : public QWidget {
    Q_OBJECT
public:
    explicit LogImport(QWidget* parent = nullptr);
    // Reads off the GUI thread. `shapes`: what was said of columns before (CatalogueService::log_shapes).
    void read(const QString& path, const CapacityOptions& options, const std::map<std::string, std::string>& shapes);
    // The shown run is done with; true: another run of the file is shown.
    bool next_run();
    [[nodiscard]] std::size_t runs() const { return runs_.size(); } // that wait, the shown one among them
    // The columns are to be said by the person.
    [[nodiscard]] bool asking() const { return !head_.header.empty() && !columns_->isHidden(); }
    void ask_columns();
    void stop();
    void clear();
    [[nodiscard]] bool ready() const { return !runs_.empty() && !asking(); }
    [[nodiscard]] bool reading() const { return job_->busy(); }
    [[nodiscard]] const exchange::ImportedLog& log() const { return shown().reading.log; }
    [[nodiscard]] const CapacityResult& result() const { return shown().reading.capacity; }
    [[nodiscard]] const ResistanceResult& resistance() const { return shown().reading.resistance; }
    [[nodiscard]] QString path() const { return path_; }
    [[nodiscard]] QString file() const { return file_; } // of several runs with the run's name
    [[nodiscard]] QString run_name() const;              // "channel 3, run 2"; empty: the file holds one
    [[nodiscard]] QString channel() const { return QString::fromStdString(shown().channel); }
    // When the file was last written, ISO 8601: its measurements are no newer.
    [[nodiscard]] const std::string& written_at() const { return written_at_; }

signals:
    void finished();                      // a preview is ready
    void failed(const QString& sentence); // nothing was changed
    void columns_said(const std::vector<std::string>& header, const ingot::exchange::LogShape& shape);

private:
    void show_preview();
    void add_columns(QVBoxLayout* layout);
    void show_columns();
    void say_columns();
    [[nodiscard]] const LogRun& shown() const { return runs_[run_]; }
    [[nodiscard]] QString name_of(const LogRun& run) const;

    QComboBox* which_ = nullptr; // run of the file
    QWidget* head_row_ = nullptr;
    QWidget* columns_ = nullptr;
    QTableWidget* column_rows_ = nullptr;
    QString path_;
    exchange::LogHead head_;
    std::vector<LogRun> runs_;
    std::size_t run_ = 0;
    bool several_ = false;
    QLabel* words_ = nullptr;
    QLabel* outcome_ = nullptr;
    QLabel* notes_ = nullptr;
    LogPlot* plot_ = nullptr;
    QTableWidget* steps_ = nullptr;
    QWidget* busy_ = nullptr;
    QProgressBar* progress_ = nullptr;
    QString file_;
    std::string written_at_;
    Job* job_ = nullptr;
};

} // namespace ingot::app
