#include "app/theme/theme.h"

#include "workshop/workshop.h"

#include <QApplication>
#include <QFileInfo>
#include <QFontDatabase>
#include <QFontInfo>
#include <QPalette>
#include <QStyleFactory>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

QColor hex(const char* code) {
    return {QString::fromLatin1(code)};
}

Colours light() {
    return {hex("#F3F0EA"), hex("#FBFAF7"), hex("#E9E4DA"), hex("#1F2328"), hex("#565A61"), hex("#D9D4CA"),
            hex("#C2481A"), hex("#AE3D12"), hex("#F9E6DC"), hex("#2F6079"), hex("#DFE9ED"), hex("#A9C3CF"),
            hex("#9A7318"), hex("#74540D"), hex("#F7EFDD"), hex("#4B6F3C"), hex("#436636"), hex("#7A1F4B"),
            hex("#F3E3EB"), hex("#CDDDC2"), hex("#DFE9D7"), hex("#EEF2E8"), hex("#FFFFFF")};
}

Colours dark() {
    return {hex("#1D1F22"), hex("#26292D"), hex("#17191B"), hex("#ECE7DD"), hex("#B0AFA7"), hex("#40444A"),
            hex("#E8743B"), hex("#F58A57"), hex("#3A2A22"), hex("#7CB2D0"), hex("#2A3A45"), hex("#3F5E70"),
            hex("#D3A93F"), hex("#DDB34A"), hex("#38301F"), hex("#86B56C"), hex("#9BC583"), hex("#E9A3C4"),
            hex("#3A2631"), hex("#384B33"), hex("#33422F"), hex("#2A342B"), hex("#14171A")};
}

} // namespace

Theme& Theme::instance() {
    static Theme theme;
    return theme;
}

void Theme::choose_fonts() {
    const std::string file = Workshop::shipped_folder("data") + "/fonts/fonts.conf";
    if (!qEnvironmentVariableIsSet("FONTCONFIG_FILE") && QFileInfo::exists(QString::fromStdString(file)))
        qputenv("FONTCONFIG_FILE", QByteArray::fromStdString(file));
}

void Theme::apply(Appearance appearance) {
    appearance_ = appearance;
    colours_ = appearance == Appearance::light ? light() : dark();
    if (family_.isEmpty()) {
        for (const char* file : {":/fonts/B612-Regular.otf", ":/fonts/B612-Bold.otf"})
            QFontDatabase::addApplicationFont(QString::fromLatin1(file));
        family_ = QStringLiteral("B612");
        // The desktop's font size in relation to the one the design was drawn for.
        constexpr double drawn_for_px = 13.0;
        const int desktop_px = QFontInfo(QApplication::font()).pixelSize();
        scale_ = std::clamp(desktop_px / drawn_for_px, 1.0, 2.0);
        if (qEnvironmentVariableIsSet("INGOT_TYPE_SCALE"))
            scale_ = std::clamp(qEnvironmentVariable("INGOT_TYPE_SCALE").toDouble(), 1.0, 2.0);
    }
    QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
    QPalette palette;
    palette.setColor(QPalette::Window, colours_.paper);
    palette.setColor(QPalette::Base, colours_.surface);
    palette.setColor(QPalette::AlternateBase, colours_.paper);
    palette.setColor(QPalette::Button, colours_.surface);
    palette.setColor(QPalette::ToolTipBase, colours_.surface);
    for (const auto role :
         {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText, QPalette::BrightText})
        palette.setColor(role, colours_.ink);
    palette.setColor(QPalette::Highlight, colours_.steel);
    palette.setColor(QPalette::HighlightedText, colours_.on_strong);
    palette.setColor(QPalette::PlaceholderText, colours_.muted);
    palette.setColor(QPalette::Link, colours_.steel);
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        palette.setColor(QPalette::Disabled, role, colours_.muted);
    palette.setColor(QPalette::Light, colours_.surface);
    palette.setColor(QPalette::Midlight, colours_.well);
    palette.setColor(QPalette::Mid, colours_.hairline);
    palette.setColor(QPalette::Dark, colours_.muted);
    QApplication::setPalette(palette);
    QApplication::setFont(font(14));
    emit changed();
}

Theme::Appearance Theme::of_desktop() {
    constexpr int half = 128;
    static const Appearance found =
        QGuiApplication::palette().color(QPalette::Window).lightness() < half ? Appearance::dark : Appearance::light;
    return found;
}

int Theme::length(int pixels) const {
    return static_cast<int>(std::lround(pixels * scale_));
}

QFont Theme::font(int pixels, bool bold) const {
    QFont font(family_);
    font.setPixelSize(static_cast<int>(std::lround(pixels * scale_)));
    font.setBold(bold);
    return font;
}

} // namespace ingot::app
