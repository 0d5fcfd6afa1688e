// The library is the shop's own: unit models made on the spot, versioned, known by what is printed on the units.
#include "shop.h"
#include "temporary.h"

#include "workshop/bay_rules.h"

#include <catch2/catch.hpp>

#include <filesystem>
#include <fstream>

using namespace ingot;
using namespace ingot::tests;

namespace {

UnitModel green_sleeve() {
    UnitModel model;
    model.id = "green sleeve 2600";
    model.chemistry = "nmc";
    model.format = "18650";
    model.rated_ah = 2.6;
    return model;
}

// Two units with that print, their capacities typed.
std::vector<Id> two_units(Workshop& shop) {
    std::vector<Id> ids;
    for (const int number : {1, 2}) {
        Unit unit;
        unit.code = UnitCode{"K4", number};
        unit.model = "green sleeve 2600";
        ids.push_back(shop.open().add_unit(unit).value());
        Measurement capacity;
        capacity.quantity = Quantity::capacity;
        capacity.value = number == 1 ? 2.4 : 1.7;
        REQUIRE(shop.test().record_reading(ids.back(), capacity).ok());
    }
    return ids;
}

} // namespace

TEST_CASE("N49: a new workshop knows no unit model; the demo brings its own") {
    const Temporary folder;
    const auto shop = Workshop::create(folder.file("w.ingot"), "New").value();
    CHECK(shop->library().models.empty());
    CHECK_FALSE(shop->library().chemistries.empty());
    CHECK_FALSE(shop->library().protocols.empty());
    REQUIRE(shop->import_folder(Workshop::shipped_folder("demo")).ok());
    CHECK(shop->library().models.size() >= 5);
}

TEST_CASE("N3, N36: a model made on the spot is known at once by the units with its print, and keeps its versions") {
    const Temporary folder;
    const std::string path = folder.file("w.ingot");
    {
        const auto shop = Workshop::create(path, "Own").value();
        const auto units = two_units(*shop);
        CHECK(shop->unit(units[0])->verdict.duty == Duty::undecided); // two units are no measure of each other
        REQUIRE(shop->catalogue().save_model(green_sleeve()).ok());
        CHECK(shop->unit(units[0])->reference.rated_ah == Approx(2.6));
        CHECK(shop->unit(units[0])->verdict.duty == Duty::store);
        CHECK(shop->unit(units[1])->verdict.duty == Duty::light);
        UnitModel better = green_sleeve();
        better.rated_ah = 2.5;
        better.source = "the maker's sheet";
        REQUIRE(shop->catalogue().save_model(better).ok());
        CHECK(shop->library().model("green sleeve 2600")->version == 2);
    }
    const auto again = Workshop::open(path).value();
    REQUIRE(again->library().model("green sleeve 2600") != nullptr);
    CHECK(again->library().model("green sleeve 2600")->source == "the maker's sheet");
    CHECK(again->units()[0].reference.rated_ah == Approx(2.5));
}

TEST_CASE("A model that cannot be is refused, and nothing of a file with one is kept") {
    const Temporary folder;
    const auto shop = Workshop::create(folder.file("w.ingot"), "Own").value();
    UnitModel wrong = green_sleeve();
    wrong.rated_ah = 9.9; // N4: no cell of this size holds it
    const auto impossible = shop->catalogue().save_model(wrong);
    REQUIRE_FALSE(impossible.ok());
    CHECK(impossible.problem().sentence.english().find("No 18650 holds 9.9 Ah") == 0);
    wrong = green_sleeve();
    wrong.chemistry = "plutonium";
    CHECK_FALSE(shop->catalogue().save_model(wrong).ok());
    wrong = green_sleeve();
    wrong.format = "brick";
    CHECK_FALSE(shop->catalogue().save_model(wrong).ok());
    CHECK_FALSE(shop->catalogue().save_model(UnitModel{}).ok());
    const std::string two = exchange::write_model(green_sleeve()) +
                            "[[model]]\nid = \"Z\"\nname = \"Z\"\nchemistry = \"nmc\"\nformat = \"18650\"\n"
                            "rated_ah = 7.5\nsource = \"a label\"\n";
    const auto refused = shop->catalogue().bring_in_models(two, "two.toml");
    REQUIRE_FALSE(refused.ok());
    CHECK(refused.problem().text().find("two.toml: Z: No 18650") == 0);
    CHECK(shop->library().models.empty());
    // The same when a folder fails later on.
    const std::string bad = folder.file("bad");
    std::filesystem::copy(Workshop::shipped_folder("demo"), bad, std::filesystem::copy_options::recursive);
    std::ofstream(bad + "/units.csv", std::ios::app) << "K4-0001-0,,,,H26,,,\n";
    CHECK_FALSE(shop->import_folder(bad).ok());
    CHECK(shop->library().models.empty());
    CHECK(Workshop::open(folder.file("w.ingot")).value()->library().models.empty());
}

