// Trays as pictures: what stands where. A tray's name, then unit codes in the scan field fill it.
#pragma once

#include "app/stations/page.h"

class QComboBox;
class QLabel;
class QLineEdit;

namespace ingot::app {

class TrayPicture;

class TraysPage : public Page {
    Q_OBJECT
public:
    explicit TraysPage(Workshop& workshop, QWidget* parent = nullptr);
    [[nodiscard]] QString title() const override { return tr("Trays"); }
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;

private:
    void fill();
    void resize_tray();
    void put(Id unit);
    void say_well();
    [[nodiscard]] Id chosen() const;

    std::string tray_;
    std::vector<Id> in_well_;
    QComboBox* trays_ = nullptr;
    TrayPicture* picture_ = nullptr;
    QLineEdit* columns_ = nullptr;
    QLineEdit* rows_ = nullptr;
    QLabel* words_ = nullptr;
};

} // namespace ingot::app
