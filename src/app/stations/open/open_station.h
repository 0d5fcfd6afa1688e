// Open: a pack becomes units with a code, an origin and a home; labels are printed.
#pragma once

#include "app/stations/station.h"

class QComboBox;
class QLabel;
class QLineEdit;

namespace ingot::app {

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

private:
    void choose_pack(Id pack);
    void open_pack();
    void print_labels();
    void show_plan();
    // The pack opened here last, else the one whose units are the newest; 0: none.
    [[nodiscard]] Id pack_to_label() const;
    [[nodiscard]] std::vector<Id> units_to_label() const;

    QComboBox* packs_ = nullptr;
    Panel* panel_ = nullptr;
    PackPicture* picture_ = nullptr;
    QComboBox* model_ = nullptr;
    QLineEdit* roll_ = nullptr;
    QLineEdit* tray_ = nullptr;
    QLabel* plan_ = nullptr;
    Panel* last_ = nullptr;
    QLabel* last_words_ = nullptr;
    QAction* open_ = nullptr;
    QAction* print_ = nullptr;
    Id pack_ = 0;
    Id last_opened_ = 0;
    bool filling_ = false;
};

} // namespace ingot::app
