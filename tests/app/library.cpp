// The Library by its forms, with mouse and keys.
#include "window.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>

using namespace ingot;
using namespace ingot::tests;

namespace {

struct LibraryWindow : Window {
    LibraryWindow() { key(Qt::Key_L, Qt::ControlModifier | Qt::ShiftModifier); }
    QWidget* page = window.view(app::Room::library);
    void choose(const QString& start) {
        auto* list = page->findChild<QListWidget*>(QStringLiteral("library_entries"));
        for (int row = 0; row < list->count(); ++row)
            if (list->item(row)->text().startsWith(start)) {
                list->setCurrentRow(row);
                settle();
                return;
            }
        FAIL("no entry " << start.toStdString());
    }
    [[nodiscard]] QLineEdit* line(const char* key) const {
        auto* edit = page->findChild<QLineEdit*>(QStringLiteral("entry_") + QString::fromLatin1(key));
        REQUIRE(edit != nullptr);
        return edit;
    }
    void type(const char* key, const char* words) const {
        line(key)->setFocus();
        line(key)->selectAll();
        QTest::keyClicks(line(key), QString::fromUtf8(words));
    }
    void save() {
        press(QStringLiteral("Save as the next version"));
        settle();
    }
    [[nodiscard]] QString says() const { return page->findChild<QLabel*>(QStringLiteral("library_says"))->text(); }
    [[nodiscard]] QPlainTextEdit* text() const {
        return page->findChild<QPlainTextEdit*>(QStringLiteral("library_text"));
    }
};

} // namespace

TEST_CASE("N3: a finding, a format and a chemistry are changed by their fields, each with its unit, or as text") {
    LibraryWindow w;
    w.choose(QStringLiteral("Finding: Swollen"));
    auto* follows = w.page->findChild<QComboBox*>(QStringLiteral("entry_consequence"));
    REQUIRE(follows != nullptr);
    CHECK(follows->currentText() == QStringLiteral("quarantine"));
    CHECK_FALSE(w.text()->isVisible());
    follows->setCurrentIndex(follows->findText(QStringLiteral("refused")));
    w.type("what_to_do", "Outside, away from people.");
    w.save();
    CHECK(w.says().contains(QStringLiteral("next version")));
    CHECK(w.shop().library().finding("swollen")->consequence == Consequence::refuse);
    CHECK(w.page->findChild<QListWidget*>(QStringLiteral("library_entries"))->currentItem()->text() ==
          QStringLiteral("Finding: Swollen, v2"));
    // A format of the shop's own: copied, flat instead of round; a comma is a point.
    w.choose(QStringLiteral("Format: 18650"));
    w.answer_line(QStringLiteral("pouch-60"));
    w.press(QStringLiteral("Copy under a new name…"));
    w.window.activateWindow();
    w.settle();
    CHECK(w.line("id")->text() == QStringLiteral("pouch-60"));
    w.type("diameter_mm", "");
    w.line("diameter_mm")->clear();
    w.type("broad_mm", "60");
    w.type("thick_mm", "8,4");
    w.line("height_mm")->clear();
    w.save(); // without its length
    CHECK(w.says().startsWith(QStringLiteral("Length or height, mm:")));
    CHECK(w.shop().library().format("pouch-60") == nullptr);
    CHECK(w.line("broad_mm")->text() == QStringLiteral("60")); // nothing typed is lost
    w.type("height_mm", "ninety");
    w.save();
    CHECK(w.says().contains(QStringLiteral("\"ninety\" is not a number")));
    w.type("height_mm", "90");
    w.save();
    REQUIRE(w.shop().library().format("pouch-60") != nullptr);
    CHECK(w.shop().library().format("pouch-60")->thick_m == Approx(0.0084));
    CHECK(w.shop().library().format("pouch-60")->diameter_m == 0);
    CHECK(w.shop().library().format("18650")->diameter_m > 0);
    // What is typed and not saved waits with its entry.
    w.type("height_mm", "77");
    w.command(QStringLiteral("Leave the changes"));
    CHECK(w.line("height_mm")->text() == QStringLiteral("90"));
    w.type("height_mm", "91");
    w.choose(QStringLiteral("Finding: Leaking"));
    CHECK(w.says().isEmpty());
    w.choose(QStringLiteral("Format: pouch-60"));
    CHECK(w.line("height_mm")->text() == QStringLiteral("91"));
    CHECK(w.says().contains(QStringLiteral("not saved")));
    w.type("height_mm", "91 or so"); // what is no figure as well, with what is one
    w.type("thick_mm", "8.2");
    w.choose(QStringLiteral("Finding: Leaking"));
    w.choose(QStringLiteral("Format: pouch-60"));
    CHECK(w.line("height_mm")->text() == QStringLiteral("91 or so"));
    CHECK(w.line("thick_mm")->text() == QStringLiteral("8.2"));
    w.save();
    CHECK(w.says().contains(QStringLiteral("is not a number")));
    w.type("thick_mm", "8.4");
    w.type("height_mm", "91");
    w.save();
    CHECK(w.shop().library().format("pouch-60")->height_m == Approx(0.091));
    CHECK_FALSE(w.says().contains(QStringLiteral("not saved")));
    // A chemistry must not be charged higher than before; lower it may.
    w.choose(QStringLiteral("Chemistry: Li-ion NMC"));
    w.type("voltage.charge_limit_v", "4.3");
    w.save();
    CHECK(w.says().contains(QStringLiteral("another name")));
    w.type("voltage.charge_limit_v", "4,1");
    w.type("voltage.full_v", "4.1");
    w.save();
    CHECK(w.shop().library().chemistry("nmc")->charging_v() == Approx(4.1));
    // A mass is typed in g, kept in kg; what was typed goes along into the text.
    w.choose(QStringLiteral("Unit: "));
    const std::string id = w.line("id")->text().toStdString();
    w.type("mass_kg", "46.5");
    w.press(QStringLiteral("As text"));
    w.settle();
    CHECK(w.text()->isVisible());
    CHECK(w.text()->toPlainText().contains(QStringLiteral("0.0465")));
    w.press(QStringLiteral("As text"));
    w.settle();
    CHECK_FALSE(w.text()->isVisible());
    CHECK(w.line("mass_kg")->text() == QStringLiteral("46.5"));
    w.save();
    CHECK(w.shop().library().model(id)->mass_kg == Approx(0.0465));
    const auto again = Workshop::open(w.path());
    REQUIRE(again);
    CHECK(again.value()->library().format("pouch-60")->broad_m == Approx(0.060));
    CHECK(again.value()->library().chemistry("nmc")->charging_v() == Approx(4.1));
}

