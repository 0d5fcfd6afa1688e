// Triage: every group's voltage, what stands out, and the sum against the terminals. The reading round is a mode: type,
// Enter, next.
#pragma once

#include "app/stations/station.h"

class QBoxLayout;
class QLabel;
class QLineEdit;
class QMenu;

namespace ingot {
class Job;
}

namespace ingot::app {

class RecordCombo;
class ChoiceRow;
class Figure;
class Panel;
class ReadingBoxes;
class VoltageLadder;

class TriageStation : public StationView {
    Q_OBJECT
public:
    explicit TriageStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] std::optional<Quantity> wanted_reading() const override;
    void take_reading(const bench::MeterReading& reading, Quantity quantity, const std::string& instrument) override;
    void echo(const QString& typed) override;
    bool step_back() override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    void pose() override;
    [[nodiscard]] int active_box() const { return active_; } // 0-based; series = terminals; -1: no round
    [[nodiscard]] Id pack() const { return pack_; }
    bool print_report_to(const QString& path); // PDF; false: it could not be written

private:
    void ask_balance_gear();
    void add_commands();
    void build_header(QBoxLayout* outer);
    void build_round(QBoxLayout* outer);
    void add_group(EvidenceContent& content, const GroupVerdict& group) const;
    void add_explanations(EvidenceContent& content) const;
    [[nodiscard]] static std::vector<ExplanationBar> bars_of(const Explained& explained, const TriageCase& known);
    void choose_pack(Id pack);
    void start_round(Condition condition);
    void stop_round();
    void move_to(int box);
    void show_boxes();
    void add_notes();
    void strike_reading();
    void move_round();
    void print_report();
    void fill_symptoms();
    Result<bool> ask_unit_voltages(int group);
    Result<bool> ask_temperature(int group);
    Result<bool> ask_capacity(int group);
    Result<bool> ask_resistance(int group);
    [[nodiscard]] bool explained_or_begun(const TriageCase& known) const;
    void import_file();
    [[nodiscard]] RoundConditions round_conditions() const;

    RecordCombo* packs_ = nullptr;
    Panel* header_ = nullptr;
    Figure* chemistry_ = nullptr;
    Figure* layout_ = nullptr;
    Figure* claimed_ = nullptr;
    Figure* terminals_ = nullptr;
    Figure* sum_ = nullptr;
    Figure* difference_ = nullptr;
    VoltageLadder* ladder_ = nullptr;
    Panel* round_panel_ = nullptr;
    ReadingBoxes* boxes_ = nullptr;
    QLabel* help_ = nullptr;
    QAction* round_rest_ = nullptr;
    QAction* round_charge_ = nullptr;
    QAction* round_load_ = nullptr;
    QAction* round_stored_ = nullptr;
    QAction* to_open_ = nullptr;
    QAction* to_service_ = nullptr;
    QAction* symptoms_ = nullptr;
    QMenu* symptom_menu_ = nullptr;
    QList<QAction*> about_group_; // what can be noted of the selected group
    QList<QAction*> about_pack_;  // what can be done with its readings
    QWidget* condition_field_ = nullptr;
    QLabel* condition_name_ = nullptr;
    QLineEdit* condition_value_ = nullptr; // amperes under load, days after storage
    Id pack_ = 0;
    int active_ = -1;
    static constexpr const char* typed_from = "bench meter"; // what a typed figure was read from
    std::string read_with_ = typed_from;
    Condition condition_ = Condition::rest;
    QString typed_;
    std::optional<double> refused_minus_; // typed again, it is meant
    bool filling_ = false;
    Job* weighing_ = nullptr; // a large case, explained beside the window
};

} // namespace ingot::app
