// The rounds of a proof as stops on one line, in the order of the work: what came out, who signed it, which is in hand.
#pragma once

#include "app/parts/painted.h"
#include "workshop/prove.h"

namespace ingot::app {

class ProofLine : public Painted {
    Q_OBJECT
public:
    explicit ProofLine(QWidget* parent);
    void set(const PackProof& proof, ProofRound in_hand);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;
    // What came out of a round, in a few figures: "16 mV", "5 of 8", "yes".
    [[nodiscard]] static QString result(const PackProof& proof, ProofRound round);

signals:
    void chosen(int round);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    [[nodiscard]] QRectF stop(int round) const;
    void paint_stop(QPainter& painter, int round) const;
    void paint_mark(QPainter& painter, const QPointF& at, ProofState state, bool begun) const;

    PackProof proof_;
    ProofRound in_hand_ = ProofRound::at_rest;
};

} // namespace ingot::app
