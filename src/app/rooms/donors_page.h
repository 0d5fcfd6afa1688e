// The plan of moves over all packs of a kind, and carrying it out step by step: the label of the pack that a group
// comes from, scanned, says that the step is done.
#pragma once

#include "app/rooms/pack_room.h"
#include "core/donors/donors.h"

#include <set>

class QCheckBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QTableWidget;

namespace ingot {
class Job;
}

namespace ingot::app {

class Panel;

// For packs at Triage or Open of the same chemistry and layout as the room's pack.
class DonorsPage : public PackRoom {
    Q_OBJECT
public:
    explicit DonorsPage(Workshop& workshop, QWidget* parent = nullptr);
    void set_pack(Id pack) override;
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    void pose() override;
    [[nodiscard]] bool planning() const;

private:
    struct Move {
        std::string into, from;
        Id into_id = 0, from_id = 0;
        int place = 0, group = 0;
        double volts = 0;
        std::optional<double> capacity_ah;
    };
    void build_rules(Panel* panel);
    void plan();
    void take(const DonorQuestion& question, const DonorRules& rules, int series, const Result<DonorPlan>& planned);
    void choose_host(std::set<std::string>& into, std::set<std::string>& out_of);
    [[nodiscard]] QString hosts_in_words() const;
    [[nodiscard]] QString described(Id pack) const;
    void fill_table();
    void show_step();
    void send_to_open();
    [[nodiscard]] QStringList typed() const;

    Panel* panel_ = nullptr;
    QLabel* summary_ = nullptr;
    QLabel* step_ = nullptr;
    QLineEdit* window_ = nullptr;
    QLineEdit* tolerance_ = nullptr;
    QCheckBox* one_model_ = nullptr;
    QCheckBox* unlike_ = nullptr;
    DonorRules rules_; // which packs are rebuilt, as the person said
    QAction *never_host_ = nullptr, *host_first_ = nullptr;
    QAction* to_open_ = nullptr;
    QAction* stop_ = nullptr;
    QWidget* stop_button_ = nullptr;
    QProgressBar* progress_ = nullptr;
    Job* beside_ = nullptr;
    QStringList planned_for_;             // the fields' texts
    std::map<std::string, Id> left_over_; // packs that the plan does not complete
    QTableWidget* table_ = nullptr;
    std::vector<Move> moves_;
    std::size_t next_ = 0;
};

} // namespace ingot::app
