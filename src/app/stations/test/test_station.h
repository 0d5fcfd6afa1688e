// Test: typed readings of the scanned unit, with instrument and conditions remembered from the last; logs brought in.
#pragma once

#include "app/stations/station.h"

class QBoxLayout;
class QComboBox;
class QLabel;
class QLineEdit;

namespace ingot {
class MeasurementsModel;
} // namespace ingot

namespace ingot::app {

class BenchView;
class ChoiceRow;
class LogImport;
class LogQueue;
class QuestionBox;
class RecordTable;
class Panel;

class TestStation : public StationView {
    Q_OBJECT
public:
    explicit TestStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] std::optional<Quantity> wanted_reading() const override;
    [[nodiscard]] int meter_bay() const override;
    void take_reading(const bench::MeterReading& reading, Quantity quantity, const std::string& instrument) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void pose() override;
    void import_file(const QString& path);
    void show_unit_of_run();
    [[nodiscard]] LogQueue* logs() const { return logs_; }
    // The next log that waits, unless one is being looked at.
    void next_log();
    [[nodiscard]] LogImport* log_import() const { return log_; }
    [[nodiscard]] Id unit() const { return unit_; }
    [[nodiscard]] BenchView* bench() const { return bench_; }

private:
    void add_commands();
    void add_bench_commands();
    void build_head(QBoxLayout* outer);
    void build_readings(QBoxLayout* lower);
    void build_log(QBoxLayout* lower);
    void connect_parts();
    void let_units_wait();
    void ask_hours();
    void ask_due();
    void ask_bay();
    void ask_series();
    void note_check();
    void ask_pack();
    [[nodiscard]] QComboBox* bays_to_choose(QuestionBox& box) const;
    void save_log(bool battery_data_format);
    void save_picture();
    void save_visits();
    void show_readings();
    void show_conditions(); // those that the quantity has
    void ask_file();
    void watch_folder();
    void keep_watch();
    void resume_watch();
    [[nodiscard]] QString watched_group();
    void take_log();
    void type_load_test();
    void strike();
    void note_finding();
    void move_home();
    void next_waiting();
    [[nodiscard]] Quantity quantity() const;
    [[nodiscard]] Measurement typed_reading(double shown) const;

    Panel* head_ = nullptr;
    QLabel* head_words_ = nullptr;
    ChoiceRow* quantity_ = nullptr;
    QComboBox* instrument_ = nullptr;
    QLineEdit* temperature_ = nullptr;
    QLineEdit* days_ = nullptr;
    // Of a capacity that was read off a charger's display: one way of charging for many units, so they stay.
    QLineEdit* discharge_a_ = nullptr;
    QLineEdit* charged_to_v_ = nullptr;
    QLineEdit* cutoff_v_ = nullptr;
    std::vector<QWidget*> of_capacity_, of_others_;
    RecordTable* readings_ = nullptr;
    MeasurementsModel* measurements_ = nullptr;
    Panel* log_panel_ = nullptr;
    LogImport* log_ = nullptr;
    QAction* take_log_ = nullptr;
    QAction* put_away_ = nullptr;
    QAction* strike_ = nullptr;
    QAction* import_ = nullptr;
    LogQueue* logs_ = nullptr;
    QAction* finding_ = nullptr;
    QAction* home_ = nullptr;
    BenchView* bench_ = nullptr;
    Id read_of_ = 0; // the last unit of which the followed meter gave a reading
    Id unit_ = 0;
    Id listed_ = 0; // whose readings are listed
};

} // namespace ingot::app
