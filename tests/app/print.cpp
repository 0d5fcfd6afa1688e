// Printed labels decode again with an independent reader.
#include "app/print/build_sheet.h"
#include "app/print/drawing_pages.h"
#include "app/print/label_sheet.h"
#include "app/print/record_sheet.h"
#include "exchange/weld_map.h"
#include "temporary.h"

#include <catch2/catch.hpp>

#include "core/cells/unit_code.h"

#include <QImage>
#define ZX_USE_UTF8
#include <ZXing/ReadBarcode.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <set>

using namespace ingot;

TEST_CASE("Every label of a printed sheet decodes to its code") {
    const tests::Temporary folder;
    std::vector<app::Label> labels;
    for (int i = 1; i <= 60; ++i) // more than one page
        labels.push_back({QString::fromStdString(UnitCode{"K4", i * 7}.text()),
                          QStringLiteral("MOW-07, group 3, place %1").arg(i), QStringLiteral("H26")});
    const std::string pdf = folder.file("labels.pdf");
    REQUIRE(app::write_label_sheet(QString::fromStdString(pdf), labels));
    REQUIRE(std::system(("pdftoppm -r 200 -gray -png " + pdf + " " + folder.file("page")).c_str()) == 0);
    std::set<std::string> decoded;
    for (const char* page : {"page-1.png", "page-2.png"}) {
        const QImage sheet =
            QImage(QString::fromStdString(folder.file(page))).convertToFormat(QImage::Format_Grayscale8);
        REQUIRE_FALSE(sheet.isNull());
        // One label at a time, as a scanner sees it.
        const double mm = 200 / 25.4;
        for (int row = 0; row < 13; ++row)
            for (int column = 0; column < 4; ++column) {
                const QImage label =
                    sheet.copy(static_cast<int>((9 + column * 48) * mm), static_cast<int>((12 + row * 21) * mm),
                               static_cast<int>(48 * mm), static_cast<int>(21 * mm));
                const ZXing::ImageView view(label.constBits(), label.width(), label.height(), ZXing::ImageFormat::Lum,
                                            static_cast<int>(label.bytesPerLine()));
                const auto result = ZXing::ReadBarcode(view, ZXing::DecodeHints().setTryHarder(true));
                if (result.isValid())
                    decoded.insert(result.text());
            }
    }
    CHECK(decoded.size() == labels.size());
    for (const auto& label : labels)
        CHECK(decoded.contains(label.code.toStdString()));
}

TEST_CASE("Code 128 labels, and every size of sheet, decode too") {
    const tests::Temporary folder;
    for (const app::LabelSheet& sheet : app::label_sheets())
        for (const app::LabelCode kind : {app::LabelCode::qr, app::LabelCode::code128}) {
            std::vector<app::Label> labels;
            for (int i = 1; i <= sheet.columns * 2; ++i)
                labels.push_back({QString::fromStdString(UnitCode{"K4", i * 13}.text()),
                                  QStringLiteral("MOW-07, group 3, place %1").arg(i), QStringLiteral("H26")});
            const std::string pdf = folder.file("labels.pdf");
            REQUIRE(app::write_label_sheet(QString::fromStdString(pdf), labels, sheet, kind));
            REQUIRE(std::system(
                        ("pdftoppm -r 300 -gray -png -singlefile " + pdf + " " + folder.file("sheet")).c_str()) == 0);
            const QImage page =
                QImage(QString::fromStdString(folder.file("sheet.png"))).convertToFormat(QImage::Format_Grayscale8);
            const double mm = 300 / 25.4;
            INFO(sheet.name.toStdString() << (kind == app::LabelCode::qr ? ", QR" : ", Code 128"));
            std::set<std::string> decoded;
            for (int row = 0; row < 2; ++row)
                for (int column = 0; column < sheet.columns; ++column) {
                    const QImage label =
                        page.copy(static_cast<int>((sheet.left + column * sheet.width) * mm),
                                  static_cast<int>((sheet.top + row * sheet.height) * mm),
                                  static_cast<int>(sheet.width * mm), static_cast<int>(sheet.height * mm));
                    const ZXing::ImageView view(label.constBits(), label.width(), label.height(),
                                                ZXing::ImageFormat::Lum, static_cast<int>(label.bytesPerLine()));
                    const auto result = ZXing::ReadBarcode(view, ZXing::DecodeHints().setTryHarder(true));
                    if (result.isValid())
                        decoded.insert(result.text());
                }
            for (const auto& label : labels)
                CHECK(decoded.contains(label.code.toStdString()));
        }
}

