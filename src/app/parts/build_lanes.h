// Several builds from one stock: the stock as a rack of units, weakest left, strongest right, and under it one lane a
// build, in the order in which they are served. A unit keeps its place in every lane, so that the lanes add up to the
// rack. Keyboard: up and down choose a lane, Enter opens it.
#pragma once

#include "app/parts/painted.h"
#include "core/cells/evidence.h"

#include <optional>
#include <vector>

namespace ingot::app {

struct BuildLane {
    QString name; // "B-021, mower pack"
    QString form; // "7S4P"
    QString asks; // "Drive, 9.20 Ah"
    Duty duty = Duty::light;
    std::vector<std::size_t> ranks;  // of its units in the rack
    std::vector<double> sums_ah;     // of its groups
    std::optional<double> wanted_ah; // more counts nothing
    double at_most_ah = 0;           // what the builds above leave
    double if_first_ah = 0;
    double usable_ah = 0;
    enum class State { searching, met, lacks, empty } state = State::searching;
    QString verdict; // "met", "0.15 short", "8 units lacking"
};

class BuildLanes : public Painted {
    Q_OBJECT
public:
    explicit BuildLanes(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    // `capacities_ah` of the stock, rising.
    void set(std::vector<double> capacities_ah, std::vector<BuildLane> lanes);
    void choose(int lane); // -1: none
    [[nodiscard]] int chosen() const { return chosen_; }
    [[nodiscard]] const std::vector<BuildLane>& lanes() const { return lanes_; }
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;
    // A unit's place is framed in rack and lane; nothing: no longer.
    void frame(std::optional<std::size_t> rank);

signals:
    void chosen_changed();
    void entered();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Rack {
        QRectF at;
        int columns = 1, rows = 1; // rows units a column
        bool marks = true;         // single units can be told apart
    };
    [[nodiscard]] QRectF lane_at(int lane) const;
    [[nodiscard]] Rack rack_in(const QRectF& lane) const;
    void paint_units(QPainter& painter, const Rack& rack, const std::vector<char>& filled, bool hollow_too) const;
    void paint_stock(QPainter& painter) const;
    void paint_lane(QPainter& painter, int index) const;
    void paint_sums(QPainter& painter, const BuildLane& lane, const QRectF& at) const;
    void paint_verdict(QPainter& painter, const BuildLane& lane, const QRectF& at) const;

    std::vector<double> capacities_ah_;
    std::vector<BuildLane> lanes_;
    std::vector<char> taken_; // by any lane
    std::optional<std::size_t> framed_;
    int chosen_ = -1;
};

} // namespace ingot::app
