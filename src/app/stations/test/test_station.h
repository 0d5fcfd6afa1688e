// Test: typed readings of the scanned unit, with instrument and conditions remembered from the last; logs brought in.
#pragma once

#include "app/stations/station.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QTableWidget;

namespace ingot::app {

class ChoiceRow;
class LogImport;
class Panel;

class TestStation : public StationView {
    Q_OBJECT
public:
    explicit TestStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void pose() override;
    void import_file(const QString& path);
    [[nodiscard]] LogImport* log_import() const { return log_; }
    [[nodiscard]] Id unit() const { return unit_; }

private:
    void show_readings();
    void ask_file();
    void take_log();
    void strike();
    void note_finding();
    void move_home();
    void next_waiting();
    [[nodiscard]] Quantity quantity() const;
    [[nodiscard]] Reading typed_reading(double shown) const;

    Panel* head_ = nullptr;
    QLabel* head_words_ = nullptr;
    ChoiceRow* quantity_ = nullptr;
    QComboBox* instrument_ = nullptr;
    QLineEdit* temperature_ = nullptr;
    QLineEdit* days_ = nullptr;
    QTableWidget* readings_ = nullptr;
    Panel* log_panel_ = nullptr;
    LogImport* log_ = nullptr;
    QAction* take_log_ = nullptr;
    QAction* put_away_ = nullptr;
    QAction* strike_ = nullptr;
    QAction* import_ = nullptr;
    QAction* finding_ = nullptr;
    QAction* home_ = nullptr;
    Id unit_ = 0;
};

} // namespace ingot::app
