// A pack as its cells stand, both faces side by side: the front as it lies on the bench, the back turned over
// (mirrored). Pieces of strip carry a look of their own: how much they carry, or whether they are welded. Keyboard:
// left and right walk the pieces.
#pragma once

#include "app/parts/painted.h"
#include "core/build/layout.h"

#include <vector>

namespace ingot::app {

enum class PieceLook { plain, cool, fair, warm, too_much, done, now, waiting };
[[nodiscard]] QString piece_look_name(PieceLook look);
void draw_piece_look(QPainter& painter, const QPainterPath& path, PieceLook look);

class LayoutPicture : public Painted {
    Q_OBJECT
public:
    enum class Faces { both, front, back };
    explicit LayoutPicture(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    // `looks` as the layout's pieces; none: plain. `diameter_m` of a cell, `strip_m` the strip's width.
    void set(const Layout& layout, double diameter_m, double strip_m, double case_width_m, double case_height_m);
    void clear();
    void set_looks(std::vector<PieceLook> looks, std::vector<QString> values);
    void show_faces(Faces faces);
    void choose_piece(int piece); // -1: none
    [[nodiscard]] int piece() const { return piece_; }
    void mark_cell(int cell); // -1: none
    [[nodiscard]] QSize sizeHint() const override { return {700, 260}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {300, 110}; }

signals:
    void piece_chosen(int piece);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Sheet {
        QRectF at;        // of the case
        double scale = 1; // pixels per m
        bool mirrored = false;
    };
    [[nodiscard]] Sheet sheet(StripDrawing::Face face) const;
    [[nodiscard]] QPointF place(const Sheet& sheet, const LayoutCell& cell) const;
    [[nodiscard]] QPainterPath outline(const Sheet& sheet, const LayoutPiece& piece) const;
    void draw_face(QPainter& painter, StripDrawing::Face face) const;
    [[nodiscard]] QString piece_name(std::size_t piece) const;

    Layout layout_;
    double diameter_m_ = 0, strip_m_ = 0, case_width_m_ = 0, case_height_m_ = 0;
    std::vector<PieceLook> looks_;
    std::vector<QString> values_;
    Faces faces_ = Faces::both;
    int piece_ = -1, cell_ = -1;
};

} // namespace ingot::app
