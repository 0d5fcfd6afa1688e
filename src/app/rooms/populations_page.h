// Populations: sources, lots, models side by side; what a further unit would be, how many packs more, what is doubtful.
#pragma once

#include "app/stations/page.h"
#include "workshop/populations.h"

class QLabel;

namespace ingot {
class Job;
}

namespace ingot::app {

class ChoiceRow;
class YieldBars;

class PopulationsPage : public Page {
    Q_OBJECT
public:
    explicit PopulationsPage(Workshop& workshop, QWidget* parent = nullptr);
    [[nodiscard]] QString title() const override { return tr("Populations"); }
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override { return tr("a number: so many more fit units are wanted"); }
    [[nodiscard]] EvidenceContent evidence() const override;
    [[nodiscard]] bool working() const;
    [[nodiscard]] const PopulationAnswer& answer() const { return answer_; }
    [[nodiscard]] YieldBars* bars() const { return bars_; }
    void pose() override;

private:
    void show_bars();
    void show_doubts();
    void write_csv();
    [[nodiscard]] const std::vector<Population>& populations() const;

    Job* job_ = nullptr;
    PopulationAnswer answer_;
    ChoiceRow* by_ = nullptr;
    ChoiceRow* duty_ = nullptr;
    YieldBars* bars_ = nullptr;
    QLabel *none_ = nullptr, *doubts_ = nullptr;
    int wanted_ = 28;
    bool stale_ = true;
};

} // namespace ingot::app
