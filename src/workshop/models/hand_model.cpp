#include "workshop/models/hand_model.h"

#include "workshop/bench_wording.h"
#include "workshop/figures.h"

#include <QDateTime>
#include <QLocale>

#include <algorithm>

namespace ingot {

namespace {

QString shown_moment(const std::string& moment) {
    const QDateTime time = QDateTime::fromString(QString::fromStdString(moment), Qt::ISODate).toLocalTime();
    return QLocale().toString(time, QLocale::ShortFormat);
}

} // namespace

HandModel::HandModel(Workshop& workshop, QObject* parent)
    : RecordModel({{QStringLiteral("charger"), tr("charger")},
                   {QStringLiteral("channel"), tr("channel"), true},
                   {QStringLiteral("unit"), tr("unit")},
                   {QStringLiteral("protocol"), tr("protocol")},
                   {QStringLiteral("begun"), tr("begun")},
                   {QStringLiteral("due"), tr("due")},
                   {QStringLiteral("cycles"), tr("discharged")},
                   {QStringLiteral("verdict"), tr("verdict")}},
                  parent),
      hand_(workshop) {
    read();
    connect(&workshop, &Workshop::changed, this, [this](const ChangeSet& changes) {
        if (changes.everything || changes.library || changes.settings || changes.rules || !changes.units.empty() ||
            !changes.assemblies.empty())
            read();
    });
}

void HandModel::read() {
    bays_ = hand_.bays();
    std::vector<Id> rows;
    for (std::size_t i = 0; i < bays_.size(); ++i)
        rows.push_back(static_cast<Id>(i) + 1);
    show_rows(std::move(rows));
    touch_all();
}

const HandBay* HandModel::bay(Id row) const {
    return row < 1 || row > static_cast<Id>(bays_.size()) ? nullptr : &bays_[static_cast<std::size_t>(row - 1)];
}

Id HandModel::row_of_unit(Id unit) const {
    for (std::size_t i = 0; i < bays_.size(); ++i)
        if (bays_[i].holds(unit))
            return static_cast<Id>(i) + 1;
    return 0;
}

Id HandModel::row_of_run(Id run) const {
    const auto found = std::find_if(bays_.begin(), bays_.end(), [&](const HandBay& b) { return b.run == run; });
    return run == 0 || found == bays_.end() ? 0 : static_cast<Id>(found - bays_.begin()) + 1;
}

Id HandModel::first_free() const {
    const auto free = std::find_if(bays_.begin(), bays_.end(), [](const HandBay& b) { return b.run == 0; });
    return free == bays_.end() ? 0 : static_cast<Id>(free - bays_.begin()) + 1;
}

RecordField HandModel::field(Id id, int column) const {
    const HandBay* b = bay(id);
    if (b == nullptr)
        return {};
    const bool taken = b->run != 0;
    switch (column) {
    case charger:
        return {QString::fromStdString(b->charger), {}};
    case channel:
        return {QString::number(b->channel), b->channel};
    case on_it:
        return {taken ? QString::fromStdString(b->code) : tr("free"), {}};
    case protocol:
        return {QString::fromStdString(b->protocol.name), {}};
    case begun:
        return taken ? RecordField{shown_moment(b->began_at), QString::fromStdString(b->began_at)} : RecordField{};
    case due:
        if (!taken)
            return {};
        if (b->ended)
            return {tr("lift it out"), QString()};
        return {b->overdue ? tr("overdue since %1").arg(shown_moment(b->due_at)) : shown_moment(b->due_at),
                QString::fromStdString(b->due_at)};
    case cycles: {
        QStringList out;
        for (const Cycle& cycle : b->cycles)
            out << (cycle.full ? figures::plain(cycle.capacity_ah, 3)
                               : tr("(%1)").arg(figures::plain(cycle.capacity_ah, 3)));
        return {out.isEmpty() ? QString() : tr("%1 Ah").arg(out.join(QStringLiteral(" · "))), {}};
    }
    case verdict:
        return {b->row ? wording::conditioning_verdict(b->row->result.verdict) : QString(), {}};
    default:
        return {};
    }
}

} // namespace ingot
