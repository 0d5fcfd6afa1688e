// Read models: rows signal what a step touched and nothing else; the long lists are read in slices.
#include "temporary.h"

#include "workshop/models/history_model.h"
#include "workshop/models/ledger_models.h"
#include "workshop/models/shop_models.h"

#include <catch2/catch.hpp>

#include <QCoreApplication>
#include <QElapsedTimer>

using namespace ingot;
using namespace ingot::tests;

namespace {

struct Heard {
    int reset = 0, in = 0, out = 0, rows_changed = 0;
    explicit Heard(QAbstractItemModel& model) {
        QObject::connect(&model, &QAbstractItemModel::modelReset, [this] { ++reset; });
        QObject::connect(&model, &QAbstractItemModel::rowsInserted,
                         [this](const QModelIndex&, int first, int last) { in += last - first + 1; });
        QObject::connect(&model, &QAbstractItemModel::rowsRemoved,
                         [this](const QModelIndex&, int first, int last) { out += last - first + 1; });
        QObject::connect(
            &model, &QAbstractItemModel::dataChanged,
            [this](const QModelIndex& from, const QModelIndex& to) { rows_changed += to.row() - from.row() + 1; });
    }
};

std::unique_ptr<Workshop> demo_shop(const Temporary& folder) {
    auto shop = Workshop::create(folder.file("demo.ingot"), "Fellside Hut & Trail Trust").value();
    REQUIRE(shop->import_folder(Workshop::shipped_folder("demo")).ok());
    return shop;
}

Measurement volts(double v) {
    Measurement m;
    m.value = v;
    m.protocol = "typed";
    m.instrument = "bench meter";
    return m;
}

QString field(const QAbstractItemModel& model, int row, int column) {
    return model.index(row, column).data().toString();
}

void run_events() {
    for (int i = 0; i < 50; ++i)
        QCoreApplication::processEvents();
}

} // namespace

TEST_CASE("A reading touches one row of the units, a pack's way one row of the packs, and no list is rebuilt") {
    const Temporary folder;
    const auto shop = demo_shop(folder);
    UnitsModel units(*shop, nullptr);
    PacksModel packs(*shop, nullptr);
    REQUIRE(units.rowCount() == static_cast<int>(shop->units().size()));
    Heard of_units(units);
    Heard of_packs(packs);
    const Id unit = shop->units()[5].record.id;
    REQUIRE(shop->test().record_reading(unit, volts(3.612)).ok());
    CHECK(of_units.rows_changed == 1);
    CHECK(of_units.reset + of_units.in + of_units.out == 0);
    CHECK(field(units, units.row_of(unit), UnitsModel::rest_voltage).startsWith(QStringLiteral("3.612")));
    CHECK(of_packs.rows_changed == 0);

    Id received = 0;
    for (const Assembly& pack : shop->packs())
        if (pack.state == AssemblyState::received && !shop->receive().gate_closed(pack) &&
            !shop->receive().pack_quarantined(pack.id))
            received = pack.id;
    REQUIRE(received != 0);
    REQUIRE(shop->receive().set_state(received, AssemblyState::in_triage).ok());
    CHECK(of_packs.rows_changed == 1);
    CHECK(of_packs.reset + of_packs.in + of_packs.out == 0);
    CHECK(field(packs, packs.row_of(received), PacksModel::state) == QStringLiteral("in triage"));
}

TEST_CASE("What is opened comes in as rows at its place; the others stay") {
    const Temporary folder;
    const auto shop = demo_shop(folder);
    UnitsModel units(*shop, nullptr);
    const int before = units.rowCount();
    Id pack = 0;
    for (const Assembly& p : shop->packs())
        if (p.state == AssemblyState::to_open)
            pack = p.id;
    REQUIRE(pack != 0);
    Heard heard(units);
    REQUIRE(shop->open().open_pack(pack, "Z9", "made-up model", "").ok());
    CHECK(units.rowCount() > before);
    CHECK(heard.in == units.rowCount() - before);
    CHECK(heard.reset == 0);
    CHECK(heard.out == 0);
}

TEST_CASE("Rows that differ in the middle come and go there") {
    struct Plain : RecordModel {
        Plain() : RecordModel({{QStringLiteral("id"), QStringLiteral("id"), true}}, nullptr) {}
        RecordField field(Id id, int /*column*/) const override { return {QString::number(id), double(id)}; }
        using RecordModel::show_rows;
    } model;
    Heard heard(model);
    model.show_rows({1, 2, 3, 4, 5});
    CHECK(heard.in == 5);
    model.show_rows({1, 2, 9, 4, 5});
    CHECK(heard.in == 6);
    CHECK(heard.out == 1);
    CHECK(model.row_of(9) == 2);
    CHECK(model.row_of(3) == -1);
    CHECK(model.row_of(5) == 4);
    model.show_rows({2, 9, 4, 5, 6});
    CHECK(model.id_at(0) == 2);
    CHECK(model.row_of(6) == 4);
    CHECK(model.row_of(1) == -1);
    model.show_rows({});
    CHECK(model.rowCount() == 0);
}

