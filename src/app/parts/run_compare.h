// Two designs under one load side by side: how long each runs, which group ends it and what the others keep, what one
// unit carries, how warm each place becomes, first charge, months on the shelf, room and mass; between them what
// differs and whether that is better.
#pragma once

#include "app/parts/painted.h"
#include "workshop/build_run.h"

namespace ingot::app {

// The unit that carries most, and what stays at the most in a group when another ended the run.
[[nodiscard]] const PackRun::Cell& hardest_unit(const PackRun& run);
[[nodiscard]] double most_left_ah(const PackRun& run);

class RunCompare : public Painted {
    Q_OBJECT
public:
    explicit RunCompare(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    // `left` and `right` are variants; where both are one, it stands alone.
    void set(const BuildRun& run, const BuildQuestion& question, int left, int right);
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    enum class Row { run, ends, unit, heat, charge, shelf, room };
    static constexpr int rows = 7;
    struct Said {
        QString strong, below; // figure, and what goes with it
        bool known = true;
    };
    struct Change {
        QString words;
        std::optional<bool> better; // nothing: no matter, or not known
    };
    [[nodiscard]] const VariantRun& variant(bool right) const;
    [[nodiscard]] bool alone() const { return left_ == right_; }
    [[nodiscard]] QString title(bool right) const;
    [[nodiscard]] static QString row_title(Row row);
    [[nodiscard]] QString row_below(Row row) const;
    [[nodiscard]] Said said(const VariantRun& variant, Row row) const;
    [[nodiscard]] Change change(Row row) const;
    [[nodiscard]] QRectF row_at(int row) const;
    [[nodiscard]] QRectF column(bool right) const;
    void draw_row(QPainter& painter, const VariantRun& variant, Row row, const QRectF& at) const;
    void draw_left_over(QPainter& painter, const VariantRun& variant, const QRectF& at) const;
    void draw_share(QPainter& painter, const VariantRun& variant, const QRectF& at) const;
    void draw_heat(QPainter& painter, const VariantRun& variant, const QRectF& at) const;
    void draw_charge(QPainter& painter, const VariantRun& variant, const QRectF& at) const;
    void draw_shelf(QPainter& painter, const VariantRun& variant, const QRectF& at) const;
    void draw_room(QPainter& painter, const VariantRun& variant, const QRectF& at) const;
    void draw_change(QPainter& painter, const Change& change, const QRectF& at) const;

    BuildRun run_;
    BuildQuestion question_;
    int left_ = 0, right_ = 0;
};

} // namespace ingot::app
