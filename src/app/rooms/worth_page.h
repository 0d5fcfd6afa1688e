// "Worth it?": what is wanted, the routes for a pack, with the shop's own prices and hours and the chosen route's own
// figures beside them.
#pragma once

#include "app/rooms/pack_room.h"

#include <QPointer>

#include <functional>

class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QStackedWidget;

namespace ingot {
class Job;
}

namespace ingot::app {

class ChoiceRow;
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
    // A figure that is typed. `get` and `put` in what is shown, per cents as 80.
    struct Field {
        QLineEdit* edit;
        QLabel* label;
        int digits;
        bool of_route; // the chosen one's own
        std::function<double(const WorthCase&)> get;
        std::function<void(WorthCase&, double)> put;
        std::function<bool(WorthRoute)> has; // of a route's own: whether it has that figure
    };
    struct Pick {
        QComboBox* box;
        QLabel* label;
        std::function<int(const WorthCase&)> get;
        std::function<void(WorthCase&, int)> put;
        std::function<bool(WorthRoute)> has; // empty: the pack's
    };
    void add_commands();
    enum class Figures { pack, prices, route };
    void show_figures_of(Figures figures);
    QWidget* make_form();
    void add_pack_fields(QGridLayout* grid);
    void add_shop_fields(QGridLayout* grid);
    void add_route_fields(QGridLayout* grid);
    void add_heading(QGridLayout* grid, const QString& text);
    void add_field(QGridLayout* grid, const QString& name, const char* object, Field field);
    void add_pick(QGridLayout* grid, const QString& name, const char* object, const QStringList& choices, Pick pick);
    void fill();
    void show_figures(bool of_route_only);
    [[nodiscard]] std::optional<WorthCase> typed(); // nothing: a figure is none, which is said
    void weigh();
    void remember();
    void note_hours();
    void take_learned();
    [[nodiscard]] QStringList what_it_says(const WorthResult& result) const;
    // The readings are explained beside the window; what they say is to be replaced then takes the place of the guess,
    // unless a figure was typed meanwhile.
    void explain_first();

    WorthCase case_;
    WorthResult result_;
    Panel* panel_ = nullptr;
    QWidget* form_ = nullptr;
    QLabel* route_name_ = nullptr;
    QAction *remember_ = nullptr, *took_ = nullptr, *learned_ = nullptr;
    ChoiceRow *aim_ = nullptr, *pages_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    RoutesView* routes_ = nullptr;
    QLabel* words_ = nullptr;
    std::vector<Field> fields_;
    std::vector<Pick> picks_;
    bool filling_ = false;
    Job* explaining_ = nullptr;
};

} // namespace ingot::app
