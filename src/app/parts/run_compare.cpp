#include "app/parts/run_compare.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

constexpr double days_a_month = 30;
constexpr double to_mm = 1000;
constexpr double minutes_an_hour = 60;

double hottest_k(const PackWarmth& warmth) {
    return warmth.warmer_k[warmth.hottest];
}

// Until the lowest group is empty; two years where it is not.
double shelf_days(const ShelfStay& stay) {
    return stay.empty_days ? *stay.empty_days : stay.points.back().days;
}

QString signed_figure(double value, int digits) {
    const QString figure = figures::plain(std::fabs(value), digits);
    return figure == figures::plain(0, digits) ? figure
                                               : (value < 0 ? QString(QChar(0x2212)) : QStringLiteral("+")) + figure;
}

} // namespace

const PackRun::Cell& hardest_unit(const PackRun& run) {
    const PackRun::Cell* found = &run.cells.front().front();
    for (const auto& group : run.cells)
        for (const PackRun::Cell& cell : group)
            if (cell.peak_a > found->peak_a)
                found = &cell;
    return *found;
}

double most_left_ah(const PackRun& run) {
    double most = 0;
    for (const PackRun::Group& group : run.groups)
        most = std::max(most, group.left_ah);
    return most;
}

RunCompare::RunCompare(QWidget* parent) : Painted(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Designs side by side"));
}

QSize RunCompare::sizeHint() const {
    return {scaled(720), scaled(26) + rows * scaled(33)};
}
QSize RunCompare::minimumSizeHint() const {
    return {scaled(480), sizeHint().height()};
}

void RunCompare::set(const BuildRun& run, const BuildQuestion& question, int left, int right) {
    run_ = run;
    question_ = question;
    const int last = static_cast<int>(run.variants.size()) - 1;
    left_ = std::clamp(left, 0, std::max(0, last));
    right_ = std::clamp(right, 0, std::max(0, last));
    parts_changed();
    update();
}

const VariantRun& RunCompare::variant(bool right) const {
    return run_.variants[static_cast<std::size_t>(right ? right_ : left_)];
}

QString RunCompare::title(bool right) const {
    const VariantRun& shown = variant(right);
    return shown.label.empty() ? wording::run_variant(shown.variant) : QString::fromStdString(shown.label);
}

QString RunCompare::row_title(Row row) {
    switch (row) {
    case Row::run:
        return tr("Runs");
    case Row::ends:
        return tr("Ends first");
    case Row::unit:
        return tr("In one unit");
    case Row::heat:
        return tr("Hottest");
    case Row::charge:
        return tr("First charge");
    case Row::shelf:
        return tr("Shelf");
    case Row::room:
        return tr("In the case");
    }
    return {};
}

QString RunCompare::row_below(Row row) const {
    switch (row) {
    case Row::run:
        return tr("from full");
    case Row::ends:
        return tr("Ah left in each");
    case Row::unit:
        return tr("mean, most");
    case Row::heat:
        return tr("over the air");
    case Row::charge: {
        const auto amperes = question_.design.number(DesignFigure::charger_a);
        return amperes ? tr("with %1").arg(figures::amperes(*amperes)) : tr("then level");
    }
    case Row::shelf:
        return tr("from %1 full").arg(figures::percent(run_.shelf_soc, 0));
    case Row::room: {
        const auto w = question_.design.number(DesignFigure::case_width_m);
        const auto h = question_.design.number(DesignFigure::case_height_m);
        return w && h ? tr("%1 × %2 mm").arg(figures::plain(*w * to_mm, 0), figures::plain(*h * to_mm, 0))
                      : tr("not measured");
    }
    }
    return {};
}

