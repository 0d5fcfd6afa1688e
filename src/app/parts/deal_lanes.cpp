#include "app/parts/deal_lanes.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"

#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {
constexpr double dealt_milli = 1000;
} // namespace

DealLanes::DealLanes(QWidget* parent) : Painted(parent) {
    setAccessibleName(tr("Three ways to match"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void DealLanes::set(const MatchDeal& deal, bool resistances, bool leaks, bool told) {
    deal_ = deal;
    resistances_ = resistances;
    leaks_ = leaks;
    told_ = told;
    parts_changed();
    update();
}

QRectF DealLanes::lane(int way) const {
    const double tall = (height() - 2.0) / MatchDeal::ways;
    return {0, way * tall, double(width()), tall - scaled(4)};
}

// Sum of what its units hold, of what they have in parallel, of what they lose.
QStringList DealLanes::known_of(const std::vector<std::size_t>& group) const {
    double ah = 0;
    double siemens = 0;
    double leak = 0;
    for (const std::size_t u : group) {
        ah += deal_.units()[u].read_capacity_ah;
        siemens += 1 / deal_.units()[u].read_resistance_ohm;
        leak += deal_.units()[u].read_leak_ah_per_day;
    }
    QStringList out{figures::pack_capacity(ah)};
    if (resistances_)
        out << figures::milliohms(1 / siemens);
    if (leaks_)
        out << tr("%1 mAh a day").arg(figures::plain(leak * dealt_milli, 1));
    return out;
}

std::vector<PaintedPart> DealLanes::parts() const {
    std::vector<PaintedPart> out;
    for (int way = 0; way < MatchDeal::ways; ++way) {
        QStringList groups;
        for (const auto& group : deal_.way(way))
            groups << known_of(group).join(QStringLiteral(", "));
        QString value = groups.join(QStringLiteral("; "));
        if (told_)
            value += tr("; gives %1").arg(figures::pack_capacity(deal_.gives_ah()[static_cast<std::size_t>(way)]));
        out.push_back({tr("Set %1").arg(QChar(u'A' + way)), value, lane(way), told_ && way == deal_.best(),
                       QAccessible::ListItem});
    }
    return out;
}

void DealLanes::draw_lane(QPainter& painter, int way) const {
    const Colours& c = colours();
    const QRectF at = lane(way);
    const bool best = told_ && way == deal_.best();
    painter.fillRect(at, best ? c.steel_ground : c.surface);
    painter.setPen(best ? c.steel : c.hairline);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(at);
    const double head = scaled(64);
    painter.setPen(c.ink);
    painter.setFont(type(16, true));
    painter.drawText(QRectF(at.left() + 10, at.top(), head, at.height()), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("Set %1").arg(QChar(u'A' + way)));
    const double tail = told_ ? scaled(96) : 0;
    const auto& groups = deal_.way(way);
    const double each = (at.width() - head - tail - scaled(16)) / static_cast<double>(groups.size());
    const double words = scaled(18) * (1.0 + (resistances_ ? 1 : 0) + (leaks_ ? 1 : 0));
    double largest = 0;
    double most_ohm = 0;
    double most_leak = 0;
    for (const DealtUnit& unit : deal_.units()) {
        largest = std::max(largest, unit.read_capacity_ah);
        most_ohm = std::max(most_ohm, unit.read_resistance_ohm);
        most_leak = std::max(most_leak, unit.read_leak_ah_per_day);
    }
    for (std::size_t g = 0; g < groups.size(); ++g) {
        const QRectF box(at.left() + head + static_cast<double>(g) * each, at.top() + scaled(6), each - scaled(10),
                         at.height() - words - scaled(12));
        const double wide = box.width() / static_cast<double>(groups[g].size());
        for (std::size_t k = 0; k < groups[g].size(); ++k) {
            const DealtUnit& unit = deal_.units()[groups[g][k]];
            const double tall = box.height() * unit.read_capacity_ah / largest;
            const QRectF bar(box.left() + static_cast<double>(k) * wide, box.bottom() - tall, wide - 3, tall);
            painter.fillRect(bar, c.steel_mid);
            // What is known beside it stands in the bar: the more of it, the taller.
            if (resistances_) {
                const double ohm = tall * unit.read_resistance_ohm / most_ohm;
                painter.fillRect(QRectF(bar.left() + 2, bar.bottom() - ohm, wide * 0.22, ohm), c.ink);
            }
            if (leaks_ && most_leak > 0) {
                const double leak = tall * unit.read_leak_ah_per_day / most_leak;
                painter.fillRect(QRectF(bar.right() - 2 - wide * 0.22, bar.bottom() - leak, wide * 0.22, leak),
                                 c.brass);
            }
        }
        painter.setFont(type(13, true));
        const QStringList known = known_of(groups[g]);
        for (int i = 0; i < known.size(); ++i) {
            painter.setPen(i == 0 ? c.ink : i == 1 && resistances_ ? c.ink : c.brass_text);
            painter.setFont(type(13, i == 0));
            painter.drawText(QRectF(box.left(), box.bottom() + 2 + i * double(scaled(18)), box.width(), scaled(18)),
                             Qt::AlignHCenter | Qt::AlignVCenter, known[i]);
        }
    }
    if (!told_)
        return;
    painter.setPen(c.ink);
    painter.setFont(type(16, true));
    painter.drawText(QRectF(at.right() - tail, at.top(), tail - 10, at.height()), Qt::AlignRight | Qt::AlignVCenter,
                     figures::pack_capacity(deal_.gives_ah()[static_cast<std::size_t>(way)]));
}

void DealLanes::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    for (int way = 0; way < MatchDeal::ways; ++way)
        draw_lane(painter, way);
}

} // namespace ingot::app
