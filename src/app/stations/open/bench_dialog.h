// The bench after a pack is cut open: its units group by group, findings by single keys, dead ones straight to
// recycling, and the trays.
#pragma once

#include "workshop/workshop.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QLineEdit;

namespace ingot::app {

class StripPicture;
class TrayPicture;

// Walk the units with the arrow keys; a letter notes a finding, D sends the unit to recycling, M sets its model.
class UnitsDialog : public QDialog {
    Q_OBJECT
public:
    UnitsDialog(QWidget* parent, Workshop& workshop, Id pack);

signals:
    // Done and recorded; the station keeps the way back.
    void model_set(ingot::Id unit, const QString& before, const QString& after);

private:
    void fill();
    void act(QChar letter);
    void show_chosen();
    [[nodiscard]] Id chosen() const;

    Workshop& workshop_;
    Id pack_;
    std::vector<Id> units_; // by place; 0 where there is none any more
    TrayPicture* picture_ = nullptr;
    QComboBox* model_ = nullptr;
    QLabel* words_ = nullptr;
};

// The strips as they are found, drawn before they are cut. Every change is kept at once.
class StripsDialog : public QDialog {
    Q_OBJECT
public:
    StripsDialog(QWidget* parent, Workshop& workshop, Id pack);

private:
    void keep();
    void say();

    Workshop& workshop_;
    Id pack_;
    StripPicture* picture_ = nullptr;
    QLabel* words_ = nullptr;
};

// Trays as pictures: what stands where. A tray's name then unit codes in the scan line fill it.
class TraysDialog : public QDialog {
    Q_OBJECT
public:
    TraysDialog(QWidget* parent, Workshop& workshop);
    ~TraysDialog() override;

private:
    void fill();
    void scanned();

    Workshop& workshop_;
    std::string tray_;
    std::vector<Id> in_well_;
    QComboBox* trays_ = nullptr;
    TrayPicture* picture_ = nullptr;
    QLineEdit* columns_ = nullptr;
    QLineEdit* rows_ = nullptr;
    QLineEdit* scan_ = nullptr;
    QLabel* words_ = nullptr;
};

} // namespace ingot::app
