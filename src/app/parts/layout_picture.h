// A pack as its cells stand, both faces side by side: the front as it lies on the bench, the back turned over
// (mirrored). Flat cells have both their terminals on the one side that is seen, in one drawing. Pieces of strip carry
// a look of their own: how much they carry, or whether they are welded. Keyboard: left and right walk the pieces, up
// and down the cells, page up and down (or the wheel with Ctrl) go closer and back. Where it may be moved, a cell, a
// lead or a sense lead is dragged, or moved by the arrows with Shift.
#pragma once

#include "app/parts/painted.h"
#include "core/build/layout_moves.h"

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
    // Pieces look plain at first. `strip_m`: the strip's width; 0: not known.
    void set(const Layout& layout, double strip_m, double case_width_m, double case_height_m);
    void clear();
    void set_looks(std::vector<PieceLook> looks, std::vector<QString> values);
    void show_faces(Faces faces);
    void choose_piece(int piece); // -1: none
    [[nodiscard]] int piece() const { return piece_; }
    void choose_cell(int cell); // -1: none
    [[nodiscard]] int cell() const { return cell_; }
    [[nodiscard]] double zoom() const { return zoom_; }
    // Whether a hand may move what stands; `moved`: cells that it moved already, as the layout's.
    void set_movable(bool movable, std::vector<char> moved);
    [[nodiscard]] LayoutPlace place_of(std::size_t cell) const;
    [[nodiscard]] QSize sizeHint() const override { return {700, 260}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {300, 110}; }

signals:
    void piece_chosen(int piece);
    void cell_chosen(int cell);
    // A hand moves something, counted from where it stood when it was taken hold of; `done`: it lets go.
    void moving(const ingot::LayoutMove& move, bool done);
    void dropped_on(int cell, int other); // a cell on another one: they change places
    void let_go();                        // where it was taken: nothing moves
    void link_unwanted();                 // the chosen one

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Sheet {
        QRectF at;        // of the case
        double scale = 1; // pixels per m
        bool mirrored = false;
    };
    [[nodiscard]] QRectF area(StripDrawing::Face face) const; // of the widget, that its drawing may take
    [[nodiscard]] Sheet sheet(StripDrawing::Face face) const;
    void go_closer(double factor, const QPointF& to_m); // `to_m`: of the layout, that stays in sight
    [[nodiscard]] QPointF middle_of_choice() const;     // m
    struct Hold {
        enum class What { nothing, cell, lead, sense };
        What what = What::nothing;
        int number = 0; // of the cell, or of the lead: minus 0, plus 1
        StripDrawing::Face face{};
        QPointF from;
        Layout layout; // as it was then
        Sheet on;
        bool moved = false;
    };
    [[nodiscard]] QPointF place(const Sheet& sheet, double x_m, double y_m) const;
    [[nodiscard]] QPointF place(const Sheet& sheet, const LayoutCell& cell) const; // its centre
    [[nodiscard]] QPointF weld(const Sheet& sheet, const LayoutCell& cell, StripDrawing::Face face) const;
    [[nodiscard]] QRectF tap_label(const Sheet& sheet, const SenseTap& tap) const;
    [[nodiscard]] QPainterPath cell_outline(const Sheet& sheet, const LayoutCell& cell) const;
    [[nodiscard]] bool shown(StripDrawing::Face face) const;
    [[nodiscard]] std::vector<StripDrawing::Face> drawings() const; // one for flat cells
    void draw_cells(QPainter& painter, StripDrawing::Face face, const Sheet& on) const;
    void draw_signs(QPainter& painter, StripDrawing::Face face, const Sheet& on) const;
    [[nodiscard]] int held_near(const QPointF& at, const std::vector<std::size_t>& among) const;
    [[nodiscard]] std::vector<std::size_t> cells_for_hold() const;
    [[nodiscard]] std::optional<LayoutMove> held_move(const QPointF& at) const;
    [[nodiscard]] int under(const QPointF& at) const;
    void nudge(int dx, int dy);
    [[nodiscard]] QPainterPath outline(const Sheet& sheet, const LayoutPiece& piece) const;
    [[nodiscard]] QString cell_name(std::size_t cell) const;
    void draw_face(QPainter& painter, StripDrawing::Face face) const;
    [[nodiscard]] QString piece_name(std::size_t piece) const;

    Layout layout_;
    double strip_m_ = 0, case_width_m_ = 0, case_height_m_ = 0;
    std::vector<PieceLook> looks_;
    std::vector<QString> values_;
    Faces faces_ = Faces::both;
    int piece_ = -1, cell_ = -1;
    double zoom_ = 1;
    QPointF centre_m_; // of what is seen, once it is closer
    bool movable_ = false;
    std::vector<char> moved_;
    Hold hold_;
};

} // namespace ingot::app