TEST_CASE("The filter wants every word, keeps unknown figures last and counts labels as people do") {
    const Temporary folder;
    const auto shop = demo_shop(folder);
    RecordFilter filter(nullptr);
    UnitsModel units(*shop, nullptr);
    filter.set_records(&units);
    const UnitState& unit = shop->units()[7];
    filter.set_words(QString::fromStdString(unit.code()).toLower());
    REQUIRE(filter.rowCount() == 1);
    CHECK(filter.id_at(0) == unit.record.id);
    filter.set_words(QString::fromStdString(unit.code()) + QStringLiteral(" nosuchword"));
    CHECK(filter.rowCount() == 0);
    filter.set_words({});
    CHECK(filter.rowCount() == units.rowCount());
    filter.sort(UnitsModel::capacity, Qt::AscendingOrder);
    double last = 0;
    bool unknown = false;
    for (int row = 0; row < filter.rowCount(); ++row) {
        const auto& capacity = shop->unit(filter.id_at(row))->facts.capacity_ah;
        if (!capacity) {
            unknown = true;
            continue;
        }
        CHECK_FALSE(unknown);
        CHECK(capacity->value >= last);
        last = capacity->value;
    }
    CHECK(unknown);
}

TEST_CASE("A strike-out shows in the list that is open, and a new reading comes first") {
    const Temporary folder;
    const auto shop = demo_shop(folder);
    const Id unit = shop->units()[5].record.id;
    MeasurementsModel list(*shop, nullptr);
    list.show_of(unit, 0);
    const int before = list.rowCount();
    REQUIRE(before > 0);
    Heard heard(list);
    const auto taken = shop->test().record_reading(unit, volts(3.598));
    REQUIRE(taken.ok());
    CHECK(list.rowCount() == before + 1);
    CHECK(heard.in == 1);
    CHECK(heard.out == 0);
    CHECK(list.id_at(0) == taken.value());
    REQUIRE(shop->test().strike_reading(taken.value(), "probe slipped").ok());
    CHECK(list.index(0, 0).data(RecordModel::struck_role).toBool());
    CHECK(list.rowCount() == before + 1);
    // Another unit's reading is none of its business: nothing is told.
    const int told = heard.rows_changed;
    REQUIRE(shop->test().record_reading(shop->units()[9].record.id, volts(3.6)).ok());
    CHECK(list.rowCount() == before + 1);
    CHECK(heard.rows_changed == told);
}

TEST_CASE("The Ledger's measurements are read in slices and searched by label, quantity and instrument") {
    const Temporary folder;
    const auto shop = demo_shop(folder);
    MeasurementsModel list(*shop, nullptr);
    list.set_words({});
    CHECK(list.rowCount() > 0);
    while (list.canFetchMore({}))
        list.fetchMore({});
    run_events();
    CHECK(list.rowCount() == static_cast<int>(shop->ledger().counts().measurements));
    for (int row = 1; row < list.rowCount(); ++row)
        CHECK(list.id_at(row) < list.id_at(row - 1));

    const UnitState& unit = shop->units()[5];
    const auto own = shop->test().history(unit.record.id);
    list.set_words(QString::fromStdString(unit.code()));
    CHECK(list.rowCount() == static_cast<int>(own.size()));
    list.set_words(QString::fromStdString(unit.code()) + QStringLiteral(" capacity"));
    CHECK(list.rowCount() ==
          std::count_if(own.begin(), own.end(), [](const auto& m) { return m.quantity == Quantity::capacity; }));
    list.set_words(QStringLiteral("blunderbuss"));
    run_events();
    CHECK(list.rowCount() == 0);
    CHECK_FALSE(list.canFetchMore({}));
    // While nobody looks, nothing is read.
    list.set_live(false);
    list.set_words({});
    CHECK(list.rowCount() == 0);
    list.set_live(true);
    CHECK(list.rowCount() > 0);
}

TEST_CASE("A history tells in order what was measured on a unit and where it was") {
    const Temporary folder;
    const auto shop = demo_shop(folder);
    const Assembly* build = nullptr;
    for (const Assembly& b : shop->builds())
        if (b.state == AssemblyState::planned && !shop->inventory().wants_units(b))
            build = &b;
    REQUIRE(build != nullptr);
    const Id unit = shop->inventory().placements(build->id).front().unit;
    HistoryModel history(*shop, nullptr);
    history.show_of({unit, 0});
    CHECK(history.title() == QString::fromStdString(shop->unit(unit)->code()));
    CHECK(history.rowCount() >= static_cast<int>(shop->test().history(unit).size()) + 1);
    bool reserved = false;
    for (int row = 0; row < history.rowCount(); ++row) {
        if (row > 0)
            CHECK(history.index(row, 0).data(RecordModel::sort_role).toString() <=
                  history.index(row - 1, 0).data(RecordModel::sort_role).toString());
        reserved |= field(history, row, HistoryModel::detail).contains(QString::fromStdString(build->label));
    }
    CHECK(reserved);
    const int before = history.rowCount();
    REQUIRE(shop->test().record_reading(unit, volts(3.6)).ok());
    CHECK(history.rowCount() == before + 1);
}
