// A joined pack over time: the volts that are simulated from its units, the volts that its board wrote down, and of a
// log how far its groups stand apart on the zones of the proof, its current, where a group jumped.
#pragma once

#include "app/parts/painted.h"
#include "workshop/pack_course.h"

namespace ingot::app {

class CoursePicture : public Painted {
    Q_OBJECT
public:
    explicit CoursePicture(QWidget* parent = nullptr);
    // `log` nothing: the simulated run alone, with the run time that was read.
    void set(const PackCourse& course, const std::optional<BoardLog>& log, const ProofLimits& limits,
             std::optional<double> run_time_s);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    [[nodiscard]] QSize sizeHint() const override { return {700, 420}; }
    [[nodiscard]] QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    struct Band {
        QRectF at;
        double low = 0, high = 1;
    };
    [[nodiscard]] QPointF place(const Band& band, double time_s, double value) const;
    [[nodiscard]] Band volts_band() const;
    [[nodiscard]] Band spread_band() const;
    [[nodiscard]] Band current_band() const;
    [[nodiscard]] QString said_of(const LogStretch& stretch) const;
    void draw_line(QPainter& painter, const Band& band, const std::vector<double>& time_s,
                   const std::vector<double>& values, const QPen& pen) const;
    void draw_times(QPainter& painter, double below) const;
    void draw_volts(QPainter& painter) const;
    void draw_spread(QPainter& painter) const;
    void draw_current(QPainter& painter) const;

    PackCourse course_;
    std::optional<BoardLog> log_;
    ProofLimits limits_;
    std::optional<double> run_time_s_;
    std::vector<double> sum_v_; // of the log, by row
    double end_s_ = 1, low_v_ = 0, high_v_ = 1;
};

} // namespace ingot::app
