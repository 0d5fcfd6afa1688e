// Bringing in a tester's log: what was understood, curve, steps, result and warnings, before anything is recorded.
#pragma once

#include "core/measure/resistance.h"
#include "exchange/log_csv.h"
#include "workshop/job.h"
#include "workshop/workshop.h"

#include <QWidget>

class QLabel;
class QProgressBar;
class QTableWidget;

namespace ingot::app {

class LogPlot;
class PressButton;

class LogImport : public QWidget {
    Q_OBJECT
public:
    explicit LogImport(QWidget* parent = nullptr);
    // Reads off the GUI thread.
    void read(const QString& path, const CapacityOptions& options);
    void stop();
    void clear();
    [[nodiscard]] bool ready() const { return log_ != nullptr; }
    [[nodiscard]] bool reading() const { return job_->busy(); }
    [[nodiscard]] const exchange::ImportedLog& log() const { return *log_; }
    [[nodiscard]] const CapacityResult& result() const { return result_; }
    [[nodiscard]] const ResistanceResult& resistance() const { return resistance_; }
    [[nodiscard]] QString file() const { return file_; }
    // When the file was last written, ISO 8601: its measurements are no newer.
    [[nodiscard]] const std::string& written_at() const { return written_at_; }

signals:
    void finished();                      // a preview is ready
    void failed(const QString& sentence); // nothing was changed

private:
    void show_preview();

    QLabel* words_ = nullptr;
    QLabel* outcome_ = nullptr;
    QLabel* notes_ = nullptr;
    LogPlot* plot_ = nullptr;
    QTableWidget* steps_ = nullptr;
    QWidget* busy_ = nullptr;
    QProgressBar* progress_ = nullptr;
    QString file_;
    std::string written_at_;
    std::shared_ptr<const exchange::ImportedLog> log_;
    CapacityResult result_;
    ResistanceResult resistance_;
    Job* job_ = nullptr;
};

} // namespace ingot::app