TEST_CASE("N3: what a model's maker says of its charge binds its bays and the charger of a pack made of it") {
    const Temporary folder;
    auto shop = Workshop::create(folder.file("w.ingot"), "Own").value();
    const auto units = two_units(*shop);
    UnitModel gentle = green_sleeve();
    gentle.continuous_a = 5;
    gentle.charge_a = 1;
    gentle.charge_limit_v = 4.35;
    const auto over = shop->catalogue().save_model(gentle);
    REQUIRE_FALSE(over.ok());
    CHECK(over.problem().where == "charge_limit_v");
    gentle.charge_limit_v = 4.1;
    gentle.peak_a = 4; // for seconds less than for long
    CHECK_FALSE(shop->catalogue().save_model(gentle).ok());
    gentle.peak_a = 9;
    REQUIRE(shop->catalogue().save_model(gentle).ok());
    shop.reset();
    const auto again = Workshop::open(folder.file("w.ingot")).value();
    CHECK(again->library().model(gentle.id)->charge_limit_v == 4.1);
    CHECK(again->library().model(gentle.id)->peak_a == 9);
    const BayUnit on_bay = bay_unit_of(*again, OnChannel(units[0]));
    CHECK(on_bay.charge_a == 1);
    CHECK(on_bay.charge_limit_v == 4.1);
    const Chemistry& nmc = *again->library().chemistry("nmc");
    Protocol capacity = *again->library().protocol("li-capacity");
    const auto refused = [&](ProtocolFault fault) {
        const auto all = check_protocol(capacity, on_bay, nmc, {}, 20);
        return std::any_of(all.begin(), all.end(), [&](const ProtocolObjection& o) { return o.fault == fault; });
    };
    CHECK(refused(ProtocolFault::over_voltage)); // 4.2 V
    for (ProtocolStep& step : capacity.steps)
        if (step.kind == ProtocolStepKind::charge)
            step.volts = 4.1;
    CHECK_FALSE(refused(ProtocolFault::over_voltage));
    // A build of it: the old charger of 8.4 V over two in series is too high, 2 x 4.1 V is right; its peak, too.
    MatchService& match = again->match();
    const Id build = match.reserve(2, 1, {{units[0]}, {units[1]}}, std::nullopt, 0).value();
    const auto unsafe = [&](Unsafe what) {
        const auto all = again->build().safety(build, false);
        return std::any_of(all.begin(), all.end(), [&](const UnsafeFinding& f) { return f.what == what; });
    };
    for (const auto& [figure, value] :
         {std::pair(DesignFigure::off_v, "5"), {DesignFigure::bears_v, "8.6"}, {DesignFigure::charger_kind, "cc-cv"}})
        REQUIRE(again->build().set_figure(build, figure, value));
    REQUIRE(again->build().set_figure(build, DesignFigure::charger_v, "8.4"));
    CHECK(unsafe(Unsafe::charger_over_limit));
    REQUIRE(again->build().set_figure(build, DesignFigure::charger_v, "8.2"));
    CHECK_FALSE(unsafe(Unsafe::charger_over_limit));
    REQUIRE(again->build().set_figure(build, DesignFigure::peak_a, "9.5"));
    CHECK(unsafe(Unsafe::unit_over_peak));
}

