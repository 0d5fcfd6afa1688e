// Prove: rounds of readings on a joined pack, one after the other; what is out of line, and the passport.
#pragma once

#include "app/stations/station.h"
#include "workshop/prove.h"

class QLabel;
class QTableWidget;

namespace ingot::app {

class ChoiceRow;
class Panel;
class ReadingBoxes;
class RecordCombo;

class ProveStation : public StationView {
    Q_OBJECT
public:
    explicit ProveStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    // A label chooses a pack; a figure is the reading that is asked for; "12 A" is the load.
    bool take_line(const QString& line) override;
    void echo(const QString& typed) override;
    bool step_back() override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    [[nodiscard]] Id pack() const { return pack_; }
    [[nodiscard]] ProofRound round() const { return round_; }
    void show_round(ProofRound round);
    bool write_passport_to(const QString& path); // PDF, or JSON by its name

private:
    void choose(Id pack);
    void sign();
    void send_back();
    void save_passport();
    void next_box();
    [[nodiscard]] int boxes() const; // groups, then the terminals; under load the amperes first
    [[nodiscard]] int first_empty() const;
    void show_boxes(const QString& typed = {});
    void show_table();
    bool take_figure(double value, const QString& line);

    RecordCombo* packs_ = nullptr;
    Panel* head_ = nullptr;
    ChoiceRow* rounds_ = nullptr;
    ReadingBoxes* boxes_ = nullptr;
    QLabel *words_ = nullptr, *how_ = nullptr;
    QTableWidget* table_ = nullptr;
    QAction *sign_ = nullptr, *passport_ = nullptr, *service_ = nullptr, *returned_ = nullptr, *back_ = nullptr;
    PackProof proof_;
    Id pack_ = 0;
    ProofRound round_ = ProofRound::at_rest;
    int active_ = 0;
    std::optional<double> load_a_; // typed, before the first group is read
    bool filling_ = false;
};

} // namespace ingot::app
