#include "app/shell/evidence_panel.h"

#include "app/parts/explanation_bars.h"
#include "app/parts/gauge.h"
#include "app/parts/marks.h"
#include "app/parts/panel.h"
#include "app/theme/theme.h"
#include "workshop/wording.h"

#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

// Mark and word of a verdict.
class VerdictLine : public QWidget {
public:
    VerdictLine(std::optional<Duty> mark, QString word, QWidget* parent)
        : QWidget(parent), mark_(mark), word_(std::move(word)) {
        setFixedHeight(scaled(40));
        setAccessibleName(word_);
    }

protected:
    void paintEvent(QPaintEvent* /*event*/) override {
        QPainter painter(this);
        int left = 0;
        if (mark_) {
            draw_duty(painter, {scaled(18) * 1.0, scaled(20) * 1.0}, scaled(32), *mark_);
            left = scaled(44);
        }
        painter.setPen(mark_ ? duty_colour(*mark_) : colours().ink);
        int size = word_.size() > 18 ? 18 : 23;
        constexpr int smallest = 14;
        do
            painter.setFont(type(size, true));
        while (QFontMetrics(painter.font()).horizontalAdvance(word_) > width() - left && --size > smallest);
        painter.drawText(rect().adjusted(left, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft | Qt::TextWordWrap, word_);
    }

private:
    std::optional<Duty> mark_;
    QString word_;
};

} // namespace

EvidencePanel::EvidencePanel(QWidget* parent) : QWidget(parent) {
    setFixedWidth(least_width); // as wide as the window allows (MainWindow)
    setAccessibleName(tr("Evidence"));
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(16, 10, 14, 12);
    outer->setSpacing(4);
    auto* heading = caption(tr("Evidence"), this);
    heading->setFont(type(13, true));
    outer->addWidget(heading);
    auto* scroll = new QScrollArea(this);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->viewport()->setAutoFillBackground(false);
    content_ = new QWidget;
    content_->setAutoFillBackground(false);
    list_ = new QVBoxLayout(content_);
    list_->setContentsMargins(0, 0, 2, 0);
    list_->setSpacing(6);
    scroll->setWidget(content_);
    content_->setAutoFillBackground(false); // setWidget turns it on
    outer->addWidget(scroll, 1);
    auto* foot = new QHBoxLayout;
    overrule_ = new PressButton(tr("&Overrule…"), this);
    overrule_->setToolTip(tr("Decide otherwise, with a reason that is kept"));
    foot->addWidget(overrule_);
    decided_by_ = sentence({}, this);
    decided_by_->setFont(type(12));
    foot->addWidget(decided_by_, 1);
    outer->addLayout(foot);
    connect(overrule_, &PressButton::clicked, this, [this] { emit overrule_wanted(unit_); });
}

void EvidencePanel::add_reason(const Evidence& evidence) {
    if (evidence.measured && !evidence.limits.empty()) {
        auto* gauge = new Gauge(content_);
        gauge->set(evidence);
        list_->addWidget(gauge);
        return;
    }
    auto* text = sentence(wording::evidence(evidence), content_);
    if (evidence.decides)
        text->setFont(type(14, true));
    list_->addWidget(text);
}

void EvidencePanel::clear() {
    while (QLayoutItem* item = list_->takeAt(0)) {
        if (QWidget* widget = item->widget()) {
            widget->hide();
            widget->deleteLater();
        }
        delete item;
    }
}

Panel* EvidencePanel::add_card(Panel::Kind kind, const QString& title_text, int size) {
    auto* card = new Panel({}, content_);
    card->set_kind(kind);
    auto* title = sentence(title_text, card);
    title->setFont(type(size, true));
    card->body()->addWidget(title);
    list_->addWidget(card);
    if (kind == Panel::Kind::caution) {
        QPalette plum = title->palette();
        plum.setColor(QPalette::WindowText, colours().plum);
        title->setPalette(plum);
    }
    return card;
}

void EvidencePanel::add_subject(const EvidenceContent& content) {
    auto* subject = sentence(content.subject, content_);
    subject->setFont(type(16, true));
    list_->addWidget(subject);
    if (!content.verdict.isEmpty())
        list_->addWidget(new VerdictLine(content.mark, content.verdict, content_));
    if (!content.line.isEmpty()) {
        auto* line = sentence(content.line, content_);
        set_muted(line);
        list_->addWidget(line);
    }
    for (const Evidence& evidence : content.reasons)
        add_reason(evidence);
    if (!content.explanations.empty()) {
        list_->addWidget(caption(tr("What explains it"), content_));
        auto* bars = new ExplanationBars(content_);
        bars->setObjectName(QStringLiteral("explanations"));
        bars->set(content.explanations);
        list_->addWidget(bars);
    }
    if (!content.tell_apart.isEmpty()) {
        Panel* card = add_card(Panel::Kind::steel, tr("What would tell them apart"), 13);
        auto* text = sentence(content.tell_apart, card);
        text->setFont(type(13));
        text->setObjectName(QStringLiteral("tell_apart"));
        card->body()->addWidget(text);
    }
    add_ways(content.ways);
    for (const QString& note : content.notes)
        list_->addWidget(sentence(note, content_));
}

void EvidencePanel::add_ways(const std::vector<WayCard>& ways) {
    if (!ways.empty())
        list_->addWidget(caption(tr("Ways forward"), content_));
    int number = 0;
    for (const WayCard& way : ways) {
        Panel* card = add_card(
            Panel::Kind::plain,
            way.advised ? tr("%1  %2").arg(++number).arg(way.title) : tr("%1 – not advised").arg(way.title), 14);
        auto* text = sentence(way.below, card);
        text->setFont(type(12));
        if (!way.advised)
            set_muted(text);
        card->body()->addWidget(text);
    }
}

void EvidencePanel::add_caution(const exchange::Caution& caution) {
    Panel* card = add_card(Panel::Kind::caution, QString::fromStdString(caution.title), 15);
    for (const std::string& line : caution.sentences) {
        auto* text = sentence(QString::fromStdString(line), card);
        text->setFont(type(13));
        card->body()->addWidget(text);
    }
    card->setToolTip(QString::fromStdString(caution.source));
}

void EvidencePanel::show_content(const EvidenceContent& content, const exchange::Library& library, bool writable) {
    setUpdatesEnabled(false);
    clear();
    unit_ = content.unit;
    if (content.subject.isEmpty())
        list_->addWidget(sentence(tr("Select something, and its reasons stand here."), content_));
    else
        add_subject(content);
    if (!content.hazard_title.isEmpty()) {
        Panel* card = add_card(Panel::Kind::caution, content.hazard_title, 16);
        card->body()->addWidget(sentence(content.hazard_line, card));
    }
    if (const auto found = library.cautions.find(content.caution); found != library.cautions.end())
        add_caution(found->second);
    if (!content.hand_title.isEmpty()) {
        Panel* card = add_card(Panel::Kind::hand, content.hand_title, 16);
        if (!content.hand_line.isEmpty())
            card->body()->addWidget(sentence(content.hand_line, card));
    }
    list_->addStretch(1);
    overrule_->setVisible(content.unit != 0);
    overrule_->setEnabled(writable);
    decided_by_->setText(content.decided_by.isEmpty() ? QString()
                                                      : tr("decided by rule set\n%1").arg(content.decided_by));
    setUpdatesEnabled(true);
}

void EvidencePanel::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setPen(QPen(colours().hairline, 1));
    painter.setBrush(colours().surface);
    painter.drawPath(cut_top_left(QRectF(rect()).adjusted(0.5, 0.5, 2, 2), 16));
}

} // namespace ingot::app
