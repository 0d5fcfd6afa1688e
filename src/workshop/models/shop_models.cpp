#include "workshop/models/shop_models.h"

#include "workshop/figures.h"
#include "workshop/wording.h"

namespace ingot {

namespace {

QString text(const std::string& s) {
    return QString::fromStdString(s);
}

RecordField word(const std::string& s) {
    return {text(s), {}};
}

RecordField figure(const std::optional<Fact>& fact, QString (*show)(double)) {
    return fact ? RecordField{show(*fact), fact->value} : RecordField{};
}

QString chemistry_name(const Workshop& workshop, const std::string& id) {
    const Chemistry* known = workshop.library().chemistry(id);
    return text(known != nullptr ? known->name : id);
}

// Labels count: PK-9 comes before PK-10.
QString counted(const std::string& label) {
    QString out;
    QString digits;
    constexpr int wide = 9;
    for (const QChar c : text(label) + QLatin1Char('\n')) {
        if (c.isDigit()) {
            digits += c;
            continue;
        }
        if (!digits.isEmpty())
            out += digits.rightJustified(wide, QLatin1Char('0'));
        digits.clear();
        out += c;
    }
    return out;
}

template <class Records> std::vector<Id> ids_of(const Records& records) {
    std::vector<Id> ids;
    ids.reserve(records.size());
    for (const auto& record : records)
        ids.push_back(record.id);
    return ids;
}

std::vector<Id> ids_of(const std::vector<UnitState>& units) {
    std::vector<Id> ids;
    ids.reserve(units.size());
    for (const UnitState& unit : units)
        ids.push_back(unit.record.id);
    return ids;
}

bool concerns_all(const ChangeSet& changes) {
    return changes.everything || changes.library;
}

} // namespace

UnitsModel::UnitsModel(const Workshop& workshop, QObject* parent)
    : RecordModel({{QStringLiteral("code"), tr("unit")},
                   {QStringLiteral("model"), tr("model")},
                   {QStringLiteral("chemistry"), tr("chemistry")},
                   {QStringLiteral("duty"), tr("duty")},
                   {QStringLiteral("capacity"), tr("capacity"), true},
                   {QStringLiteral("dc_resistance"), tr("DC resistance"), true},
                   {QStringLiteral("ac_resistance"), tr("AC 1 kHz"), true},
                   {QStringLiteral("leak"), tr("self-discharge"), true},
                   {QStringLiteral("rest_voltage"), tr("rest voltage"), true},
                   {QStringLiteral("home"), tr("home")},
                   {QStringLiteral("pack"), tr("from pack")}},
                  parent),
      workshop_(workshop) {
    show_rows(ids_of(workshop.units()));
    connect(&workshop, &Workshop::changed, this, &UnitsModel::follow);
}

// A verdict also hangs on the limits and on the siblings: then the whole list is looked at again, not rebuilt.
void UnitsModel::follow(const ChangeSet& changes) {
    if (changes.everything || !changes.units.empty() || !changes.assemblies.empty())
        show_rows(ids_of(workshop_.units()));
    if (concerns_all(changes) || changes.rules)
        touch_all();
    else
        touch(changes.units);
}

RecordField UnitsModel::field(Id id, int column) const {
    const UnitState* unit = workshop_.unit(id);
    if (unit == nullptr)
        return {};
    return column >= capacity && column <= rest_voltage ? measured(unit->facts, column) : named(*unit, column);
}

RecordField UnitsModel::named(const UnitState& unit, int column) const {
    switch (column) {
    case code:
        return word(unit.code());
    case model: {
        const UnitModel* known = workshop_.library().model(unit.record.model);
        return word(known != nullptr ? known->name : unit.record.model);
    }
    case chemistry:
        return {chemistry_name(workshop_, unit.facts.chemistry), {}};
    case duty:
        return {unit.quarantined ? tr("quarantine") : wording::duty(unit.verdict.duty),
                static_cast<int>(unit.verdict.duty)};
    case home: {
        if (!unit.in_stock())
            return {wording::whereabouts(unit.record.whereabouts), {}};
        if (unit.record.tray.empty())
            return {};
        const QString tray = text(unit.record.tray);
        return {unit.record.well > 0 ? tr("%1, %2").arg(tray).arg(unit.record.well) : tray,
                counted(unit.record.tray + ' ' + std::to_string(unit.record.well))};
    }
    case pack: {
        const Assembly* from = workshop_.pack(unit.record.pack);
        return from == nullptr ? RecordField{} : RecordField{text(from->label), counted(from->label)};
    }
    default:
        return {};
    }
}

RecordField UnitsModel::measured(const UnitFacts& facts, int column) {
    switch (column) {
    case capacity:
        return figure(facts.capacity_ah, figures::unit_capacity);
    case dc_resistance:
        return figure(facts.dc_resistance_ohm, figures::milliohms);
    case ac_resistance:
        return figure(facts.ac_resistance_ohm, figures::milliohms);
    case leak:
        return figure(facts.self_discharge_ah_per_day, figures::leak);
    case rest_voltage:
        return figure(facts.rest_voltage_v, [](double v) { return figures::volts(v); });
    default:
        return {};
    }
}

PacksModel::PacksModel(const Workshop& workshop, QObject* parent)
    : RecordModel({{QStringLiteral("label"), tr("pack")},
                   {QStringLiteral("chemistry"), tr("chemistry")},
                   {QStringLiteral("layout"), tr("layout")},
                   {QStringLiteral("claimed"), tr("claimed"), true},
                   {QStringLiteral("state"), tr("state")},
                   {QStringLiteral("lot"), tr("lot")},
                   {QStringLiteral("received"), tr("received")}},
                  parent),
      workshop_(workshop) {
    show_rows(ids_of(workshop.packs()));
    connect(&workshop, &Workshop::changed, this, &PacksModel::follow);
}

void PacksModel::follow(const ChangeSet& changes) {
    if (changes.everything || !changes.assemblies.empty())
        show_rows(ids_of(workshop_.packs()));
    if (concerns_all(changes))
        touch_all();
    else
        touch(changes.assemblies);
}

QString PacksModel::state_of(const Assembly& pack) const {
    QStringList states;
    if (workshop_.receive().pack_quarantined(pack.id))
        states << tr("quarantine");
    if (pack.state != AssemblyState::received)
        return (QStringList{wording::assembly_state(pack.state)} + states).join(QStringLiteral(", "));
    if (workshop_.receive().gate_closed(pack))
        states << tr("held at the gate");
    if (!workshop_.receive().objections(pack).empty())
        states << tr("claim doubted");
    return states.isEmpty() ? tr("to look at") : states.join(QStringLiteral(", "));
}

RecordField PacksModel::field(Id id, int column) const {
    const Assembly* pack = workshop_.pack(id);
    if (pack == nullptr)
        return {};
    switch (column) {
    case label:
        return {text(pack->label), counted(pack->label)};
    case chemistry:
        return {chemistry_name(workshop_, pack->chemistry), {}};
    case layout:
        return {wording::layout(pack->layout), counted(wording::layout(pack->layout).toStdString())};
    case claimed: {
        QStringList claim;
        if (pack->claim.capacity_ah)
            claim << figures::pack_capacity(*pack->claim.capacity_ah);
        if (pack->claim.voltage_v)
            claim << figures::volts(*pack->claim.voltage_v, 1);
        return {claim.join(QStringLiteral("  ")),
                pack->claim.capacity_ah ? QVariant(*pack->claim.capacity_ah * 1000) : QVariant()};
    }
    case state:
        return {state_of(*pack), {}};
    case lot:
        for (const Lot& known : workshop_.lots())
            if (known.id == pack->lot)
                return word(known.label);
        return {};
    case received:
        return {text(pack->created_at).left(10), text(pack->created_at)};
    default:
        return {};
    }
}

std::vector<Id> BuildsModel::meant() const {
    std::vector<Id> out = ids_of(workshop_.builds());
    for (const Assembly& pack : workshop_.packs())
        if (with_repaired_ && workshop_.prove().in_field(pack))
            out.push_back(pack.id);
    return out;
}

BuildsModel::BuildsModel(const Workshop& workshop, QObject* parent, bool with_repaired)
    : RecordModel({{QStringLiteral("label"), tr("build")},
                   {QStringLiteral("chemistry"), tr("chemistry")},
                   {QStringLiteral("layout"), tr("layout")},
                   {QStringLiteral("state"), tr("state")},
                   {QStringLiteral("planned"), tr("planned")}},
                  parent),
      workshop_(workshop), with_repaired_(with_repaired) {
    show_rows(meant());
    connect(&workshop, &Workshop::changed, this, &BuildsModel::follow);
}

void BuildsModel::follow(const ChangeSet& changes) {
    if (changes.everything || !changes.assemblies.empty())
        show_rows(meant());
    if (concerns_all(changes))
        touch_all();
    else
        touch(changes.assemblies);
}

RecordField BuildsModel::field(Id id, int column) const {
    const Assembly* build = workshop_.assembly(id);
    if (build == nullptr)
        return {};
    switch (column) {
    case label:
        return {text(build->label), counted(build->label)};
    case chemistry:
        return {chemistry_name(workshop_, build->chemistry), {}};
    case layout:
        return {wording::layout(build->layout), counted(wording::layout(build->layout).toStdString())};
    case state:
        return {wording::assembly_state(build->state), {}};
    case planned:
        return {text(build->created_at).left(10), text(build->created_at)};
    default:
        return {};
    }
}

HazardsModel::HazardsModel(const Workshop& workshop, QObject* parent)
    : RecordModel({{QStringLiteral("subject"), tr("pack or unit")},
                   {QStringLiteral("hazard"), tr("hazard")},
                   {QStringLiteral("what_to_do"), tr("what to do")},
                   {QStringLiteral("since"), tr("since")}},
                  parent),
      workshop_(workshop) {
    read();
    connect(&workshop, &Workshop::changed, this, [this](const ChangeSet& changes) {
        if (changes.everything || changes.remarks)
            read();
    });
}

void HazardsModel::read() {
    open_ = workshop_.receive().open_quarantines();
    show_rows(ids_of(open_));
}

const Quarantine* HazardsModel::record(Id id) const {
    const auto found = std::find_if(open_.begin(), open_.end(), [id](const Quarantine& q) { return q.id == id; });
    return found == open_.end() ? nullptr : &*found;
}

RecordField HazardsModel::field(Id id, int column) const {
    const Quarantine* quarantine = record(id);
    if (quarantine == nullptr)
        return {};
    const exchange::LookFinding* finding = workshop_.library().finding(quarantine->reason);
    switch (column) {
    case subject: {
        const std::string label = workshop_.receive().subject_of(*quarantine);
        return {text(label), counted(label)};
    }
    case hazard:
        return word(finding != nullptr ? finding->name : quarantine->reason);
    case what_to_do:
        return word(finding != nullptr ? finding->consequence_text : std::string());
    case since:
        return {text(quarantine->opened_at).left(10), text(quarantine->opened_at)};
    default:
        return {};
    }
}

} // namespace ingot
