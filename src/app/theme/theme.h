// Colours and type of both appearances. Ember means "the hand is needed now" and nothing else.
#pragma once

#include <QColor>
#include <QFont>
#include <QObject>

namespace ingot::app {

struct Colours {
    QColor paper, surface, well, ink, muted, hairline;
    QColor ember, ember_text, ember_ground;
    QColor steel, steel_ground, steel_mid;
    QColor brass, brass_text, brass_ground;
    QColor moss, moss_text;
    QColor plum, plum_ground;
    QColor duty_drive, duty_store, duty_light;
    QColor on_strong; // text on steel, ember, plum
};

class Theme : public QObject {
    Q_OBJECT
public:
    enum class Appearance { light, dark };
    static Theme& instance();
    // To be called before the application object is made: see data/fonts/fonts.conf.
    static void choose_fonts();
    // What the desktop shows its own windows in; to be asked before `apply` has changed the palette, remembered after.
    static Appearance of_desktop();
    // Loads the shipped font, sets palette and style of the application.
    void apply(Appearance appearance);
    [[nodiscard]] const Colours& colours() const { return colours_; }
    [[nodiscard]] Appearance appearance() const { return appearance_; }
    // A size of the design at 1:1, scaled with the desktop's font size.
    [[nodiscard]] QFont font(int pixels, bool bold = false) const;
    // A length of the design at 1:1, scaled in the same way.
    [[nodiscard]] int length(int pixels) const;

signals:
    void changed();

private:
    Theme() = default;
    Colours colours_;
    Appearance appearance_ = Appearance::light;
    double scale_ = 1.0;
    QString family_;
};

inline const Colours& colours() {
    return Theme::instance().colours();
}
inline QFont type(int pixels, bool bold = false) {
    return Theme::instance().font(pixels, bold);
}

// What is painted beside words grows with them.
inline int scaled(int pixels) {
    return Theme::instance().length(pixels);
}

} // namespace ingot::app
