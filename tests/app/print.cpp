// Printed labels decode again with an independent reader.
#include "app/print/label_sheet.h"
#include "temporary.h"

#include <catch2/catch.hpp>

#include "core/cells/unit_code.h"

#include <QImage>
#define ZX_USE_UTF8
#include <ZXing/ReadBarcode.h>

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
