// What a learner may measure next: cards with minutes of hands, waiting and risk, and no sign of what they would tell
// before it is answered.
// Keyboard: arrows choose, Enter takes.
#pragma once

#include "app/parts/painted.h"

#include <vector>

namespace ingot::app {

struct PracticeCard {
    QString name, below;
    double minutes = 0;
    QString wait; // "+ 3 h"; empty: none
    int risk = 0; // 0..3
    bool taken = false;
    QString tells = {}; // once it is answered: how sure Ingot would be of each true cause with it
};

class PracticeCards : public Painted {
    Q_OBJECT
public:
    explicit PracticeCards(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(std::vector<PracticeCard> cards);
    void choose(int card); // 0-based
    [[nodiscard]] int chosen() const { return chosen_; }
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return sizeHint(); }

signals:
    void wanted(int card);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF card_at(int card) const;
    std::vector<PracticeCard> cards_;
    int chosen_ = 0;
};

// One series against a limit: capacity by cycle.
class PracticeSeries : public Painted {
    Q_OBJECT
public:
    explicit PracticeSeries(QWidget* parent = nullptr);
    // `later` is shown, hollow, once the answer is given.
    void set(std::vector<double> values, double limit, const QString& axis, const QString& unit,
             std::vector<double> later = {});
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {300, 140}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    [[nodiscard]] QRectF field() const;
    [[nodiscard]] QPointF spot(std::size_t index, double value) const;
    std::vector<double> values_, later_;
    double limit_ = 0, low_ = 0, high_ = 1;
    QString axis_, unit_;
};

} // namespace ingot::app