TEST_CASE("N3: symptoms, instruments and prices are entered by their fields, and used at once") {
    LibraryWindow w;
    // A symptom, copied from one that is shipped: per cents, the decimal comma.
    w.choose(QStringLiteral("Symptom: Works, then dies"));
    CHECK(w.line("met.weak-group")->text() == QStringLiteral("60"));
    w.answer_line(QStringLiteral("hums"));
    w.press(QStringLiteral("Copy under a new name…"));
    w.window.activateWindow();
    w.settle();
    w.type("name", "It hums and stops");
    w.type("met.high-resistance-joint", "62,5");
    w.type("met.healthy", "101");
    w.save();
    INFO(w.says().toStdString());
    CHECK(w.says().contains(QStringLiteral("Nothing wrong"))); // the field, and why
    w.type("met.healthy", "1");
    w.save();
    const Symptom* hums = w.shop().library().triage.symptom("hums");
    REQUIRE(hums != nullptr);
    CHECK(hums->name == "It hums and stops");
    CHECK(hums->likelihood[static_cast<std::size_t>(Fault::high_resistance_joint)] == Approx(0.625));
    // A shipped one is changed in its place.
    const std::size_t symptoms = w.shop().library().triage.symptoms.size();
    w.choose(QStringLiteral("Symptom: Works, then dies"));
    w.type("met.weak-group", "70");
    w.save();
    CHECK(w.shop().library().triage.symptoms.size() == symptoms);
    CHECK(w.shop().library().triage.symptom("works-then-dies")->likelihood[3] == Approx(0.7));
    // An instrument that nobody entered yet: what it shows, in the units on its face.
    w.choose(QStringLiteral("Instrument: another one"));
    w.save();
    CHECK(w.says().contains(QStringLiteral("is needed")));
    w.type("id", "bench meter 2");
    w.type("channels", "0");
    w.save();
    CHECK(w.says().startsWith(QStringLiteral("Channels")));
    w.type("channels", "1");
    w.type("volts_resolution", "1");
    w.type("current_gain", "-0,4");
    w.save();
    const auto known = [&](const std::string& name) {
        const auto all = w.shop().catalogue().instruments();
        const auto found = std::find_if(all.begin(), all.end(), [&](const Instrument& i) { return i.name == name; });
        REQUIRE(found != all.end());
        return *found;
    };
    CHECK(*known("bench meter 2").volts_resolution == Approx(0.001));
    CHECK(*known("bench meter 2").current_gain == Approx(-0.004));
    CHECK_FALSE(known("bench meter 2").amperes_resolution);
    // When it was held against another stays, whatever is changed.
    REQUIRE(w.shop().catalogue().note_check("bench meter 2", "the other one", ""));
    w.choose(QStringLiteral("Instrument: bench meter 2"));
    w.type("amperes_resolution", "10");
    w.save();
    CHECK(*known("bench meter 2").amperes_resolution == Approx(0.01));
    CHECK_FALSE(known("bench meter 2").checked_at.empty());
    // A charger of the bench stays one, with its channels.
    w.choose(QStringLiteral("Instrument: Bench charger"));
    const int channels = known("Bench charger").channels;
    REQUIRE(channels > 1);
    w.type("channels", "1");
    w.save();
    CHECK(w.says().startsWith(QStringLiteral("Channels")));
    w.type("channels", std::to_string(channels).c_str());
    auto* kind = w.page->findChild<QComboBox*>(QStringLiteral("entry_kind"));
    kind->setCurrentIndex(kind->findText(QStringLiteral("meter")));
    w.save();
    CHECK(w.says().startsWith(QStringLiteral("Kind")));
    CHECK(known("Bench charger").kind == "charger");
    // Prices and hours are those of "worth it?"; there is one set of them.
    w.choose(QStringLiteral("Prices and hours"));
    w.type("prices.hour", "31,5");
    w.type("hours.prove", "-1");
    w.save();
    CHECK(w.says().startsWith(QStringLiteral("Prove a pack")));
    w.type("hours.prove", "0.75");
    w.save();
    CHECK(w.line("prices.hour")->text() == QStringLiteral("31.5"));
    const auto again = Workshop::open(w.path());
    REQUIRE(again);
    CHECK(again.value()->inventory().shops_worth().prices.hour == Approx(31.5));
    CHECK(again.value()->inventory().shops_worth().hours.prove == Approx(0.75));
    CHECK(again.value()->inventory().shops_worth().of(WorthRoute::rebuild).chance ==
          Approx(w.shop().library().usual_worth.of(WorthRoute::rebuild).chance));
    CHECK(again.value()->library().triage.symptom("hums") != nullptr);
}
