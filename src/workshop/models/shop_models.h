// The lists of what is in the shop: units, packs that came in, builds. Every record is a row; views filter.
#pragma once

#include "workshop/models/record_model.h"
#include "workshop/workshop.h"

namespace ingot {

class UnitsModel : public RecordModel {
    Q_OBJECT
public:
    enum Column {
        code,
        model,
        chemistry,
        duty,
        capacity,
        dc_resistance,
        ac_resistance,
        leak,
        rest_voltage,
        home,
        pack
    };
    UnitsModel(const Workshop& workshop, QObject* parent);

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;

private:
    void follow(const ChangeSet& changes);
    [[nodiscard]] RecordField named(const UnitState& unit, int column) const;
    [[nodiscard]] static RecordField measured(const UnitFacts& facts, int column);
    const Workshop& workshop_;
};

class PacksModel : public RecordModel {
    Q_OBJECT
public:
    enum Column { label, chemistry, layout, claimed, state, lot, received };
    PacksModel(const Workshop& workshop, QObject* parent);

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;

private:
    void follow(const ChangeSet& changes);
    [[nodiscard]] QString state_of(const Assembly& pack) const;
    const Workshop& workshop_;
};

class BuildsModel : public RecordModel {
    Q_OBJECT
public:
    enum Column { label, chemistry, layout, state, planned };
    // `with_repaired`: packs that came in and are in service, or back from it, too.
    BuildsModel(const Workshop& workshop, QObject* parent, bool with_repaired = false);

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;

private:
    void follow(const ChangeSet& changes);
    [[nodiscard]] std::vector<Id> meant() const;
    const Workshop& workshop_;
    bool with_repaired_;
};

// The open quarantines; rows know the quarantine's id.
class HazardsModel : public RecordModel {
    Q_OBJECT
public:
    enum Column { subject, hazard, what_to_do, since };
    HazardsModel(const Workshop& workshop, QObject* parent);
    [[nodiscard]] const Quarantine* record(Id id) const;

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;

private:
    void read();
    const Workshop& workshop_;
    std::vector<Quarantine> open_;
};

} // namespace ingot
