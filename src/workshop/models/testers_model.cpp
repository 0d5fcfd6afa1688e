#include "workshop/models/testers_model.h"

namespace ingot {

namespace {

QString word_of(bench::DeviceState state) {
    switch (state) {
    case bench::DeviceState::none:
        return TestersModel::tr("not attached");
    case bench::DeviceState::looking:
        return TestersModel::tr("looking");
    case bench::DeviceState::ready:
        return TestersModel::tr("answers");
    case bench::DeviceState::listening:
        return TestersModel::tr("nobody answers");
    case bench::DeviceState::silent:
        return TestersModel::tr("silent");
    case bench::DeviceState::gone:
        return TestersModel::tr("not there");
    case bench::DeviceState::strange:
        return TestersModel::tr("not understood");
    }
    return {};
}

} // namespace

TestersModel::TestersModel(Bays& of, QObject* parent)
    : RecordModel({{QStringLiteral("name"), tr("name")},
                   {QStringLiteral("bays"), tr("bays")},
                   {QStringLiteral("state"), tr("state")},
                   {QStringLiteral("speaks"), tr("speaks")},
                   {QStringLiteral("where"), tr("where")}},
                  parent),
      bays_(of) {
    read();
    connect(&of, &Bays::changed, this, &TestersModel::read);
}

void TestersModel::read() {
    testers_ = bays_.testers();
    std::vector<Id> rows;
    rows.reserve(testers_.size());
    for (std::size_t i = 0; i < testers_.size(); ++i)
        rows.push_back(static_cast<Id>(i) + 1);
    show_rows(std::move(rows));
    touch_all();
}

const TesterView* TestersModel::tester(Id row) const {
    return row < 1 || row > static_cast<Id>(testers_.size()) ? nullptr : &testers_[static_cast<std::size_t>(row - 1)];
}

Id TestersModel::row_of_address(const std::string& address) const {
    for (std::size_t i = 0; i < testers_.size(); ++i)
        if (testers_[i].place.address == address)
            return static_cast<Id>(i) + 1;
    return 0;
}

QString TestersModel::tip(Id id) const {
    const TesterView* t = tester(id);
    return t == nullptr ? QString() : t->words;
}

RecordField TestersModel::field(Id id, int column) const {
    const TesterView* t = tester(id);
    if (t == nullptr)
        return {};
    switch (column) {
    case name:
        return {t->place.name.empty() ? tr("not known yet") : QString::fromStdString(t->place.name), {}};
    case numbers: {
        if (t->place.bays == 0)
            return {tr("not known yet"), {}};
        const bool here = t->state != bench::DeviceState::none;
        return {!here                ? tr("%n bays", nullptr, t->place.bays)
                : t->place.bays == 1 ? QString::number(t->first_bay)
                                     : tr("%1 to %2").arg(t->first_bay).arg(t->first_bay + t->place.bays - 1),
                here ? t->first_bay : 0};
    }
    case state:
        return {word_of(t->state), {}};
    case speaks:
        return {t->place.dialect.empty() ? QStringLiteral("scpi") : QString::fromStdString(t->place.dialect), {}};
    case where:
        return {QString::fromStdString(t->place.address), {}};
    default:
        return {};
    }
}

} // namespace ingot