RunCompare::Said RunCompare::said(const VariantRun& shown, Row row) const {
    const Said unknown{tr("not known"), {}, false};
    switch (row) {
    case Row::run:
        return {
            wording::run_time(shown.run.run_time_s),
            tr("%1, %2 Wh").arg(figures::pack_capacity(shown.run.usable_ah), figures::plain(shown.run.usable_wh, 0))};
    case Row::ends:
        return {tr("group %1").arg(shown.run.ended_by + 1),
                tr("%1 stay").arg(figures::pack_capacity(most_left_ah(shown.run)))};
    case Row::unit: {
        const PackRun::Cell& most = hardest_unit(shown.run);
        return {QStringLiteral("%1 / %2").arg(figures::plain(most.mean_a, 2), figures::amperes(most.peak_a)),
                shown.continuous_rating_a > 0 ? tr("of %1").arg(figures::amperes(shown.continuous_rating_a))
                                              : tr("rating not known")};
    }
    case Row::heat:
        if (!shown.warmth)
            return unknown;
        return {tr("+%1 K").arg(figures::plain(hottest_k(*shown.warmth), 1)),
                tr("coolest +%1 K").arg(figures::plain(shown.warmth->warmer_k[shown.warmth->coolest], 1))};
    case Row::charge:
        if (!shown.charge)
            return unknown;
        return {
            shown.charge->end == ChargeEnd::never ? tr("never full") : wording::run_time(shown.charge->hours * 3600),
            shown.charge->balance_hours
                ? tr("then level in %1").arg(wording::run_time(*shown.charge->balance_hours * 3600))
                : tr("%1 mV apart").arg(figures::plain((shown.charge->highest_v - shown.charge->lowest_v) * 1000, 0))};
    case Row::shelf:
        if (!shown.shelf)
            return unknown;
        return {shown.shelf->empty_days
                    ? tr("%1 months").arg(figures::plain(*shown.shelf->empty_days / days_a_month, 0))
                    : tr("over 2 years"),
                shown.shelf->balance_days
                    ? tr("apart in %1").arg(figures::plain(*shown.shelf->balance_days / days_a_month, 0))
                    : tr("stays level")};
    case Row::room:
        if (!shown.layout)
            return {shown.mass_kg > 0 ? tr("%1 kg").arg(figures::plain(shown.mass_kg, 2)) : tr("not known"),
                    {},
                    shown.mass_kg > 0};
        return {tr("%1 × %2 mm")
                    .arg(figures::plain(shown.layout->size_m[0] * to_mm, 0),
                         figures::plain(shown.layout->size_m[1] * to_mm, 0)),
                shown.mass_kg > 0 ? tr("%1 kg").arg(figures::plain(shown.mass_kg, 2)) : tr("mass not known")};
    }
    return {};
}

RunCompare::Change RunCompare::change(Row row) const {
    const VariantRun& a = variant(false);
    const VariantRun& b = variant(true);
    // More is better, or less; within half a last digit it is the same.
    const auto told = [](double by, int digits, const QString& unit, bool more_is_better) {
        const bool same = std::fabs(by) < std::pow(10.0, -digits) / 2;
        return Change{signed_figure(by, digits) + QLatin1Char(' ') + unit,
                      same ? std::nullopt : std::optional((by > 0) == more_is_better)};
    };
    switch (row) {
    case Row::run:
        return told((b.run.run_time_s - a.run.run_time_s) / minutes_an_hour, 0, tr("min"), true);
    case Row::ends:
        return told(most_left_ah(b.run) - most_left_ah(a.run), 2, tr("Ah"), false);
    case Row::unit:
        return told(hardest_unit(b.run).peak_a - hardest_unit(a.run).peak_a, 2, tr("A"), false);
    case Row::heat:
        return a.warmth && b.warmth ? told(hottest_k(*b.warmth) - hottest_k(*a.warmth), 1, tr("K"), false) : Change{};
    case Row::charge:
        return a.charge && b.charge && a.charge->end != ChargeEnd::never && b.charge->end != ChargeEnd::never
                   ? told((b.charge->hours + b.charge->balance_hours.value_or(0) - a.charge->hours -
                           a.charge->balance_hours.value_or(0)) *
                              minutes_an_hour,
                          0, tr("min"), false)
                   : Change{};
    case Row::shelf:
        return a.shelf && b.shelf && (a.shelf->empty_days || b.shelf->empty_days)
                   ? told((shelf_days(*b.shelf) - shelf_days(*a.shelf)) / days_a_month, 0, tr("months"), true)
                   : Change{};
    case Row::room:
        return a.mass_kg > 0 && b.mass_kg > 0 ? told(b.mass_kg - a.mass_kg, 2, tr("kg"), false) : Change{};
    }
    return {};
}

std::vector<PaintedPart> RunCompare::parts() const {
    std::vector<PaintedPart> out;
    if (run_.variants.empty())
        return out;
    for (int r = 0; r < rows; ++r) {
        const Row row = static_cast<Row>(r);
        const auto words = [&](bool right) {
            const Said s = said(variant(right), row);
            return s.below.isEmpty() ? s.strong : QStringLiteral("%1, %2").arg(s.strong, s.below);
        };
        QString value = tr("%1: %2").arg(title(false), words(false));
        if (!alone())
            value += tr("; %1: %2").arg(title(true), words(true));
        if (const Change c = change(row); !alone() && !c.words.isEmpty())
            value += !c.better   ? tr("; %1").arg(c.words)
                     : *c.better ? tr("; %1, better").arg(c.words)
                                 : tr("; %1, it costs").arg(c.words);
        out.push_back({row_title(row), value, row_at(r), false, QAccessible::ListItem});
    }
    return out;
}

