// A pack's groups on a true voltage axis against the chemistry's bands, up to three rungs a group (end of charge
// hollow, at rest solid, under load split; after storage a thin line), and above it a strip that magnifies the
// millivolts around the middle group.
#pragma once

#include "app/parts/painted.h"
#include "core/cells/chemistry.h"
#include "core/triage/groups.h"

namespace ingot::app {

struct LadderGroup {
    std::optional<double> rest_v, end_of_charge_v, load_v;
    std::optional<double> stored_v = std::nullopt;
    // Of its units, where they were read by themselves, as if each were the whole group.
    std::vector<double> units_v = {};
};

class VoltageLadder : public Painted {
    Q_OBJECT
public:
    explicit VoltageLadder(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(const Chemistry& chemistry, int cells_per_unit, std::vector<LadderGroup> groups, TriageResult triage);
    void set_active(int group); // 1-based; 0: none is being read
    void set_selected(int group);
    [[nodiscard]] int selected() const { return selected_; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {420, 212}; }

signals:
    void chosen(int group);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF plot() const;
    [[nodiscard]] double y_of(double volts) const;
    [[nodiscard]] QRectF column(int group) const;
    void paint_bands(QPainter& painter) const;
    void paint_strip(QPainter& painter) const;
    void paint_group(QPainter& painter, int group) const;

    Chemistry chemistry_;
    int cells_ = 1;
    std::vector<LadderGroup> groups_;
    TriageResult triage_;
    int active_ = 0;
    int selected_ = 0;
};

} // namespace ingot::app