TEST_CASE("A printed build sheet holds every unit with its tray, the formula and the cautions") {
    const tests::Temporary folder;
    BuildSheet sheet;
    sheet.build.label = "B-099";
    sheet.build.layout.series = 10;
    sheet.build.layout.parallel = 6; // more than one page
    sheet.build.created_at = "2026-11-25T10:00:00Z";
    for (int g = 1; g <= 10; ++g) {
        sheet.group_capacity_ah.push_back(13.5);
        std::vector<JoinUnit> joining;
        for (int k = 1; k <= 6; ++k) {
            const int n = (g - 1) * 6 + k;
            sheet.lines.push_back({g, k, n, UnitCode{"K4", n}.text(), "H26", "S" + std::to_string(g), n, 2.25, 0.05,
                                   0.0008, 3.64 + (n == 7 ? 0.2 : 0.0), k == 1});
            joining.push_back({sheet.lines.back().voltage_v, 0.05, 2.6});
        }
        sheet.joining.push_back(check_joining(joining, {0.010, 0.050, 0.300, 0.5}));
    }
    const std::string pdf = folder.file("sheet.pdf");
    REQUIRE(app::write_build_sheet(QString::fromStdString(pdf), sheet, QStringLiteral("Test shop"),
                                   {QStringLiteral("Equal voltage first.")}));
    REQUIRE(std::system(("pdftotext -layout " + pdf + " " + folder.file("sheet.txt")).c_str()) == 0);
    const std::string text = tests::Temporary::read(folder.file("sheet.txt"));
    for (const BuildLine& line : sheet.lines) {
        INFO(line.code);
        const auto at = text.find(line.code);
        REQUIRE(at != std::string::npos);
        const std::string row = text.substr(at, text.find('\n', at) - at);
        CHECK(row.find(line.tray) != std::string::npos);
        CHECK(row.find("2.250") != std::string::npos);
        CHECK(row.find(line.unit == 7 ? "3.840" : "3.640") != std::string::npos);
    }
    CHECK(text.find("B-099") != std::string::npos);
    CHECK(text.find("Equal voltage first.") != std::string::npos);
    CHECK(text.find("Local codes") != std::string::npos);
    CHECK(text.find("through a resistor") != std::string::npos); // group 2, with the odd one
    CHECK_FALSE(app::write_build_sheet(QStringLiteral("/no/such/folder/x.pdf"), sheet, {}, {}));
}

TEST_CASE("A list on paper has its heads, rows and notes; a place that cannot be written to is said") {
    const tests::Temporary folder;
    const QString path = QString::fromStdString(folder.file("list.pdf"));
    const std::vector<QStringList> rows{{QStringLiteral("Label"), QStringLiteral("State")},
                                        {QStringLiteral("MOW-07"), QStringLiteral("at Triage")}};
    REQUIRE(app::write_record_sheet(path, QStringLiteral("Packs"), QStringLiteral("Fellside"), rows,
                                    {QStringLiteral("Group 3 is dead.")}));
    REQUIRE(std::system(("pdftotext -layout " + path.toStdString() + " " + folder.file("list.txt")).c_str()) == 0);
    const std::string text = tests::Temporary::read(folder.file("list.txt"));
    for (const char* words : {"Packs", "Fellside", "Label", "MOW-07", "at Triage", "Group 3 is dead."})
        CHECK(text.find(words) != std::string::npos);
    CHECK_FALSE(app::write_record_sheet(QString::fromStdString(folder.file("none/list.pdf")), QStringLiteral("Packs"),
                                        QStringLiteral("Fellside"), rows));
    CHECK_FALSE(app::write_record_sheet(path, QStringLiteral("Packs"), QStringLiteral("Fellside"), {}));
}

TEST_CASE("A weld map on paper is in its true size: its bar of 50 mm is measured on the page") {
    LayoutProblem problem;
    problem.diameter_m = 0.0184;
    problem.pitch_m = 0.0195;
    problem.case_width_m = 0.120;
    problem.case_height_m = 0.090;
    problem.groups = {{"a", "b"}, {"c", "d"}, {"e", "f"}};
    const Layout layout = propose_layouts(problem).value().front();
    StripStock stock;
    stock.width_m = 0.008;
    const exchange::WeldMap map{layout, "B-1", 0.120, 0.090, stock};
    const tests::Temporary folder;
    const std::string pdf = folder.file("map.pdf");
    REQUIRE(
        app::write_drawing_pages(QString::fromStdString(pdf), QStringLiteral("B-1"),
                                 {QString::fromStdString(exchange::write_weld_map(map, StripDrawing::Face::front)),
                                  QString::fromStdString(exchange::write_weld_map(map, StripDrawing::Face::back))}));
    // 254 dots an inch: ten a millimetre.
    REQUIRE(std::system(("pdftoppm -r 254 -gray -png " + pdf + " " + folder.file("page")).c_str()) == 0);
    const auto size = exchange::weld_map_size_mm(map);
    for (const char* name : {"page-1.png", "page-2.png"}) {
        const QImage page(QString::fromStdString(folder.file(name)));
        REQUIRE_FALSE(page.isNull());
        CHECK(std::abs(page.width() - size[0] * 10) <= 4);
        CHECK(std::abs(page.height() - size[1] * 10) <= 4);
        // The longest dark run in the foot of the page is the bar.
        int longest = 0;
        for (int y = page.height() - 160; y < page.height() - 20; ++y) {
            int run = 0;
            for (int x = 0; x < page.width(); ++x) {
                run = qGray(page.pixel(x, y)) < 100 ? run + 1 : 0;
                longest = std::max(longest, run);
            }
        }
        CHECK(std::abs(longest - 500) <= 3);
    }
    CHECK_FALSE(
        app::write_drawing_pages(QString::fromStdString(folder.file("none.pdf")), {}, {QStringLiteral("no svg")}));
}