QRectF RunCompare::row_at(int row) const {
    return {0, double(scaled(26)) + row * double(scaled(33)), double(width()), double(scaled(33))};
}

QRectF RunCompare::column(bool right) const {
    const double from = scaled(92);
    const double between = scaled(92);
    if (alone())
        return {from, 0, width() - from, double(height())};
    const double each = (width() - from - between) / 2;
    return {right ? from + each + between : from, 0, each, double(height())};
}

void RunCompare::draw_left_over(QPainter& painter, const VariantRun& shown, const QRectF& at) const {
    const Colours& c = colours();
    const double most = std::max(most_left_ah(shown.run), 1e-9);
    const double each = at.width() / static_cast<double>(shown.run.groups.size());
    const double gap = each > 6 ? 2 : 0;
    for (std::size_t g = 0; g < shown.run.groups.size(); ++g) {
        const bool ends = g == shown.run.ended_by;
        const double share = std::max(0.0, shown.run.groups[g].left_ah / most);
        const double tall = std::max(2.0, share * at.height());
        painter.fillRect(QRectF(at.left() + static_cast<double>(g) * each, at.bottom() - tall, each - gap, tall),
                         ends ? c.brass : c.steel_mid);
    }
    painter.setPen(c.muted);
    painter.drawLine(at.bottomLeft(), at.bottomRight());
}

// Mean and most of the unit that carries most, on its rating.
void RunCompare::draw_share(QPainter& painter, const VariantRun& shown, const QRectF& at) const {
    const Colours& c = colours();
    const PackRun::Cell& most = hardest_unit(shown.run);
    const double rating = shown.continuous_rating_a;
    const double end = std::max({most.peak_a, rating * 1.2, 1e-9}) * 1.05;
    const QRectF strip(at.left(), at.center().y() - scaled(5), at.width(), double(scaled(10)));
    const auto x = [&](double a) { return strip.left() + strip.width() * a / end; };
    if (rating > 0) {
        QColor moss = c.moss;
        moss.setAlphaF(0.2F);
        painter.fillRect(QRectF(strip.left(), strip.top(), x(rating) - strip.left(), strip.height()), moss);
        painter.fillRect(QRectF(x(rating), strip.top(), strip.right() - x(rating), strip.height()), hatch(c.muted));
    }
    painter.setPen(c.muted);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(strip);
    if (rating > 0) {
        painter.setPen(QPen(c.ink, 2));
        painter.drawLine(QPointF(x(rating), strip.top() - 3), QPointF(x(rating), strip.bottom() + 3));
    }
    const double wide = scaled(4);
    painter.fillRect(QRectF(x(most.mean_a) - wide / 2, strip.top() + 1, wide, strip.height() - 2), c.ink);
    painter.fillRect(QRectF(x(most.peak_a) - wide / 2, strip.top() + 1, wide, strip.height() - 2), c.steel);
}

// Every cell at its place, filled as far as it is warm between the pack's coolest air and the warmest of both designs.
void RunCompare::draw_heat(QPainter& painter, const VariantRun& shown, const QRectF& at) const {
    if (!shown.warmth || !shown.layout)
        return;
    const Colours& c = colours();
    double scale = 1;
    for (const bool right : {false, true})
        if (variant(right).warmth)
            scale = std::max(scale, hottest_k(*variant(right).warmth));
    const auto& cells = shown.layout->cells;
    double low_x = cells[0].x_m, high_x = low_x, low_y = cells[0].y_m, high_y = low_y;
    for (const LayoutCell& cell : cells) {
        low_x = std::min(low_x, cell.x_m);
        high_x = std::max(high_x, cell.x_m);
        low_y = std::min(low_y, cell.y_m);
        high_y = std::max(high_y, cell.y_m);
    }
    const double diameter = question_.diameter_m.value_or(0.018);
    const double px = std::min(at.width() / (high_x - low_x + diameter), at.height() / (high_y - low_y + diameter));
    const double radius = px * diameter / 2 * 0.92;
    for (std::size_t i = 0; i < cells.size() && i < shown.warmth->warmer_k.size(); ++i) {
        const QPointF centre(at.left() + px * (cells[i].x_m - low_x + diameter / 2),
                             at.bottom() - px * (cells[i].y_m - low_y + diameter / 2));
        QColor warm = c.brass;
        warm.setAlphaF(static_cast<float>(std::clamp(shown.warmth->warmer_k[i] / scale, 0.0, 1.0)));
        painter.setPen(QPen(c.muted, 0.8));
        painter.setBrush(warm);
        painter.drawEllipse(centre, radius, radius);
    }
}

