// Receive: what came in, is it safe to touch, can its claims be true?
#pragma once

#include "app/stations/station.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QSpinBox;

namespace ingot::app {

class PackPicture;
class Panel;
class PressButton;
class RecordTable;

class ReceiveStation : public StationView {
    Q_OBJECT
public:
    explicit ReceiveStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override { return tr("a pack label selects it"); }
    [[nodiscard]] EvidenceContent evidence() const override;
    void pose() override;

    // A passport as JSON: a pack of this bench is looked at, another one is taken in.
    bool take_in_passport_file(const QString& path);

private:
    void take_in_by_passport();
    void refuse();
    void take_in_loose();
    void correct_layout();
    QWidget* make_list();
    QWidget* make_selected();
    QWidget* make_form();
    void select(Id pack);
    void show_selected();
    void show_form_objections();
    [[nodiscard]] Assembly typed_pack() const;
    void add_pack();
    void same_again();
    void send_kind_to_open();
    void count_up_label();
    void toggle_finding(const std::string& code, bool on);

    RecordTable* table_ = nullptr;
    Panel* selected_panel_ = nullptr;
    PackPicture* picture_ = nullptr;
    QLabel* objections_ = nullptr;
    QLabel* finding_words_ = nullptr;
    Panel* gate_ = nullptr;
    std::map<std::string, QCheckBox*> findings_;
    QComboBox* lot_ = nullptr;
    QLineEdit* label_ = nullptr;
    QComboBox* chemistry_ = nullptr;
    QSpinBox* series_ = nullptr;
    QSpinBox* parallel_ = nullptr;
    QSpinBox* cells_ = nullptr;
    QSpinBox* between_taps_ = nullptr;
    QComboBox* format_ = nullptr;
    QLineEdit* capacity_ = nullptr;
    QLineEdit* voltage_ = nullptr;
    QLabel* form_words_ = nullptr;
    QAction* to_triage_ = nullptr;
    QAction* all_to_open_ = nullptr;
    QAction* refuse_ = nullptr;
    QAction* again_ = nullptr;
    QAction* worth_ = nullptr;
    QAction* particulars_ = nullptr;
    QLineEdit* intake_ = nullptr;
    QAction* add_ = nullptr;
    Id selected_ = 0;
    bool filling_ = false;
};

} // namespace ingot::app
