// Sort: capacity against resistance with the duty regions; limits that can be moved take effect at once on all units.
#pragma once

#include "app/stations/station.h"
#include "workshop/unit_quantities.h"

class QComboBox;
class QLabel;
class QStackedWidget;

namespace ingot::app {

class DutyScatter;
class Panel;
class QuantityScatter;
class RecordTable;

class SortStation : public StationView {
    Q_OBJECT
public:
    explicit SortStation(Workshop& workshop, QWidget* parent = nullptr);
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void pose() override;
    [[nodiscard]] DutyScatter* scatter() const { return scatter_; }
    [[nodiscard]] RecordTable* list() const { return list_; }
    // The list in the scatter's place; what is selected in one is selected in the other.
    void show_list(bool list);
    // Any two quantities across and up; capacity against DC resistance shows the limits.
    void show_axes(UnitQuantity x, UnitQuantity y);
    [[nodiscard]] QuantityScatter* quantity_scatter() const { return quantities_; }
    // Limits: drive, store, light; capacity in Ah or resistance in ohm. Can be undone.
    void set_limit(bool capacity, int duty, double value);

private:
    void withdraw_overrule();
    void add_commands();
    void make_rules(Workshop& workshop);
    void choose_rules();
    void fill_models();
    void fill_rules();
    void fill_scatter();
    void fill_quantities();
    void choose_page();
    void copy_rules();
    void make_picture(Workshop& workshop);
    [[nodiscard]] UnitQuantity axis(bool across) const;
    [[nodiscard]] std::string model() const;
    [[nodiscard]] RuleSet with_limit(bool capacity, int duty, double value) const;

    QComboBox* models_ = nullptr;
    Panel* rules_panel_ = nullptr;
    QLabel* school_ = nullptr;
    QWidget* counts_ = nullptr;
    QLabel* outside_ = nullptr;
    DutyScatter* scatter_ = nullptr;
    Panel* scatter_panel_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    RecordTable* list_ = nullptr;
    QuantityScatter* quantities_ = nullptr;
    QComboBox *across_ = nullptr, *up_ = nullptr;
    QComboBox* rules_ = nullptr;
    QLabel* changes_ = nullptr;
    QAction* save_ = nullptr;
    QAction* list_command_ = nullptr;
    Id unit_ = 0;
    bool typing_limit_ = false; // a limit was tapped: the next number is its value
    bool typing_capacity_ = false;
    int typing_duty_ = 0;
    RuleSet before_drag_;
    bool dragging_ = false;
    bool filling_ = false;
};

} // namespace ingot::app