// Hours on the charger, then hatched the hours the board levels.
void RunCompare::draw_charge(QPainter& painter, const VariantRun& shown, const QRectF& at) const {
    if (!shown.charge)
        return;
    const Colours& c = colours();
    double longest = 1e-9;
    for (const bool right : {false, true})
        if (const auto& charge = variant(right).charge)
            longest = std::max(longest, charge->hours + charge->balance_hours.value_or(0));
    const QRectF strip(at.left(), at.center().y() - scaled(5), at.width(), double(scaled(10)));
    const double on = strip.width() * shown.charge->hours / longest;
    const double level = strip.width() * shown.charge->balance_hours.value_or(0) / longest;
    painter.fillRect(QRectF(strip.left(), strip.top(), on, strip.height()), c.steel_mid);
    painter.fillRect(QRectF(strip.left() + on, strip.top(), level, strip.height()), hatch(c.brass));
    painter.setPen(c.muted);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(strip.left(), strip.top(), on + level, strip.height()));
}

// Highest and lowest group over two years.
void RunCompare::draw_shelf(QPainter& painter, const VariantRun& shown, const QRectF& at) const {
    if (!shown.shelf || shown.shelf->points.size() < 2)
        return;
    const Colours& c = colours();
    constexpr double two_years = 730;
    double low = question_.chemistry.test_cutoff_v, high = low + 0.1;
    for (const ShelfStay::Point& point : shown.shelf->points)
        high = std::max(high, point.highest_v);
    painter.setPen(QPen(c.muted, 1, Qt::DashLine));
    painter.drawLine(at.bottomLeft(), at.bottomRight());
    for (const bool lowest : {false, true}) {
        QPainterPath path;
        for (const ShelfStay::Point& point : shown.shelf->points) {
            const double v = std::max(low, lowest ? point.lowest_v : point.highest_v);
            const QPointF p(at.left() + at.width() * std::min(1.0, point.days / two_years),
                            at.bottom() - at.height() * (v - low) / (high - low));
            path.elementCount() == 0 ? path.moveTo(p) : path.lineTo(p);
        }
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(lowest ? c.brass : c.ink, 1.6));
        painter.drawPath(path);
    }
}

void RunCompare::draw_room(QPainter& painter, const VariantRun& shown, const QRectF& at) const {
    const auto w = question_.design.number(DesignFigure::case_width_m);
    const auto h = question_.design.number(DesignFigure::case_height_m);
    if (!shown.layout || !w || !h)
        return;
    const Colours& c = colours();
    const double wide = std::max(*w, shown.layout->size_m[0]);
    const double tall = std::max(*h, shown.layout->size_m[1]);
    const double px = std::min(at.width() / wide, at.height() / tall);
    const QRectF block(at.left() + 1, at.bottom() - px * shown.layout->size_m[1], px * shown.layout->size_m[0],
                       px * shown.layout->size_m[1]);
    painter.fillRect(block, shown.layout->fits ? c.steel_mid : c.plum_ground);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(shown.layout->fits ? c.ink : c.plum, 1.5));
    painter.drawRect(QRectF(at.left() + 1, at.bottom() - px * *h, px * *w, px * *h));
}

void RunCompare::draw_row(QPainter& painter, const VariantRun& shown, Row row, const QRectF& at) const {
    const Colours& c = colours();
    const QRectF picture(at.left() + scaled(8), at.top() + scaled(4), std::min(double(scaled(96)), at.width() * 0.36),
                         at.height() - scaled(9));
    switch (row) {
    case Row::run:
        break;
    case Row::ends:
        draw_left_over(painter, shown, picture);
        break;
    case Row::unit:
        draw_share(painter, shown, picture);
        break;
    case Row::heat:
        draw_heat(painter, shown, picture);
        break;
    case Row::charge:
        draw_charge(painter, shown, picture);
        break;
    case Row::shelf:
        draw_shelf(painter, shown, picture);
        break;
    case Row::room:
        draw_room(painter, shown, picture);
        break;
    }
    const Said words = said(shown, row);
    const QRectF text(row == Row::run ? at.left() + scaled(8) : picture.right() + scaled(8), at.top(),
                      at.right() - (row == Row::run ? at.left() + scaled(8) : picture.right() + scaled(8)) - scaled(8),
                      at.height());
    painter.setPen(words.known ? c.ink : c.muted);
    painter.setFont(type(words.known ? 15 : 13, words.known));
    if (row == Row::run) { // one line: the figure large
        painter.setFont(type(19, true));
        painter.drawText(text, Qt::AlignLeft | Qt::AlignVCenter, words.strong);
        painter.setFont(type(14));
        painter.drawText(text, Qt::AlignRight | Qt::AlignVCenter, words.below);
        return;
    }
    if (words.below.isEmpty()) {
        painter.drawText(text, Qt::AlignRight | Qt::AlignVCenter, words.strong);
        return;
    }
    painter.drawText(text.adjusted(0, 1, 0, -text.height() / 2 + 3), Qt::AlignRight | Qt::AlignVCenter, words.strong);
    painter.setPen(c.muted);
    painter.setFont(type(12));
    painter.drawText(text.adjusted(0, text.height() / 2, 0, -1), Qt::AlignRight | Qt::AlignVCenter, words.below);
}

