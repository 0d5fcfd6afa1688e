// Need: what the device asks of a pack, which designs could take the old one's place, what of the stock could fill
// them.
#pragma once

#include "app/stations/build/build_view.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QTableWidget;

namespace ingot::app {

class WindowBars;

class NeedView : public BuildView {
    Q_OBJECT
public:
    NeedView(Workshop& workshop, const std::vector<QAction*>& commands, QWidget* parent);
    // The build has no units yet, and a design with a model that could fill it is chosen.
    [[nodiscard]] bool may_take_design() const;
    // The build gets the chosen design's chemistry, groups and model.
    bool take_design();
    void refresh() override;
    bool take_line(const QString& line) override;
    void echo(const QString& typed) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;

signals:
    void chosen_changed();

private:
    void show_fillings();
    void keep_words(DesignFigure figure, QLineEdit* line);

    DesignBoxes* boxes_ = nullptr;
    QComboBox *charger_ = nullptr, *old_ = nullptr, *board_kind_ = nullptr, *joining_ = nullptr;
    QLineEdit *board_ = nullptr, *moves_over_ = nullptr;
    WindowBars* bars_ = nullptr;
    QLabel *none_ = nullptr, *fill_words_ = nullptr;
    QTableWidget* fillings_ = nullptr;
    std::vector<BuildService::Filling> offered_; // as the rows
    std::map<std::string, double> costs_;        // of a unit, by model
    bool filling_ = false;
};

} // namespace ingot::app
