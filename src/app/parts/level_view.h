// Groups as bars to scale, their tops magnified above; the units in each; locks. A good match looks dead level.
#pragma once

#include "app/parts/painted.h"
#include "core/match/problem.h"

#include <set>

namespace ingot::app {

class LevelView : public Painted {
    Q_OBJECT
public:
    explicit LevelView(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(const MatchProblem& problem, const MatchResult& result);
    void clear(const QString& words);
    [[nodiscard]] int selected_group() const { return group_; } // 0-based, -1: none
    [[nodiscard]] const QString& selected_unit() const { return unit_; }
    void select(int group, const QString& unit);
    // The unit that is about to be exchanged; empty: none.
    void hold(const QString& unit);
    [[nodiscard]] QRectF unit_box(int group, int place) const;
    [[nodiscard]] QSize minimumSizeHint() const override { return {420, 195}; }

signals:
    void chosen(int group, const QString& unit);
    void lock_toggled(const QString& unit, int group);
    void exclude_wanted(const QString& unit);
    // A unit is dragged over another one, dropped on it, or let go elsewhere.
    void exchange_seen(const QString& unit, const QString& with);
    void exchange_wanted(const QString& unit, const QString& with);
    void exchange_left();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF column(int group) const;
    [[nodiscard]] bool shows_units() const;
    bool hit(const QPointF& at, int& group, int& place) const;
    [[nodiscard]] QString unit_under(const QPointF& at) const; // in another group than the selected one; empty: none
    void paint_tops(QPainter& painter) const;
    void paint_group(QPainter& painter, int group) const;
    void paint_conductance(QPainter& painter) const;

    MatchProblem problem_;
    MatchResult result_;
    std::set<std::size_t> locked_;
    QString empty_words_;
    int group_ = -1;
    QString unit_;
    QString held_;
    QString over_; // what the dragged unit is above
    QPointF pressed_;
    bool dragging_ = false;
};

} // namespace ingot::app
