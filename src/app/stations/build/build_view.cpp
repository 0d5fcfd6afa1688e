#include "app/stations/build/build_view.h"

#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <cmath>

namespace ingot::app {

namespace {

// As many digits as were typed, no more than mean something.
QString shown(double value) {
    constexpr int most_digits = 3;
    for (int digits = 0; digits < most_digits; ++digits) {
        const double factor = std::pow(10.0, digits);
        constexpr double hair = 1e-6;
        if (std::fabs(value * factor - std::round(value * factor)) < hair)
            return figures::plain(value, digits);
    }
    return figures::plain(value, most_digits);
}

} // namespace

DesignBoxes::DesignBoxes(const QString& name, std::vector<DesignFigure> figures, QWidget* parent)
    : FigureBoxes(name, parent), figures_(std::move(figures)) {}

void DesignBoxes::show_design(const BuildDesign& design) {
    std::vector<FigureBox> boxes;
    for (const DesignFigure figure : figures_) {
        const auto value = design.number(figure);
        boxes.push_back({wording::design_figure(figure),
                         value ? shown(*value / wording::design_factor(figure)) : QString(),
                         wording::design_unit(figure)});
    }
    set(std::move(boxes));
}

std::optional<DesignFigure> DesignBoxes::figure() const {
    if (active() < 0 || active() >= static_cast<int>(figures_.size()))
        return std::nullopt;
    return figures_[static_cast<std::size_t>(active())];
}

void DesignBoxes::advance() {
    if (figures_.empty())
        return;
    const int next = (active() + 1) % static_cast<int>(figures_.size());
    set_active(next);
    emit chosen(next);
}

QString BuildView::label() const {
    const Assembly* build = workshop_.build_of(build_);
    return build == nullptr ? QString() : QString::fromStdString(build->label);
}

void BuildView::set_figure(DesignFigure figure, const QString& value) {
    const std::string before = workshop_.build().design(build_).word(figure);
    const auto set = [this, build = build_, figure](const std::string& to) {
        return Act([this, build, figure, to] { return workshop_.build().set_figure(build, figure, to); });
    };
    if (value.toStdString() != before)
        emit step_wanted(tr("%1 of %2").arg(wording::design_figure(figure), label()), set(value.toStdString()),
                         set(before));
}

bool BuildView::type_figure(DesignBoxes& boxes, const QString& line) {
    const auto figure = boxes.figure();
    if (!figure || build_ == 0)
        return false;
    if (line.isEmpty()) {
        boxes.advance();
        return true;
    }
    if (line == QLatin1String("?")) {
        set_figure(*figure, {});
        boxes.advance();
        return true;
    }
    const auto value = figures::typed(line);
    if (!value)
        return false;
    if (!workshop_.writable()) {
        emit told(tr("This workshop is open for reading only."), true);
        return true;
    }
    constexpr int digits = 12;
    const QString si = QString::number(*value * wording::design_factor(*figure), 'g', digits);
    BuildDesign tried = workshop_.build().design(build_);
    if (const auto fits = tried.set(*figure, si.toStdString()); !fits) {
        emit told(tr("%1: %2").arg(wording::design_figure(*figure), wording::sentence(fits.problem().sentence)), true);
        return true;
    }
    set_figure(*figure, si);
    boxes.advance();
    return true;
}

} // namespace ingot::app
