// Open: a pack becomes units with a code, an origin and a home; labels are printed.
#pragma once

#include "app/print/label_sheet.h"
#include "app/stations/station.h"

class QBoxLayout;
class QComboBox;
class QLabel;
class QLineEdit;
class QVBoxLayout;

namespace ingot::app {

class RecordCombo;
class PackPicture;
class Panel;

class OpenStation : public StationView {
    Q_OBJECT
public:
    explicit OpenStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override { return tr("a pack label selects it"); }
    [[nodiscard]] EvidenceContent evidence() const override;
    // For tests and for printing without a dialog.
    bool print_labels_to(const QString& path);
    bool write_manifest_to(const QString& path); // PDF, and CSV beside it

private:
    void add_commands();
    void build_pack(QBoxLayout* outer);
    void build_plan(QBoxLayout* outer);
    void build_last(QBoxLayout* outer);
    void choose_pack(Id pack);
    void make_model();
    void open_pack(const std::vector<int>& groups = {}, bool together = false); // empty: all that stands in it
    void ask_groups();
    void ask_together();
    void note_found_parts();
    void print_labels();
    void choose_label_sheet();
    void show_plan();
    void show_steps();
    void attach_photo();
    void write_manifest();
    [[nodiscard]] QString yield_words() const;
    [[nodiscard]] QString expected_yield(const Assembly& pack) const;
    // The pack opened here last, else the one whose units are the newest; 0: none.
    [[nodiscard]] Id pack_to_label() const;
    [[nodiscard]] std::vector<Id> units_to_label() const;

    RecordCombo* packs_ = nullptr;
    Panel* panel_ = nullptr;
    PackPicture* picture_ = nullptr;
    QComboBox* model_ = nullptr;
    QLineEdit* roll_ = nullptr;
    QLineEdit* tray_ = nullptr;
    QLabel* plan_ = nullptr;
    Panel* last_ = nullptr;
    QLabel* last_words_ = nullptr;
    QAction *open_ = nullptr, *some_ = nullptr, *together_ = nullptr;
    QAction* print_ = nullptr;
    QAction* units_ = nullptr;
    QAction* trays_ = nullptr;
    QAction* photo_ = nullptr;
    QAction* strips_ = nullptr;
    QAction* manifest_ = nullptr;
    Panel* steps_panel_ = nullptr;
    QVBoxLayout* steps_ = nullptr;
    std::string shown_plan_;
    Id pack_ = 0;
    Id last_opened_ = 0;
    bool filling_ = false;
};

} // namespace ingot::app
