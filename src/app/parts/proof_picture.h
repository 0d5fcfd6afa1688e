// The groups of a pack that is proved, each round a row, so that one group is read downwards: where it ended the charge
// on the zones of the spread, what it showed after rest, its sag over the simulated one, its units.
#pragma once

#include "app/parts/painted.h"
#include "core/prove/proof.h"
#include "workshop/prove.h"

namespace ingot::app {

class ProofPicture : public Painted {
    Q_OBJECT
public:
    explicit ProofPicture(QWidget* parent);
    void set(const PackProof& proof, const ProofLimits& limits, int group); // from 1; 0: none
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;
    [[nodiscard]] QSize sizeHint() const override { return minimumSizeHint(); }

signals:
    void group_chosen(int group); // from 1

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    [[nodiscard]] int groups() const { return proof_.pack.id == 0 ? 0 : proof_.pack.layout.series; }
    [[nodiscard]] QRectF column(int group) const; // from 1
    [[nodiscard]] double left() const;
    [[nodiscard]] double right() const;
    [[nodiscard]] bool out_of_line(int group) const;
    [[nodiscard]] const ProofReading& reading(ProofRound round) const;
    [[nodiscard]] double cells() const;
    [[nodiscard]] QString said_of(int group) const;
    void paint_heads(QPainter& painter) const;
    void paint_spread(QPainter& painter, const QRectF& band) const;
    void paint_volts(QPainter& painter, double top, ProofRound round, const QString& title) const;
    void paint_sag(QPainter& painter, const QRectF& band) const;
    void paint_units(QPainter& painter, double top) const;
    void row_title(QPainter& painter, double top, const QString& title, const QString& below = {}) const;

    PackProof proof_;
    ProofLimits limits_;
    int group_ = 0;
};

} // namespace ingot::app
