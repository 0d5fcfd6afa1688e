#include "app/rooms/populations_page.h"

#include "app/parts/choice_row.h"
#include "app/parts/panel.h"
#include "app/parts/yield_bars.h"
#include "app/theme/theme.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/populations_wording.h"
#include "workshop/wording.h"

#include <QFileDialog>
#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>

namespace ingot::app {

PopulationsPage::PopulationsPage(Workshop& workshop, QWidget* parent) : Page(workshop, parent), job_(new Job(this)) {
    setObjectName(QStringLiteral("populations_page"));
    job_->setObjectName(QStringLiteral("explaining")); // what is shown follows it
    QAction* csv =
        add_command(tr("As &CSV…"), {}, tr("Every population with its counts and quartiles"), [this] { write_csv(); });
    add_way_back();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* panel = new Panel(tr("Populations"), this);
    by_ = new ChoiceRow({tr("by source"), tr("by lot"), tr("by model")}, panel);
    by_->setObjectName(QStringLiteral("populations_by"));
    panel->head()->addWidget(by_);
    duty_ = new ChoiceRow({wording::duty(Duty::drive), wording::duty(Duty::store), wording::duty(Duty::light)}, panel);
    duty_->setObjectName(QStringLiteral("populations_duty"));
    duty_->choose(static_cast<int>(Duty::store));
    panel->head()->addWidget(new PressButton(csv, panel));
    auto* asked = new QHBoxLayout;
    asked->addWidget(caption(tr("fit for at least"), panel));
    asked->addWidget(duty_);
    asked->addStretch(1);
    panel->body()->addLayout(asked);
    none_ = sentence({}, panel);
    panel->body()->addWidget(none_);
    bars_ = new YieldBars;
    bars_->setAccessibleName(tr("Populations"));
    auto* area = new QScrollArea(panel);
    area->setFrameShape(QFrame::NoFrame);
    area->setWidgetResizable(true);
    area->setWidget(bars_);
    area->setFocusPolicy(Qt::NoFocus);
    area->viewport()->setAutoFillBackground(false);
    bars_->setAutoFillBackground(false);
    panel->body()->addWidget(area, 1);
    panel->body()->addWidget(
        caption(tr("right: what share of further units would be fit for it, from … to … with 95 %; capacity of the "
                   "middle one"),
                panel));
    outer->addWidget(panel, 2);
    auto* doubts = new Panel(tr("What stands out"), this);
    doubts_ = sentence({}, doubts);
    doubts_->setObjectName(QStringLiteral("populations_doubts"));
    doubts_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    auto* words = new QScrollArea(doubts);
    words->setFrameShape(QFrame::NoFrame);
    words->setWidgetResizable(true);
    words->setWidget(doubts_);
    words->setFocusPolicy(Qt::NoFocus);
    words->viewport()->setAutoFillBackground(false);
    doubts_->setAutoFillBackground(false);
    doubts->body()->addWidget(words, 1);
    outer->addWidget(doubts, 1);
    connect(by_, &ChoiceRow::changed, this, [this] { show_bars(); });
    connect(duty_, &ChoiceRow::changed, this, [this] { show_bars(); });
    connect(bars_, &YieldBars::chosen_changed, this, &Page::evidence_changed);
    connect(&workshop, &Workshop::changed, this, [this](const ChangeSet& changes) {
        stale_ |= changes.everything || changes.library || changes.rules || changes.lots || !changes.units.empty();
    });
    connect(job_, &Job::failed, this, [this](const Problem& problem) { emit told(wording::problem(problem), true); });
}

bool PopulationsPage::working() const {
    return job_->busy();
}

void PopulationsPage::refresh() {
    if (std::exchange(stale_, false))
        job_->begin<PopulationAnswer>([work = population_work(workshop())](const Job::Token&) { return work(); },
                                      [this](const PopulationAnswer& answer) {
                                          answer_ = answer;
                                          show_bars();
                                          show_doubts();
                                      });
    show_bars();
}

const std::vector<Population>& PopulationsPage::populations() const {
    return answer_.by[static_cast<std::size_t>(by_->chosen())];
}

void PopulationsPage::show_bars() {
    std::vector<YieldBar> bars;
    const auto duty = static_cast<Duty>(duty_->chosen());
    for (const Population& population : populations()) {
        YieldBar bar;
        bar.name = population.name.empty() ? tr("not said") : QString::fromStdString(population.name);
        bar.below = population.packs > 0 ? tr("%n packs", nullptr, population.packs) : QString();
        bar.drive = population.duties[static_cast<std::size_t>(Duty::drive)];
        bar.store = population.duties[static_cast<std::size_t>(Duty::store)];
        bar.light = population.duties[static_cast<std::size_t>(Duty::light)];
        bar.waiting = population.units - population.judged;
        bar.lost = population.judged - bar.drive - bar.store - bar.light;
        bar.yield = population.judged > 0
                        ? wording::chance(chance_of_next(population.at_least(duty), population.judged))
                        : QString(QChar(0x2013));
        bar.kept = population.capacity_share ? figures::percent(population.capacity_share->middle, 0) : QString();
        bars.push_back(std::move(bar));
    }
    none_->setVisible(bars.empty());
    none_->setText(working() ? tr("Being counted …")
                             : tr("Nothing has been opened yet. What units are like stands here as soon as they have "
                                  "codes."));
    bars_->set(std::move(bars));
    emit evidence_changed();
}

void PopulationsPage::show_doubts() {
    const QStringList lines = wording::what_stands_out(workshop(), answer_);
    doubts_->setText(lines.isEmpty() ? tr("Nothing: no label is doubtful, the units that failed share nothing beyond "
                                          "chance, no two instruments disagree.")
                                     : lines.join(QLatin1Char('\n')));
}

bool PopulationsPage::take_line(const QString& line) {
    const auto number = figures::typed(line);
    constexpr int most = 10'000;
    if (!number || *number != static_cast<int>(*number) || *number < 1 || *number > most || line.size() > 5)
        return false;
    wanted_ = static_cast<int>(*number);
    emit evidence_changed();
    return true;
}

EvidenceContent PopulationsPage::evidence() const {
    EvidenceContent content;
    content.subject = tr("Populations");
    content.line = tr("What was found so far, as a hint to what comes: with few units the interval is wide.");
    const int at = bars_->chosen();
    if (at < 0 || at >= static_cast<int>(populations().size()))
        return content;
    const Population& population = populations()[static_cast<std::size_t>(at)];
    const auto duty = static_cast<Duty>(duty_->chosen());
    content.subject =
        population.name.empty() ? tr("Units of which nobody said it") : QString::fromStdString(population.name);
    if (population.judged == 0) {
        content.verdict = tr("No verdict yet");
        content.line = tr("Test some of its units: what comes cannot be told before.");
        return content;
    }
    const int fit = population.at_least(duty);
    content.verdict = tr("%1 of %2 are %3 or better").arg(fit).arg(population.judged).arg(wording::duty(duty));
    content.line = tr("A further unit would be with %1.").arg(wording::chance(chance_of_next(fit, population.judged)));
    const auto further = [&](double chance, const QString& words) {
        const auto units = further_for(wanted_, chance, fit, population.judged);
        const auto packs = packs_for(population, duty, wanted_, chance);
        content.notes << (units ? tr("%1: %2 units more").arg(words).arg(*units) +
                                      (packs ? tr(", about %1 packs.").arg(*packs) : QStringLiteral("."))
                                : tr("%1: not from this one.").arg(words));
    };
    content.notes << tr("For %1 more of them (type another number):").arg(wanted_);
    further(0.5, tr("at even odds"));
    further(0.9, tr("with nine of ten"));
    if (const auto& share = population.capacity_share)
        content.notes << tr("Capacity of %1 units: half lie between %2 and %3 of rated, the middle at %4.")
                             .arg(share->known)
                             .arg(figures::percent(share->lower, 0), figures::percent(share->upper, 0),
                                  figures::percent(share->middle, 0));
    if (const auto& multiple = population.resistance_multiple)
        content.notes << tr("Resistance of %1 units: half lie between %2 and %3 times new.")
                             .arg(multiple->known)
                             .arg(figures::plain(multiple->lower, 2), figures::plain(multiple->upper, 2));
    if (population.packs > 0)
        content.notes << tr("%1 units a pack, counted from %n packs.", nullptr, population.packs)
                             .arg(figures::plain(population.units_a_pack(), 1));
    return content;
}

void PopulationsPage::pose() {
    by_->choose(0);
    refresh();
    bars_->choose(0);
}

void PopulationsPage::write_csv() {
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Populations"), QStringLiteral("populations.csv"), tr("CSV (*.csv)"));
    if (path.isEmpty())
        return;
    if (fine(exchange::write_text(path.toStdString(), populations_csv(answer_))))
        emit told(tr("The populations were written to %1.").arg(path), false);
}

} // namespace ingot::app