void RunCompare::draw_change(QPainter& painter, const Change& change, const QRectF& at) const {
    const Colours& c = colours();
    painter.setPen(c.ink);
    painter.setFont(type(14, true));
    const QRectF words = at.adjusted(scaled(18), 0, -double(scaled(6)), 0);
    painter.drawText(words, Qt::AlignRight | Qt::AlignVCenter, change.words);
    if (!change.better)
        return;
    const QPointF mark(at.left() + scaled(10), at.center().y());
    const double size = scaled(4);
    painter.setBrush(Qt::NoBrush);
    if (*change.better) {
        painter.setPen(QPen(c.moss_text, 2));
        painter.drawPolyline(QPolygonF{
            {mark.x() - size, mark.y()}, {mark.x() - 1, mark.y() + size}, {mark.x() + size, mark.y() - size}});
    } else {
        painter.setPen(QPen(c.brass_text, 2));
        painter.drawRect(QRectF(mark.x() - size, mark.y() - size, 2 * size, 2 * size));
    }
}

void RunCompare::paintEvent(QPaintEvent* /*event*/) {
    if (run_.variants.empty())
        return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    const QRectF left = column(false);
    const QRectF right = column(true);
    painter.fillRect(left.adjusted(0, 0, alone() ? -left.width() / 2 : 0, 0), c.steel_ground);
    const QRectF head(0, 0, width(), scaled(26));
    const auto heading = [&](const QRectF& at, const QString& words) {
        painter.setPen(c.ink);
        painter.setFont(type(14, true));
        painter.drawText(QRectF(at.left() + scaled(8), 0, at.width() - scaled(16), head.height()),
                         Qt::AlignLeft | Qt::AlignVCenter,
                         QFontMetricsF(painter.font()).elidedText(words, Qt::ElideRight, at.width() - scaled(16)));
    };
    const QRectF shown_left = alone() ? left.adjusted(0, 0, -left.width() / 2, 0) : left;
    heading(shown_left, title(false));
    const QRectF between(left.right(), 0, right.left() - left.right(), height());
    if (!alone()) {
        heading(right, title(true));
        painter.fillRect(between, c.well);
        painter.setPen(c.muted);
        painter.setFont(type(12, true));
        painter.drawText(QRectF(between.left(), 0, between.width(), head.height()), Qt::AlignCenter, tr("changes by"));
    }
    for (int r = 0; r < rows; ++r) {
        const Row row = static_cast<Row>(r);
        const QRectF at = row_at(r);
        painter.setPen(c.hairline);
        painter.drawLine(at.topLeft(), at.topRight());
        painter.setPen(c.ink);
        painter.setFont(type(13, true));
        painter.drawText(QRectF(0, at.top() + 1, left.left() - 4, at.height() / 2), Qt::AlignLeft | Qt::AlignVCenter,
                         row_title(row));
        painter.setPen(c.muted);
        painter.setFont(type(12));
        painter.drawText(QRectF(0, at.top() + at.height() / 2, left.left() - 4, at.height() / 2 - 1),
                         Qt::AlignLeft | Qt::AlignVCenter, row_below(row));
        draw_row(painter, variant(false), row, QRectF(shown_left.left(), at.top(), shown_left.width(), at.height()));
        if (alone())
            continue;
        draw_row(painter, variant(true), row, QRectF(right.left(), at.top(), right.width(), at.height()));
        draw_change(painter, change(row), QRectF(between.left(), at.top(), between.width(), at.height()));
    }
}

} // namespace ingot::app
