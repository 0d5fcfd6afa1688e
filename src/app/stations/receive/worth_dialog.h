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
    // The readings are explained beside the window; what they say is to be replaced then takes the place of the guess,
    // unless a figure was typed meanwhile.
    void explain_first(Id pack);

    Workshop& workshop_;
    WorthCase case_;
    WorthResult result_;
    RoutesView* routes_ = nullptr;
    QLabel* words_ = nullptr;
    std::vector<std::pair<QLineEdit*, std::function<void(WorthCase&, double)>>> fields_;
};

} // namespace ingot::app
