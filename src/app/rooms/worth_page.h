// "Worth it?": the routes for a pack, with the shop's own prices and hours beside them.
#pragma once

#include "app/rooms/pack_room.h"

#include <QPointer>

class QLabel;
class QLineEdit;
class QGridLayout;

namespace ingot {
class Job;
}

namespace ingot::app {

class Panel;
class RoutesView;

class WorthPage : public PackRoom {
    Q_OBJECT
public:
    explicit WorthPage(Workshop& workshop, QWidget* parent = nullptr);
    void set_pack(Id pack) override;
    void refresh() override;
    bool take_line(const QString& line) override { return line.isEmpty(); }
    [[nodiscard]] QString scan_hint() const override { return tr("a label opens its pack or unit"); }
    [[nodiscard]] EvidenceContent evidence() const override;
    void pose() override; // made-up prices, for a picture in the documentation

private:
    struct Field {
        QLineEdit* edit;
        int digits;
        std::function<double(const WorthCase&)> get;
        std::function<void(WorthCase&, double)> put;
    };
    void add_fields(QGridLayout* grid);
    void fill();
    void weigh();
    void remember();
    // The readings are explained beside the window; what they say is to be replaced then takes the place of the guess,
    // unless a figure was typed meanwhile.
    void explain_first();

    WorthCase case_;
    Panel* panel_ = nullptr;
    QWidget* form_ = nullptr;
    QAction* remember_ = nullptr;
    RoutesView* routes_ = nullptr;
    QLabel* words_ = nullptr;
    std::vector<Field> fields_;
    Job* explaining_ = nullptr;
};

} // namespace ingot::app
