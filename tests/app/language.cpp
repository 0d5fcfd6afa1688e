// Another language: figures with its comma, the window's words from a file beside the data, Qt's own from its
// catalogue.
#include "app/shell/route.h"
#include "app/stations/station.h"
#include "app/theme/words.h"
#include "temporary.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <catch2/catch.hpp>

#include <QCoreApplication>
#include <QFile>
#include <QLibraryInfo>
#include <QProcess>
#include <QXmlStreamReader>

#include <filesystem>
#include <map>
#include <regex>
#include <set>

using namespace ingot;
using namespace ingot::tests;

TEST_CASE("Figures are written with the locale's decimal sign, and both signs are understood") {
    const QLocale before;
    QLocale::setDefault(QLocale(QLocale::German));
    CHECK(figures::volts(3.6124) == QStringLiteral("3,612\u202FV"));
    CHECK(figures::plain(-0.0412, 3) == QStringLiteral("\u22120,041"));
    CHECK(figures::plain(-0.0002, 2) == QStringLiteral("0,00"));
    CHECK(figures::plain(12345.6, 1) == QStringLiteral("12345,6"));
    CHECK(*figures::typed(figures::plain(-3.25, 2)) == Approx(-3.25)); // what is shown can be typed again
    CHECK(*figures::typed(QStringLiteral("3.25")) == Approx(3.25));
    QLocale::setDefault(QLocale::c());
    CHECK(figures::volts(3.6124) == QStringLiteral("3.612\u202FV"));
    QLocale::setDefault(before);
}

TEST_CASE("A language's file in the data folder is the window's language; what it lacks stays English") {
    const Temporary folder;
    std::filesystem::create_directories(folder.file("translations"));
    const std::string source = folder.write("ingot_de.ts", R"(<?xml version="1.0" encoding="utf-8"?>
<!DOCTYPE TS><TS version="2.1" language="de_DE">
<context><name></name><message><source>{} has groups 1 to {}.</source>
<translation>{1} Gruppen hat {0}.</translation></message></context>
<context><name>ingot::app</name><message><source>Receive</source><translation>Annahme</translation></message></context>
</TS>)");
    REQUIRE(QProcess::execute(QStringLiteral(INGOT_LRELEASE),
                              {QStringLiteral("-silent"), QString::fromStdString(source), QStringLiteral("-qm"),
                               QString::fromStdString(folder.file("translations/ingot_de.qm"))}) == 0);
    qputenv("INGOT_DATA_DIR", QByteArray::fromStdString(folder.file(".")));
    const QLocale before;
    app::choose_words(QLocale(QLocale::German, QLocale::Germany));
    qunsetenv("INGOT_DATA_DIR");
    CHECK(app::station_name(Station::receive) == QStringLiteral("Annahme"));
    CHECK(app::station_name(Station::match) == QStringLiteral("Match"));
    // Objections are made where no Qt is, and are said in the language all the same, their order turned round (K35).
    CHECK(wording::problem({"", 0, said("{} has groups 1 to {}.", "MOW-0143", 7)}) ==
          QStringLiteral("7 Gruppen hat MOW-0143."));
    CHECK(wording::problem({"pool.csv", 3, said("{} is held.", "MOW-0143")}) ==
          QStringLiteral("pool.csv:3: MOW-0143 is held."));
    CHECK(QLocale().decimalPoint() == QStringLiteral(","));
    // Figures in them have the locale's sign, also where one objection stands in another; names keep their points.
    CHECK(wording::problem({"", 0, said("{}: {} V", "pool.v2.csv", said("{} of {} V", 3.25, 1000))}) ==
          QStringLiteral("pool.v2.csv: 3,25 of 1000 V V"));
    // Qt's catalogue is an optional package; where it is, its words are used.
    if (QFile::exists(QLibraryInfo::path(QLibraryInfo::TranslationsPath) + QStringLiteral("/qtbase_de.qm")))
        CHECK(QCoreApplication::translate("QPlatformTheme", "Cancel") == QStringLiteral("Abbrechen"));
    QLocale::setDefault(before);
}

TEST_CASE("K35: every sentence of the window and of the objections is collected for translators") {
    const Temporary folder;
    const std::string all = folder.file("ingot_xx.ts");
    REQUIRE(QProcess::execute(QString::fromUtf8(INGOT_SOURCE_DIR "/scripts/translations"),
                              {QStringLiteral("xx"), QString::fromStdString(all)}) == 0);
    QFile file(QString::fromStdString(all));
    REQUIRE(file.open(QIODevice::ReadOnly));
    std::map<QString, std::set<QString>> collected; // by context
    QXmlStreamReader xml(&file);
    QString context;
    while (!xml.atEnd()) {
        if (xml.readNext() != QXmlStreamReader::StartElement)
            continue;
        if (xml.name() == QStringLiteral("name"))
            context = xml.readElementText();
        else if (xml.name() == QStringLiteral("source"))
            collected[context].insert(xml.readElementText(QXmlStreamReader::IncludeChildElements));
    }
    REQUIRE_FALSE(xml.hasError());
    // A context that no code asks in would hold words that are never shown.
    for (const auto& [name, sources] : collected) {
        INFO(name.toStdString());
        CHECK((name.isEmpty() || name.startsWith(QStringLiteral("ingot::")) || name == QStringLiteral("main") ||
               name == QStringLiteral("BaySchedule") || name == QStringLiteral("WantedQuestion")));
    }
    CHECK(collected[QStringLiteral("ingot::wording")].size() > 300);
    const std::regex literal("\\bsaid\\(\\s*\"((?:[^\"\\\\]|\\\\.)*)\"(?!\\s*\")");
    int found = 0;
    for (const auto& entry : std::filesystem::recursive_directory_iterator(INGOT_SOURCE_DIR "/src")) {
        if (entry.path().extension() != ".cpp")
            continue;
        const std::string text = Temporary::read(entry.path().string());
        for (std::sregex_iterator at(text.begin(), text.end(), literal), end; at != end; ++at) {
            const QString pattern =
                QString::fromStdString((*at)[1].str()).replace(QStringLiteral("\\\""), QStringLiteral("\""));
            ++found;
            INFO(entry.path().filename().string() << ": " << pattern.toStdString());
            CHECK(collected[QString()].contains(pattern));
        }
    }
    CHECK(found > 300);
}
