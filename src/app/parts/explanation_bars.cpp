#include "app/parts/explanation_bars.h"

#include "app/theme/theme.h"
#include "workshop/figures.h"

#include <QPainter>

namespace ingot::app {

namespace {

int title_height() {
    return scaled(20);
}
int bar_height() {
    return scaled(7);
}
int gap() {
    return scaled(9);
}
int figure_width() {
    return scaled(68);
}

int text_height(const QString& text, const QFont& font, int width) {
    return text.isEmpty() ? 0
                          : QFontMetrics(font).boundingRect(QRect(0, 0, width, 1000), Qt::TextWordWrap, text).height();
}

} // namespace

QString ExplanationBar::figure() const {
    return said.isEmpty() ? figures::percent(probability, 0) : said;
}

ExplanationBars::ExplanationBars(QWidget* parent) : QWidget(parent) {
    QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void ExplanationBars::set(std::vector<ExplanationBar> bars) {
    bars_ = std::move(bars);
    QStringList words;
    for (const ExplanationBar& bar : bars_)
        words << QStringLiteral("%1 %2: %3").arg(bar.title, bar.figure(), bar.below);
    setAccessibleName(tr("What explains it"));
    setAccessibleDescription(words.join(QLatin1Char('\n')));
    updateGeometry();
    update();
}

int ExplanationBars::height_of(const ExplanationBar& bar, int width) const {
    const int title = std::max(title_height(), text_height(bar.title, type(14, true), width - figure_width()));
    return title + bar_height() + 3 + text_height(bar.below, type(12), width) + gap();
}

int ExplanationBars::heightForWidth(int width) const {
    int height = 0;
    for (const ExplanationBar& bar : bars_)
        height += height_of(bar, width);
    return height;
}

void ExplanationBars::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    int y = 0;
    bool first = true;
    for (const ExplanationBar& bar : bars_) {
        const int title = std::max(title_height(), text_height(bar.title, type(14, true), width() - figure_width()));
        painter.setPen(colours().ink);
        painter.setFont(type(14, first));
        painter.drawText(QRect(0, y, width() - figure_width(), title), Qt::AlignVCenter | Qt::TextWordWrap, bar.title);
        painter.setFont(type(14, true));
        painter.drawText(QRect(width() - figure_width(), y, figure_width(), title), Qt::AlignVCenter | Qt::AlignRight,
                         bar.figure());
        y += title;
        painter.fillRect(QRect(0, y, width(), bar_height()), colours().hairline);
        painter.fillRect(QRect(0, y, static_cast<int>(width() * bar.probability), bar_height()),
                         first ? colours().ink : colours().muted);
        y += bar_height() + 3;
        const int below = text_height(bar.below, type(12), width());
        painter.setPen(colours().muted);
        painter.setFont(type(12));
        painter.drawText(QRect(0, y, width(), below + 2), Qt::TextWordWrap, bar.below);
        y += below + gap();
        first = false;
    }
}

} // namespace ingot::app