TEST_CASE("An upgrade offers what it ships to an old workshop, and changes nothing by itself") {
    const Temporary folder;
    const std::string path = folder.file("w.ingot");
    const auto set_data = [](const QByteArray& where) { qputenv("INGOT_DATA_DIR", where); };
    struct Restore {
        ~Restore() { qunsetenv("INGOT_DATA_DIR"); }
    } const restore;
    {
        const auto shop = Workshop::create(path, "Old").value();
        CHECK(shop->catalogue().offers().empty());
    }
    // The next Ingot: a format more, a finding with another consequence, a chemistry with a curve of its own.
    const std::string data = folder.file("next") + "/data";
    std::filesystem::create_directories(folder.file("next"));
    std::filesystem::copy(Workshop::shipped_folder("data"), data, std::filesystem::copy_options::recursive);
    std::ofstream(data + "/formats/formats.toml", std::ios::app)
        << "\n[[format]]\nid = \"19800\"\ndiameter_mm = 19\nheight_mm = 80\nsource = \"a drawing\"\n";
    const auto texts = exchange::read_library_texts(data).value();
    const std::string swollen = exchange::entry_text(texts, exchange::EntryKind::finding, "swollen").value();
    std::ofstream(data + "/look-findings/newer.toml")
        << exchange::entry_with(exchange::EntryKind::finding, swollen, {{"consequence", "refuse"}, {"version", "5"}})
               .value();
    std::filesystem::copy_file(data + "/ocv/nmc.csv", data + "/ocv/lmo.csv");
    std::ofstream(data + "/chemistries/lmo.toml")
        << exchange::entry_with(exchange::EntryKind::chemistry,
                                exchange::entry_text(texts, exchange::EntryKind::chemistry, "nmc").value(),
                                {{"id", "lmo"}, {"name", "Li-ion LMO"}, {"ocv", "lmo"}})
               .value();
    set_data(QByteArray::fromStdString(folder.file("next")));
    {
        const auto shop = Workshop::open(path).value();
        const auto offers = shop->catalogue().offers();
        REQUIRE(offers.size() == 3);
        CHECK(offers[0].id == "lmo");
        REQUIRE(offers[0].with.size() == 1);
        CHECK(offers[1].id == "19800");
        CHECK(offers[2].id == "swollen");
        CHECK(offers[2].there == 1);
        CHECK(offers[2].version == 5);
        CHECK(shop->library().chemistry("lmo") == nullptr);
        CHECK(shop->library().format("19800") == nullptr);
        CHECK(shop->library().finding("swollen")->consequence == Consequence::quarantine);
        for (const auto& offer : offers)
            REQUIRE(shop->catalogue().take_in(offer));
        CHECK(shop->catalogue().offers().empty());
        // One that cannot be is refused, and nothing of it is kept.
        exchange::LibraryOffer broken = offers[0];
        broken.id = "other";
        broken.text = "id = \"other\"\nocv = \"nowhere\"\n";
        CHECK_FALSE(shop->catalogue().take_in(broken));
    }
    set_data({});
    const auto again = Workshop::open(path).value();
    REQUIRE(again->library().chemistry("lmo") != nullptr);
    CHECK(again->library().chemistry("other") == nullptr);
    CHECK(again->library().format("19800")->height_m == Approx(0.080));
    CHECK(again->library().finding("swollen")->consequence == Consequence::refuse);
    // What the shop changed afterwards is its own.
    CHECK(again->catalogue().offers().empty());
}

