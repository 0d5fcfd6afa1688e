// Prove: rounds of readings on a joined pack, one after the other; what is out of line, and the passport.
#pragma once

#include "app/stations/station.h"
#include "workshop/prove.h"

class QLabel;
class QStackedWidget;

namespace ingot::app {

class CourseView;
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
    void show_field(bool field) { show_view(field ? View::field : View::proof); }
    enum class View { proof, course, field };
    void show_view(View view);
    [[nodiscard]] View view() const { return view_; }
    [[nodiscard]] bool in_field() const { return view_ == View::field; }
    // A board's log, laid over the simulated run.
    void read_log(const QString& path);
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
    void ask_log();

    RecordCombo* packs_ = nullptr;
    Panel* head_ = nullptr;
    ProofView* rounds_ = nullptr;
    QLabel* words_ = nullptr;
    QAction *sign_ = nullptr, *passport_ = nullptr, *service_ = nullptr, *returned_ = nullptr, *back_ = nullptr;
    QAction *proof_view_ = nullptr, *course_view_ = nullptr, *field_view_ = nullptr, *balanced_ = nullptr,
            *triage_ = nullptr, *leave_out_ = nullptr, *bench_sign_ = nullptr, *strings_ = nullptr,
            *read_log_ = nullptr, *take_log_ = nullptr, *forget_log_ = nullptr, *label_ = nullptr, *stop_log_ = nullptr;
    std::vector<PressButton*> view_buttons_; // as View
    QStackedWidget* stack_ = nullptr;
    CourseView* course_ = nullptr;
    FieldView* field_ = nullptr;
    View view_ = View::proof;
    Id pack_ = 0;
    bool filling_ = false;
};

} // namespace ingot::app
