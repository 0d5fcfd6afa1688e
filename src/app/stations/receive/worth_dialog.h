// "Worth it?": the routes for a pack, with the shop's own prices and hours beside them.
#pragma once

#include "workshop/workshop.h"

#include <QDialog>

class QLabel;
class QLineEdit;

namespace ingot::app {

class RoutesView;

class WorthDialog : public QDialog {
    Q_OBJECT
public:
    WorthDialog(QWidget* parent, Workshop& workshop, Id pack);
    ~WorthDialog() override;
    // Made-up prices, for a picture in the documentation.
    void pose();

private:
    void weigh();

    Workshop& workshop_;
    WorthCase case_;
    WorthResult result_;
    RoutesView* routes_ = nullptr;
    QLabel* words_ = nullptr;
    std::vector<std::pair<QLineEdit*, std::function<void(WorthCase&, double)>>> fields_;
};

} // namespace ingot::app