TEST_CASE("N30: the yield that is expected is the shop's own as soon as one unit of the kind is judged") {
    const Temporary folder;
    const auto shop = Workshop::create(folder.file("w.ingot"), "Own").value();
    Assembly pack;
    pack.lot = shop->receive().add_lot({0, "MOW-01", "municipal robot mowers", "", "", {}}).value();
    pack.label = "one";
    pack.chemistry = "nmc";
    pack.layout = {2, 2, 1};
    pack.state = AssemblyState::to_open;
    const Id first = shop->receive().add_pack(pack).value();
    CHECK_FALSE(shop->open().yield_of_kind(*shop->pack(first)));
    const auto units = shop->open().open_pack(first, "K4", "green sleeve 2600", "").value();
    CHECK_FALSE(shop->open().yield_of_kind(*shop->pack(first))); // nothing is judged
    REQUIRE(shop->catalogue().save_model(green_sleeve()).ok());
    const double ah[] = {2.5, 2.4, 0.9};
    for (std::size_t i = 0; i < 3; ++i) {
        Measurement capacity;
        capacity.quantity = Quantity::capacity;
        capacity.value = ah[i];
        REQUIRE(shop->test().record_reading(units[i], capacity).ok());
    }
    const auto yield = shop->open().yield_of_kind(*shop->pack(first));
    REQUIRE(yield);
    CHECK(yield->of == "municipal robot mowers");
    CHECK(yield->usable == 2);
    CHECK(yield->scrap == 1);
    CHECK(yield->undecided == 1);
    // Another source is another kind.
    pack.lot = shop->receive().add_lot({0, "LAN-01", "trail lanterns", "", "", {}}).value();
    pack.label = "two";
    CHECK_FALSE(shop->open().yield_of_kind(*shop->pack(shop->receive().add_pack(pack).value())));
}

