#include "app/parts/level_view.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <utility>

namespace ingot::app {

namespace {
double level_left() {
    return scaled(78);
}
double tops_height() {
    return scaled(46);
}
double sums_height() {
    return scaled(24);
}
double level_foot() { // group numbers and conductance bars
    return scaled(62);
}
constexpr int most_units_shown = 8;

QString short_code(const std::string& id) {
    const QString code = QString::fromStdString(id);
    return code.count(QLatin1Char('-')) == 2 ? code.left(code.lastIndexOf(QLatin1Char('-'))) : code;
}

void draw_lock(QPainter& painter, const QPointF& at, const QColor& colour) {
    painter.setPen(QPen(colour, 1.6));
    painter.setBrush(Qt::NoBrush);
    painter.drawArc(QRectF(at.x() - 3, at.y() - 7, 6, 8), 0, 180 * 16);
    painter.fillRect(QRectF(at.x() - 5, at.y() - 3, 10, 7), colour);
}
} // namespace

LevelView::LevelView(QWidget* parent) : Painted(parent) {
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setAccessibleName(tr("Level view"));
}

void LevelView::set(const MatchProblem& problem, const MatchResult& result) {
    problem_ = problem;
    result_ = result;
    // Inside a group, the strongest on top.
    for (GroupSums& group : result_.groups)
        std::stable_sort(group.units.begin(), group.units.end(), [&](std::size_t a, std::size_t b) {
            return problem_.pool[a].capacity_ah.value_or(0) > problem_.pool[b].capacity_ah.value_or(0);
        });
    locked_.clear();
    for (const MatchLock& lock : problem.locks)
        locked_.insert(lock.unit);
    empty_words_.clear();
    if (group_ >= static_cast<int>(result_.groups.size()))
        group_ = -1;
    setAccessibleDescription(
        tr("%1 groups, weakest %2").arg(result.groups.size()).arg(figures::unit_capacity(result.usable_ah)));
    parts_changed();
    update();
}

std::vector<PaintedPart> LevelView::parts() const {
    std::vector<PaintedPart> out;
    for (int group = 0; group < static_cast<int>(result_.groups.size()); ++group) {
        const GroupSums& sums = result_.groups[static_cast<std::size_t>(group)];
        out.push_back({tr("Group %1").arg(group + 1), figures::unit_capacity(sums.capacity_ah), column(group),
                       group == group_ && unit_.isEmpty(), QAccessible::ListItem});
        for (int place = 0; place < static_cast<int>(sums.units.size()); ++place) {
            const std::size_t u = sums.units[static_cast<std::size_t>(place)];
            const MatchUnit& unit = problem_.pool[u];
            const QString code = QString::fromStdString(unit.id);
            QStringList values;
            if (unit.capacity_ah)
                values << figures::unit_capacity(*unit.capacity_ah);
            if (unit.resistance_ohm)
                values << figures::milliohms(*unit.resistance_ohm);
            if (locked_.contains(u))
                values << tr("locked");
            out.push_back({tr("%1, group %2").arg(code).arg(group + 1), values.join(QStringLiteral(", ")),
                           unit_box(group, place), group == group_ && code == unit_, QAccessible::ListItem});
        }
    }
    return out;
}

void LevelView::clear(const QString& words) {
    result_ = {};
    empty_words_ = words;
    group_ = -1;
    unit_.clear();
    update();
}

void LevelView::select(int group, const QString& unit) {
    group_ = group;
    unit_ = unit;
    parts_changed();
    update();
}

void LevelView::hold(const QString& unit) {
    held_ = unit;
    update();
}

QRectF LevelView::column(int group) const {
    const double w =
        (width() - level_left() - 8) / static_cast<double>(std::max<std::size_t>(1, result_.groups.size()));
    const double used = std::min(w, 132.0);
    return {level_left() + group * used, tops_height() + sums_height(), used,
            height() - tops_height() - sums_height() - level_foot()};
}

bool LevelView::shows_units() const {
    return problem_.parallel <= most_units_shown && column(0).width() > 58 &&
           column(0).height() / problem_.parallel > 15;
}

QRectF LevelView::unit_box(int group, int place) const {
    const QRectF col = column(group).adjusted(5, 0, -5, 0);
    double largest = 1e-9;
    for (const GroupSums& g : result_.groups)
        largest = std::max(largest, g.capacity_ah);
    const GroupSums& g = result_.groups[static_cast<std::size_t>(group)];
    // From the floor up, to scale; the first place is on top.
    double y = col.bottom();
    for (int k = problem_.parallel - 1; k >= place; --k) {
        const double share = problem_.pool[g.units[static_cast<std::size_t>(k)]].capacity_ah.value_or(0) / largest;
        const double h = share * col.height();
        if (k == place)
            return {col.left(), y - h + 1, col.width(), h - 2};
        y -= h;
    }
    return {};
}

void LevelView::paint_tops(QPainter& painter) const {
    const Colours& c = colours();
    const QRectF strip(level_left(), 4, width() - level_left() - 8, tops_height() - 10);
    painter.fillRect(strip, c.well);
    painter.setPen(QPen(c.steel, 1.5));
    painter.drawLine(QPointF(strip.left(), strip.center().y()), QPointF(strip.right(), strip.center().y()));
    double mean = 0;
    double largest = 1e-6;
    for (const GroupSums& g : result_.groups)
        mean += g.capacity_ah / static_cast<double>(result_.groups.size());
    for (const GroupSums& g : result_.groups)
        largest = std::max(largest, std::fabs(g.capacity_ah - mean));
    painter.setPen(c.muted);
    painter.setFont(type(12));
    painter.drawText(QRectF(0, strip.top(), level_left() - 8, strip.height()),
                     Qt::AlignRight | Qt::AlignVCenter | Qt::TextWordWrap, tr("tops, mAh"));
    for (int g = 0; g < static_cast<int>(result_.groups.size()); ++g) {
        const GroupSums& group = result_.groups[static_cast<std::size_t>(g)];
        const double away = group.capacity_ah - mean;
        const bool weakest = group.capacity_ah <= result_.usable_ah + 1e-12;
        const QPointF at(column(g).center().x() - 16, strip.center().y() - away / largest * (strip.height() / 2 - 8));
        painter.fillPath(trapezoid(at, 22), weakest ? c.brass : c.steel);
        painter.setPen(weakest ? c.brass_text : c.ink);
        painter.setFont(type(column(g).width() < 60 ? 11 : 13));
        const long mah = std::lround(away * 1000);
        painter.drawText(QRectF(at.x() + 14, at.y() - 9, 60, 18), Qt::AlignLeft | Qt::AlignVCenter,
                         mah > 0 ? QStringLiteral("+%1").arg(mah) : figures::plain(static_cast<double>(mah), 0));
    }
}

void LevelView::paint_group(QPainter& painter, int g) const {
    const Colours& c = colours();
    const GroupSums& group = result_.groups[static_cast<std::size_t>(g)];
    const QRectF col = column(g);
    const bool weakest = group.capacity_ah <= result_.usable_ah + 1e-12;
    const bool narrow = col.width() < 62;
    painter.setPen(weakest ? c.brass_text : (g == group_ ? c.steel : c.ink));
    painter.setFont(type(narrow ? 12 : 17, true));
    painter.drawText(QRectF(col.left(), tops_height(), col.width(), sums_height()), Qt::AlignCenter,
                     figures::plain(group.capacity_ah, narrow ? 2 : 3));
    for (int k = 0; k < problem_.parallel; ++k) {
        const QRectF box = unit_box(g, k);
        const std::size_t u = group.units[static_cast<std::size_t>(k)];
        const bool locked = locked_.contains(u);
        const bool chosen = g == group_ && QString::fromStdString(problem_.pool[u].id) == unit_;
        if (!shows_units()) {
            painter.fillRect(box.adjusted(0, -1, 0, 1), g == group_ ? c.steel_mid : c.steel_ground);
            if (locked)
                painter.fillRect(box, c.ink);
            continue;
        }
        painter.setPen(QPen(locked ? c.ink : c.steel, chosen ? 3 : (locked ? 2 : 1)));
        painter.setBrush(chosen ? c.steel_mid : (locked ? c.surface : c.steel_ground));
        painter.drawRect(box);
        painter.setPen(c.ink);
        const bool two_lines = box.height() >= scaled(26);
        painter.setFont(type(two_lines ? 13 : 12, true));
        const QRectF text = box.adjusted(6, 1, -4, -1);
        painter.drawText(two_lines ? QRectF(text.left(), text.top(), text.width(), text.height() / 2) : text,
                         Qt::AlignLeft | Qt::AlignVCenter, figures::plain(problem_.pool[u].capacity_ah.value_or(0), 3));
        if (two_lines) {
            painter.setFont(type(12));
            painter.drawText(QRectF(text.left(), text.center().y(), text.width(), text.height() / 2),
                             Qt::AlignLeft | Qt::AlignVCenter, short_code(problem_.pool[u].id));
        }
        if (locked)
            draw_lock(painter, {box.right() - 11, box.top() + 13}, c.ink);
        const QString code = QString::fromStdString(problem_.pool[u].id);
        if (code == held_ || code == over_) {
            painter.setPen(QPen(c.steel, 2, Qt::DashLine));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(box.adjusted(3, 3, -3, -3));
        }
    }
    painter.setPen(g == group_ ? c.steel : c.ink);
    painter.setFont(type(15, true));
    painter.drawText(QRectF(col.left(), col.bottom() + 2, col.width(), 20), Qt::AlignCenter, QString::number(g + 1));
}

// Each group's resistance and how far its conductance is from the mean.
void LevelView::paint_conductance(QPainter& painter) const {
    const Colours& c = colours();
    if (result_.groups.empty() || !result_.groups.front().conductance_s)
        return;
    double mean = 0;
    for (const GroupSums& g : result_.groups)
        mean += *g.conductance_s / static_cast<double>(result_.groups.size());
    const double y = column(0).bottom() + 24;
    painter.setPen(c.muted);
    painter.setFont(type(12));
    painter.drawText(QRectF(0, y, level_left() - 8, 18), Qt::AlignRight | Qt::AlignVCenter, tr("group m\u03A9"));
    painter.drawText(QRectF(0, y + 17, level_left() - 8, 18), Qt::AlignRight | Qt::AlignVCenter, tr("bar \u00B15 %"));
    constexpr double full = 0.05;
    for (int g = 0; g < static_cast<int>(result_.groups.size()); ++g) {
        const QRectF col = column(g).adjusted(6, 0, -6, 0);
        const double conductance = *result_.groups[static_cast<std::size_t>(g)].conductance_s;
        painter.setPen(g == group_ ? c.steel : c.ink);
        painter.setFont(type(col.width() < 50 ? 11 : 14, true));
        painter.drawText(QRectF(col.left() - 6, y, col.width() + 12, 18), Qt::AlignCenter,
                         figures::plain(1000 / conductance, 2));
        const QRectF bar(col.left(), y + 22, col.width(), 9);
        painter.fillRect(bar, c.well);
        const double away = std::clamp((1 / conductance - 1 / mean) * mean / full, -1.0, 1.0);
        const double x = bar.center().x();
        painter.fillRect(
            QRectF(std::min(x, x + away * bar.width() / 2), bar.top(), std::fabs(away) * bar.width() / 2, bar.height()),
            c.muted);
        painter.setPen(QPen(c.ink, 1));
        painter.drawLine(QPointF(x, bar.top() - 2), QPointF(x, bar.bottom() + 2));
    }
}

void LevelView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    if (result_.groups.empty()) {
        painter.setPen(colours().muted);
        painter.setFont(type(15));
        painter.drawText(rect().adjusted(40, 0, -40, 0), Qt::AlignCenter | Qt::TextWordWrap, empty_words_);
        return;
    }
    paint_tops(painter);
    const double level_y = column(0).top();
    for (int g = 0; g < static_cast<int>(result_.groups.size()); ++g)
        paint_group(painter, g);
    paint_conductance(painter);
    painter.setPen(colours().muted);
    painter.setFont(type(12));
    painter.drawText(QRectF(0, tops_height(), level_left() - 8, sums_height()), Qt::AlignRight | Qt::AlignVCenter,
                     tr("total Ah"));
    painter.drawText(QRectF(0, column(0).bottom() + 2, level_left() - 8, 20), Qt::AlignRight | Qt::AlignVCenter,
                     tr("group"));
    painter.setPen(QPen(colours().ink, 2));
    const double right = column(static_cast<int>(result_.groups.size()) - 1).right();
    painter.drawLine(QPointF(level_left() - 10, level_y), QPointF(right + 6, level_y));
    if (group_ >= 0) {
        painter.setPen(QPen(colours().steel, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(column(group_).left() + 1, 2, column(group_).width() - 2, height() - 4));
    }
}

bool LevelView::hit(const QPointF& at, int& group, int& place) const {
    for (int g = 0; g < static_cast<int>(result_.groups.size()); ++g) {
        const QRectF col = column(g);
        if (at.x() < col.left() || at.x() >= col.right())
            continue;
        group = g;
        place = -1;
        for (int k = 0; shows_units() && k < problem_.parallel; ++k)
            if (unit_box(g, k).contains(at))
                place = k;
        return true;
    }
    return false;
}

void LevelView::mousePressEvent(QMouseEvent* event) {
    int group = 0;
    int place = 0;
    if (!hit(event->position(), group, place))
        return;
    const QString unit =
        place < 0
            ? QString()
            : QString::fromStdString(
                  problem_.pool[result_.groups[static_cast<std::size_t>(group)].units[static_cast<std::size_t>(place)]]
                      .id);
    pressed_ = event->position();
    select(group, unit);
    emit chosen(group, unit);
}

QString LevelView::unit_under(const QPointF& at) const {
    int group = 0;
    int place = -1;
    if (!hit(at, group, place) || place < 0 || group == group_)
        return {};
    const GroupSums& sums = result_.groups[static_cast<std::size_t>(group)];
    return QString::fromStdString(problem_.pool[sums.units[static_cast<std::size_t>(place)]].id);
}

void LevelView::mouseMoveEvent(QMouseEvent* event) {
    constexpr double by_intent = 8;
    if (!(event->buttons() & Qt::LeftButton) || unit_.isEmpty() ||
        (!dragging_ && (event->position() - pressed_).manhattanLength() < by_intent))
        return;
    dragging_ = true;
    setCursor(Qt::ClosedHandCursor);
    const QString over = unit_under(event->position());
    if (over == over_)
        return;
    over_ = over;
    update();
    over.isEmpty() ? emit exchange_left() : emit exchange_seen(unit_, over);
}

void LevelView::mouseReleaseEvent(QMouseEvent* event) {
    Q_UNUSED(event);
    if (!dragging_)
        return;
    dragging_ = false;
    unsetCursor();
    const QString over = std::exchange(over_, QString());
    update();
    over.isEmpty() ? emit exchange_left() : emit exchange_wanted(unit_, over);
}

void LevelView::mouseDoubleClickEvent(QMouseEvent* event) {
    mousePressEvent(event);
    if (!unit_.isEmpty())
        emit lock_toggled(unit_, group_);
}

void LevelView::keyPressEvent(QKeyEvent* event) {
    const int groups = static_cast<int>(result_.groups.size());
    if (groups == 0) {
        QWidget::keyPressEvent(event);
        return;
    }
    const auto unit_at = [&](int group, int place) {
        return QString::fromStdString(
            problem_.pool[result_.groups[static_cast<std::size_t>(group)].units[static_cast<std::size_t>(place)]].id);
    };
    int place = 0;
    for (int k = 0; group_ >= 0 && k < problem_.parallel; ++k)
        if (unit_at(group_, k) == unit_)
            place = k;
    switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right: {
        const int g = std::clamp(group_ + (event->key() == Qt::Key_Right ? 1 : -1), 0, groups - 1);
        select(g, unit_at(g, place));
        emit chosen(group_, unit_);
        return;
    }
    case Qt::Key_Up:
    case Qt::Key_Down: {
        const int g = std::max(0, group_);
        place = std::clamp(place + (event->key() == Qt::Key_Down ? 1 : -1), 0, problem_.parallel - 1);
        select(g, unit_at(g, place));
        emit chosen(group_, unit_);
        return;
    }
    case Qt::Key_Space:
        if (!unit_.isEmpty())
            emit lock_toggled(unit_, group_);
        return;
    case Qt::Key_Delete:
        if (!unit_.isEmpty())
            emit exclude_wanted(unit_);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace ingot::app
