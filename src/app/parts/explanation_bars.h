// Explanations, best first: title, probability as figure and bar, a sentence of reason under each.
#pragma once

#include <QWidget>

#include <vector>

namespace ingot::app {

struct ExplanationBar {
    QString title;
    double probability = 0; // 0..1
    QString below;
    QString said = {}; // in place of per cents, where those would claim more than is known
    [[nodiscard]] QString figure() const;
};

class ExplanationBars : public QWidget {
    Q_OBJECT
public:
    explicit ExplanationBars(QWidget* parent = nullptr);
    void set(std::vector<ExplanationBar> bars);
    [[nodiscard]] bool hasHeightForWidth() const override { return true; }
    [[nodiscard]] int heightForWidth(int width) const override;
    [[nodiscard]] QSize sizeHint() const override { return {240, heightForWidth(width() > 0 ? width() : 270)}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    [[nodiscard]] int height_of(const ExplanationBar& bar, int width) const;
    std::vector<ExplanationBar> bars_;
};

} // namespace ingot::app
