// Prove: rounds of readings on a joined pack, one after the other; what is out of line, and the passport.
#pragma once

#include "app/stations/station.h"
#include "workshop/prove.h"

class QLabel;
class QStackedWidget;

namespace ingot::app {

class FieldView;
class Panel;
class PressButton;
class ProofView;
class RecordCombo;

class ProveStation : public StationView {
    Q_OBJECT
public:
    explicit ProveStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    // A label chooses a pack; a figure is the reading that is asked for; "12 A" is the load.
    bool take_line(const QString& line) override;
    [[nodiscard]] std::optional<Quantity> wanted_reading() const override;
    void echo(const QString& typed) override;
    bool step_back() override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    [[nodiscard]] Id pack() const { return pack_; }
    [[nodiscard]] ProofRound round() const;
    void show_round(ProofRound round);
    // What was proved, or what became of it since; a pack that was not built here has only the latter.
    void show_field(bool field);
    [[nodiscard]] bool in_field() const { return in_field_; }
    bool write_passport_to(const QString& path); // PDF, or JSON by its name

private:
    void add_commands();
    void move_to(AssemblyState state);
    [[nodiscard]] bool take_field_figure(double value, const QString& line);
    void choose(Id pack);
    void sign();
    void send_back();
    void save_passport();
    void update_commands();
    void step_round(int by);
    void leave_out();
    void ask_bench_sign();
    void join_strings();

    RecordCombo* packs_ = nullptr;
    Panel* head_ = nullptr;
    ProofView* rounds_ = nullptr;
    QLabel* words_ = nullptr;
    QAction *sign_ = nullptr, *passport_ = nullptr, *service_ = nullptr, *returned_ = nullptr, *back_ = nullptr;
    QAction *proof_view_ = nullptr, *field_view_ = nullptr, *balanced_ = nullptr, *triage_ = nullptr,
            *leave_out_ = nullptr, *bench_sign_ = nullptr, *strings_ = nullptr;
    std::vector<PressButton*> view_buttons_; // proof, field
    QStackedWidget* stack_ = nullptr;
    FieldView* field_ = nullptr;
    bool in_field_ = false;
    Id pack_ = 0;
    bool filling_ = false;
};

} // namespace ingot::app