TEST_CASE(
    "N3: chemistries, formats and look findings are the shop's own: changed, versioned, copied, kept in the file") {
    using exchange::EntryKind;
    const Temporary folder;
    const std::string path = folder.file("w.ingot");
    {
        const auto shop = Workshop::create(path, "Own").value();
        auto& catalogue = shop->catalogue();
        // A look finding of its own words; the shipped one is replaced, a new one comes on top.
        const std::size_t findings = shop->library().findings.size();
        const std::string swollen = catalogue.entry(EntryKind::finding, "swollen");
        auto values = exchange::entry_values(EntryKind::finding, swollen).value();
        CHECK(values["consequence"] == "quarantine");
        const auto sharper = exchange::entry_with(EntryKind::finding, swollen, {{"consequence", "refuse"}});
        REQUIRE(sharper);
        REQUIRE(catalogue.save_entry(EntryKind::finding, sharper.value()));
        CHECK(shop->library().findings.size() == findings);
        CHECK(shop->library().finding("swollen")->consequence == Consequence::refuse);
        CHECK(shop->library().finding("swollen")->version == 2);
        const auto chewed =
            exchange::entry_with(EntryKind::finding, swollen, {{"id", "chewed"}, {"name", "Chewed by a marten"}});
        REQUIRE(catalogue.save_entry(EntryKind::finding, chewed.value()));
        CHECK(shop->library().findings.size() == findings + 1);
        // A chemistry: a lower limit is the shop's to choose, a higher one is another chemistry.
        const std::string nmc = catalogue.entry(EntryKind::chemistry, "nmc");
        const auto gentle = exchange::entry_with(
            EntryKind::chemistry, nmc,
            {{"voltage.charge_limit_v", "4.1"}, {"voltage.full_v", "4.1"}, {"source", "our own school"}});
        REQUIRE(gentle);
        REQUIRE(catalogue.save_entry(EntryKind::chemistry, gentle.value()));
        CHECK(shop->library().chemistry("nmc")->charging_v() == Approx(4.1));
        CHECK(shop->library().chemistry("nmc")->version == 2);
        const auto higher = exchange::entry_with(EntryKind::chemistry, nmc, {{"voltage.charge_limit_v", "4.35"}});
        const auto refused = catalogue.save_entry(EntryKind::chemistry, higher.value());
        REQUIRE_FALSE(refused);
        CHECK_THAT(refused.problem().text(), Catch::Contains("another name"));
        // What was lowered may go back, and be lowered again.
        REQUIRE(catalogue.save_entry(EntryKind::chemistry, nmc));
        CHECK(shop->library().chemistry("nmc")->charging_v() == Approx(4.2));
        CHECK_FALSE(catalogue.save_entry(EntryKind::chemistry, higher.value()));
        REQUIRE(catalogue.save_entry(EntryKind::chemistry, gentle.value()));
        const auto own = exchange::entry_with(EntryKind::chemistry, higher.value(),
                                              {{"id", "nmc-high"}, {"name", "Li-ion, high voltage"}});
        REQUIRE(catalogue.save_entry(EntryKind::chemistry, own.value()));
        CHECK(shop->library().chemistry("nmc-high")->charging_v() == Approx(4.35));
        CHECK(shop->library().chemistry("nmc")->charging_v() == Approx(4.1));
        // Bands that do not rise, an empty name and letters for volts are refused with the field; nothing changes.
        for (const auto& [key, value] :
             {std::pair("bands.low_below_v", "0.1"), {"name", ""}, {"ocv", "nowhere"}, {"voltage.floor_v", "two"}}) {
            INFO(key);
            const auto text = exchange::entry_with(EntryKind::chemistry, nmc, {{key, value}});
            const bool kept = text.ok() && catalogue.save_entry(EntryKind::chemistry, text.value()).ok();
            CHECK_FALSE(kept);
        }
        CHECK(shop->library().chemistry("nmc")->version == 4);
        // A format: its size, and what it may hold is left as it was.
        const auto format = exchange::entry_with(EntryKind::format, catalogue.entry(EntryKind::format, "18650"),
                                                 {{"height_mm", "65.5"}});
        REQUIRE(catalogue.save_entry(EntryKind::format, format.value()));
        CHECK(shop->library().format("18650")->height_m == Approx(0.0655));
        CHECK(shop->library().format("18650")->capacity_for("nmc") != nullptr);
    }
    // Whatever the order in which the file's texts are read: the highest version counts.
    const auto again = Workshop::open(path).value();
    CHECK(again->library().format("18650")->height_m == Approx(0.0655));
    CHECK(again->library().finding("swollen")->consequence == Consequence::refuse);
    CHECK(again->library().finding("chewed")->name == "Chewed by a marten");
    CHECK(again->library().chemistry("nmc")->charging_v() == Approx(4.1));
    CHECK(again->library().chemistry("nmc-high") != nullptr);
}

TEST_CASE("An entry taken apart into fields and put together again is the same entry, for every one that is shipped") {
    using exchange::EntryKind;
    const auto texts = exchange::read_library_texts(Workshop::shipped_folder("data")).value();
    const auto library = exchange::parse_library(texts).value();
    int seen = 0;
    const auto same = [&](EntryKind kind, const std::string& id) {
        INFO(id);
        const auto text = exchange::entry_text(texts, kind, id);
        REQUIRE(text);
        const auto values = exchange::entry_values(kind, *text);
        REQUIRE(values);
        const auto written = exchange::entry_with(kind, *text, values.value());
        REQUIRE(written);
        CHECK(exchange::entry_values(kind, written.value()).value() == values.value());
        CHECK(values.value().at("id") == id);
        ++seen;
    };
    for (const auto& [id, chemistry] : library.chemistries)
        same(EntryKind::chemistry, id);
    for (const auto& [id, format] : library.formats)
        same(EntryKind::format, id);
    for (const auto& finding : library.findings)
        same(EntryKind::finding, finding.id);
    CHECK(seen > 20);
    CHECK_FALSE(exchange::entry_text(texts, EntryKind::chemistry, "unobtainium"));
    CHECK_FALSE(exchange::entry_values(EntryKind::format, "[[format]]\nid = \"a\"\n[[format]]\nid = \"b\"\n"));
    CHECK_FALSE(exchange::entry_values(EntryKind::format, "[[format"));
}
