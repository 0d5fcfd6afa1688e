// Limits and rule sets: every limit of the rules that judge, by keys; another rule set beside them, and the units whose
// duty it would change, one by one.
#pragma once

#include "app/stations/page.h"

#include <array>

class QCheckBox;
class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;

namespace ingot {
class MovedModel;
}

namespace ingot::app {

class Panel;
class RecordTable;

class LimitsPage : public Page {
    Q_OBJECT
public:
    explicit LimitsPage(Workshop& workshop, QWidget* parent = nullptr);
    [[nodiscard]] QString title() const override { return tr("Limits and rule sets"); }
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override { return tr("a unit's label selects it below"); }
    [[nodiscard]] EvidenceContent evidence() const override;
    [[nodiscard]] QWidget* hands_on() const override;
    [[nodiscard]] RecordTable* table() const { return table_; }
    [[nodiscard]] MovedModel* moved() const { return model_; }

protected:
    // Undo and redo are the window's where nothing is typed.
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    static constexpr int limit_rows = 7;
    static constexpr int demand_rows = 5;
    void add_commands();
    void make_grid(Panel* panel);
    void make_demands(Panel* panel, QGridLayout* grid);
    void make_comparison();
    void fill();
    void take_limit(int row, int duty);
    void take_demand(int row);
    void change(const RuleSet& after, const QString& what);
    void compare();
    [[nodiscard]] std::string chemistry() const; // key of the limits that are shown
    [[nodiscard]] const RuleSet* other() const;  // compared with; null: nothing

    std::array<std::array<QLineEdit*, 3>, limit_rows> limits_{};
    std::array<QComboBox*, demand_rows> demands_{};
    QCheckBox* deep_ = nullptr;
    QComboBox *chemistry_ = nullptr, *with_ = nullptr;
    QLabel *name_ = nullptr, *words_ = nullptr;
    QAction *save_ = nullptr, *own_ = nullptr;
    RecordTable* table_ = nullptr;
    MovedModel* model_ = nullptr;
    bool filling_ = false;
};

} // namespace ingot::app
