// Another language: figures with its comma, the window's words from a file beside the data, Qt's own from its
// catalogue.
#include "app/shell/route.h"
#include "app/stations/station.h"
#include "app/theme/words.h"
#include "temporary.h"
#include "workshop/figures.h"

#include <catch2/catch.hpp>

#include <QCoreApplication>
#include <QFile>
#include <QLibraryInfo>
#include <QProcess>

#include <filesystem>

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
<context><name>stations</name><message><source>Receive</source><translation>Annahme</translation></message></context>
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
    CHECK(QLocale().decimalPoint() == QStringLiteral(","));
    // Qt's catalogue is an optional package; where it is, its words are used.
    if (QFile::exists(QLibraryInfo::path(QLibraryInfo::TranslationsPath) + QStringLiteral("/qtbase_de.qm")))
        CHECK(QCoreApplication::translate("QPlatformTheme", "Cancel") == QStringLiteral("Abbrechen"));
    QLocale::setDefault(before);
}
