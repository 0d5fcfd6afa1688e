#include "app/rooms/practice_page.h"

#include "app/parts/deal_lanes.h"
#include "app/parts/panel.h"
#include "app/parts/practice_cards.h"
#include "app/parts/rest_picture.h"
#include "app/parts/voltage_ladder.h"
#include "app/theme/theme.h"
#include "exchange/practice_csv.h"
#include "exchange/practice_deal_toml.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/practice_wording.h"
#include "workshop/triage_wording.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QDateTime>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QRandomGenerator>
#include <QRegularExpression>
#include <QSettings>
#include <QSpinBox>
#include <QStackedWidget>
#include <QStandardPaths>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

namespace {

// What a learner may say is wrong, the whole pack's last.
constexpr std::array<Fault, 9> practice_faults{
    Fault::leaking_cell, Fault::weak_group,  Fault::disconnected_cell, Fault::high_resistance_joint,
    Fault::imbalance,    Fault::sense_fault, Fault::dead_group,        Fault::latched_board,
    Fault::healthy};
constexpr double hours_in_practice_day = 24;

} // namespace

QString PracticePage::scores_file() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/practice.csv");
}

PracticePage::PracticePage(Workshop& workshop, QWidget* parent) : Page(workshop, parent), job_(new Job(this)) {
    setObjectName(QStringLiteral("practice_page"));
    job_->setObjectName(QStringLiteral("explaining")); // what is shown follows it
    connect(job_, &Job::failed, this, [this](const Problem& problem) { emit told(wording::problem(problem), true); });
    add_commands();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    outer->addWidget(make_head());
    picture_ = new Panel(tr("Practice"), this);
    stack_ = new QStackedWidget(picture_);
    ladder_ = new VoltageLadder(stack_);
    rest_ = new RestPicture(stack_);
    rest_->setAccessibleName(tr("Drift of the resting cells"));
    series_ = new PracticeSeries(stack_);
    lanes_ = new DealLanes(stack_);
    for (QWidget* picture : {static_cast<QWidget*>(ladder_), static_cast<QWidget*>(rest_),
                             static_cast<QWidget*>(series_), static_cast<QWidget*>(lanes_)})
        stack_->addWidget(picture);
    picture_->body()->addWidget(stack_, 1);
    outer->addWidget(picture_, 1);
    auto* measures = new Panel({}, this);
    cards_ = new PracticeCards(measures);
    measures->body()->addWidget(cards_);
    auto* below = new QHBoxLayout;
    seen_words_ = sentence({}, measures);
    seen_words_->setFont(type(13));
    below->addWidget(seen_words_, 1);
    below->addWidget(new PressButton(take_, measures));
    measures->body()->addLayout(below);
    outer->addWidget(measures);
    outer->addWidget(make_answer());
    connect(cards_, &PracticeCards::wanted, this, &PracticePage::take);
    connect(ladder_, &VoltageLadder::chosen, this, [this](int group) { ladder_->set_selected(group); });
    deal(PracticeCase::what_is_wrong, 1, static_cast<int>(QRandomGenerator::global()->bounded(practice_seeds)));
}

void PracticePage::add_commands() {
    take_ = add_command(tr("Take the &measurement"), QKeySequence(tr("F9")), tr("What is taken is paid for"),
                        [this] { take(cards_->chosen()); });
    answer_ = add_command(tr("An&swer"), QKeySequence(tr("Ctrl+Return")), tr("What is wrong, and how sure you are"),
                          [this] { answer(); });
    next_ = add_command(tr("&Next deal"), QKeySequence::mnemonic(tr("&Next deal")),
                        tr("Another number of the same case and level"), [this] { next_deal(); });
    again_ = add_command(tr("Same a&gain"), {}, tr("The same number from the beginning"), [this] {
        if (own_)
            deal_own(*own_);
        else
            deal(bench_.kind(), bench_.level(), bench_.seed());
    });
    export_ =
        add_command(tr("E&xport the scores…"), {}, tr("All learners' scores as CSV"), [this] { export_scores(); });
    file_ = add_command(tr("A case &of your own…"), {}, tr("An instructor's case from a file: what is wrong is in it"),
                        [this] { ask_file(); });
    add_way_back();
}

QWidget* PracticePage::make_head() {
    auto* head = new Panel({}, this);
    deal_ = new QLabel(head);
    deal_->setFont(type(16, true));
    deal_->setMargin(scaled(6));
    deal_->setAutoFillBackground(true);
    deal_->setToolTip(tr("Same number, same deal, on any bench. Nothing is read from the workshop or written to it."));
    head->head()->insertWidget(0, deal_);
    case_ = new QComboBox(head);
    case_->setObjectName(QStringLiteral("practice_case"));
    case_->setAccessibleName(tr("Case"));
    case_->addItems({tr("What is wrong?"), tr("Leaking or not?"), tr("Go on cycling?"), tr("Which match?")});
    level_box_ = new QComboBox(head);
    level_box_->setObjectName(QStringLiteral("practice_level"));
    level_box_->setAccessibleName(tr("Level"));
    level_box_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    level_box_->setMinimumContentsLength(14);
    learner_ = new QLineEdit(QSettings().value(QStringLiteral("practice_learner")).toString(), head);
    learner_->setObjectName(QStringLiteral("practice_learner"));
    learner_->setAccessibleName(tr("Learner"));
    learner_->setPlaceholderText(tr("learner"));
    learner_->setMaximumWidth(scaled(110));
    for (QWidget* widget :
         {static_cast<QWidget*>(case_), static_cast<QWidget*>(level_box_), static_cast<QWidget*>(learner_)})
        head->head()->addWidget(widget);
    spent_ = new QLabel(head);
    spent_->setFont(type(14, true));
    head->head()->insertWidget(1, spent_);
    connect(case_, &QComboBox::activated, this, [this](int kind) {
        deal(static_cast<PracticeCase>(kind), std::max(1, bench_.level()), bench_.seed() % practice_seeds);
    });
    connect(level_box_, &QComboBox::activated, this, [this](int level) {
        if (!own_)
            deal(bench_.kind(), level + 1, bench_.seed());
    });
    connect(learner_, &QLineEdit::editingFinished, this,
            [this] { QSettings().setValue(QStringLiteral("practice_learner"), learner_->text().trimmed()); });
    return head;
}

QWidget* PracticePage::make_answer() {
    auto* panel = new Panel(tr("Your answer"), this);
    panel->head()->addWidget(new PressButton(again_, panel));
    panel->head()->addWidget(new PressButton(next_, panel));
    panel->head()->addWidget(new PressButton(answer_, panel, true));
    const auto sure_box = [panel](const QString& name) {
        auto* sure = new QSpinBox(panel);
        sure->setRange(0, 100);
        sure->setSingleStep(5);
        sure->setValue(50);
        sure->setSuffix(tr(" % sure"));
        sure->setMaximumWidth(scaled(140));
        sure->setObjectName(name);
        sure->setAccessibleName(tr("How sure"));
        return sure;
    };
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    verdict_ = new QComboBox(panel);
    verdict_->setObjectName(QStringLiteral("practice_verdict"));
    verdict_->setAccessibleName(tr("Your verdict"));
    line->addWidget(verdict_);
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        AnswerRow& row = rows_[i];
        row.fault = new QComboBox(panel);
        row.fault->setObjectName(QStringLiteral("practice_fault_%1").arg(i));
        row.fault->setAccessibleName(tr("Cause %1").arg(i + 1));
        row.fault->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        row.fault->setMinimumContentsLength(9);
        row.fault->addItem(i == 0 ? tr("what is wrong …") : tr("and …"));
        for (const Fault fault : practice_faults)
            row.fault->addItem(wording::fault(fault), static_cast<int>(fault));
        row.group = new QComboBox(panel);
        row.group->setObjectName(QStringLiteral("practice_group_%1").arg(i));
        row.group->setAccessibleName(tr("Group of cause %1").arg(i + 1));
        row.sure = sure_box(QStringLiteral("practice_sure_%1").arg(i));
        line->addWidget(row.fault, 2);
        line->addWidget(row.group, 1);
        line->addWidget(row.sure);
        connect(row.fault, &QComboBox::currentIndexChanged, this, [this] { show_answers(); });
        connect(row.sure, &QSpinBox::valueChanged, this, [this] { emit evidence_changed(); });
    }
    panel->body()->addLayout(line);
    return panel;
}

QString PracticePage::number() const {
    return QString::fromStdString(bench_.number());
}

void PracticePage::deal(PracticeCase kind, int level, int seed) {
    job_->drop();
    own_.reset();
    bench_.deal(kind, level, seed);
    dealt();
}

void PracticePage::deal_own(const OwnDeal& own) {
    job_->drop();
    own_ = own;
    bench_.deal(own);
    dealt();
}

void PracticePage::deal_file(const QString& path) {
    const auto text = exchange::read_text(path.toStdString());
    if (!fine(text))
        return;
    if (const auto own = exchange::read_practice_deal(text.value(), path.toStdString()); fine(own))
        deal_own(own.value());
}

void PracticePage::ask_file() {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("A case of your own"), {}, tr("Practice cases (*.toml)"));
    if (!path.isEmpty())
        deal_file(path);
}

void PracticePage::fill_levels() {
    level_box_->clear();
    if (own_)
        level_box_->addItem(tr("from a file"));
    else if (bench_.kind() == PracticeCase::what_is_wrong)
        level_box_->addItems({tr("1: one plain fault"), tr("2: one slight"), tr("3: two faults"),
                              tr("4: coarse, misread"), tr("5: a large pack")});
    else if (bench_.kind() == PracticeCase::which_match)
        level_box_->addItems(
            {tr("1: capacities tell"), tr("2: closely"), tr("3: a trap, perhaps"), tr("4: coarse"), tr("5: close")});
    else
        level_box_->addItems({tr("1: plain"), tr("2"), tr("3"), tr("4: coarse"), tr("5: close")});
    level_box_->setCurrentIndex(own_ ? 0 : bench_.level() - 1);
    level_box_->setEnabled(!own_);
}

void PracticePage::dealt() {
    const PracticeCase kind = bench_.kind();
    seen_.clear();
    score_.reset();
    judged_.reset();
    filling_ = true;
    case_->setCurrentIndex(static_cast<int>(kind));
    fill_levels();
    for (AnswerRow& row : rows_) {
        row.fault->setCurrentIndex(0);
        row.group->clear();
        for (int g = 1; g <= bench_.pack().layout().series; ++g)
            row.group->addItem(tr("group %1").arg(g), g);
        row.sure->setValue(50);
    }
    verdict_->clear();
    if (kind == PracticeCase::leaking)
        verdict_->addItems({tr("it leaks"), tr("it is fit")});
    else if (kind == PracticeCase::which_match)
        verdict_->addItems({tr("set A holds longest"), tr("set B holds longest"), tr("set C holds longest")});
    else
        verdict_->addItems({tr("it will reach the limit"), tr("it never will")});
    ladder_->set_selected(1);
    cards_->choose(0);
    filling_ = false;
    show_all();
}

void PracticePage::next_deal() {
    deal(bench_.kind(), std::max(1, bench_.level()), (bench_.seed() + 1) % practice_seeds);
}

void PracticePage::take(int card) {
    if (answered() || job_->busy())
        return;
    constexpr std::array<int, 3> days{1, 3, 7};
    constexpr std::array<int, 2> cycles{1, 3};
    if (card < 0 || card >= static_cast<int>(cards_->parts().size()))
        return;
    const auto at = static_cast<std::size_t>(card);
    switch (bench_.kind()) {
    case PracticeCase::what_is_wrong:
        take_measure(static_cast<PracticeMeasure>(card));
        break;
    case PracticeCase::leaking:
        bench_.wait(days.at(at));
        break;
    case PracticeCase::cycling:
        bench_.cycle(cycles.at(at));
        break;
    case PracticeCase::which_match:
        if (!bench_.measure(static_cast<MatchMeasure>(card)))
            emit told(tr("That is known already."), false);
        break;
    }
    show_all();
}

void PracticePage::take_measure(PracticeMeasure measure) {
    const int group = about_one_group(measure) ? std::max(1, ladder_->selected()) : 0;
    if (!bench_.take(measure, group)) {
        emit told(tr("That was taken already."), true);
        return;
    }
    const TriageCase& known = bench_.known();
    if (measure == PracticeMeasure::terminals)
        seen_ << tr("Terminals %1.").arg(figures::volts(*known.terminal_v, 2));
    if (measure == PracticeMeasure::swap_lead)
        seen_ << (known.swaps.back().moved ? tr("With a good lead group %1 reads otherwise.").arg(group)
                                           : tr("With a good lead group %1 reads the same.").arg(group));
    if (measure == PracticeMeasure::unit_voltages) {
        QStringList volts;
        for (const UnitVoltage& unit : known.units)
            if (unit.group == group)
                volts << figures::plain(unit.voltage_v, 3);
        seen_ << tr("Units of group %1: %2 V.").arg(group).arg(volts.join(QStringLiteral(", ")));
    }
    if (measure == PracticeMeasure::look_inside) {
        QStringList groups;
        for (const int g : bench_.pack().seen_inside())
            groups << QString::number(g);
        seen_ << (groups.isEmpty()
                      ? tr("Nothing is seen inside. Not every bad joint shows.")
                      : tr("A joint of group %1 is dark and gives way.").arg(groups.join(QStringLiteral(", "))));
    }
}

std::vector<PracticeAnswer> PracticePage::answers() const {
    std::vector<PracticeAnswer> out;
    for (const AnswerRow& row : rows_) {
        if (row.fault->currentIndex() <= 0)
            continue;
        const auto fault = static_cast<Fault>(row.fault->currentData().toInt());
        out.push_back(
            {fault, concerns_whole_pack(fault) ? 0 : row.group->currentData().toInt(), row.sure->value() / 100.0});
    }
    return out;
}

void PracticePage::answer() {
    if (answered() || job_->busy())
        return;
    if (bench_.kind() == PracticeCase::what_is_wrong) {
        if (answers().empty()) {
            emit told(tr("Say what is wrong first, and how sure you are. \"Nothing wrong\" is an answer, too."), true);
            return;
        }
        judge_pack();
    } else {
        finish(bench_.judge(verdict_->currentIndex(), rows_[0].sure->value() / 100.0));
    }
}

void PracticePage::judge_pack() {
    const Chemistry* chemistry = workshop().library().chemistry(practice_chemistry);
    if (chemistry == nullptr) {
        emit told(tr("The workshop's library has no \"%1\": the practice packs are of that chemistry.")
                      .arg(QString::fromLatin1(practice_chemistry)),
                  true);
        return;
    }
    job_->begin<PracticeJudged>(
        [question = PracticeQuestion{bench_.pack(), bench_.taken(), answers(), bench_.spent_min(), *chemistry,
                                     workshop().library().triage}](const Job::Token& token) {
            return judge_practice(question, [&] { return token.wanted(); });
        },
        [this](const PracticeJudged& judged) {
            judged_ = judged;
            finish(judged.score);
        });
    show_all();
}

void PracticePage::finish(const PracticeScore& score) {
    score_ = score;
    keep(score);
    show_all();
}

void PracticePage::keep(const PracticeScore& score) {
    const QString path = scores_file();
    QDir().mkpath(QFileInfo(path).absolutePath());
    std::vector<exchange::PracticeResult> all;
    if (QFileInfo::exists(path)) {
        const auto text = exchange::read_text(path.toStdString());
        const auto read = text ? exchange::read_practice(text.value(), path.toStdString())
                               : Result<std::vector<exchange::PracticeResult>>(text.problem());
        if (!fine(read)) // it is not written over
            return;
        all = read.value();
    }
    all.push_back({learner_->text().trimmed().toStdString(),
                   QDateTime::currentDateTimeUtc().toString(Qt::ISODate).toStdString(), code(bench_.kind()),
                   number().toStdString(), score});
    fine(exchange::write_text(path.toStdString(), exchange::write_practice(all)));
}

void PracticePage::export_scores() {
    if (!QFileInfo::exists(scores_file())) {
        emit told(tr("No deal was answered yet: there are no scores."), true);
        return;
    }
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Scores"), QStringLiteral("practice.csv"), tr("CSV (*.csv)"));
    if (path.isEmpty())
        return;
    const auto text = exchange::read_text(scores_file().toStdString());
    if (fine(text) && fine(exchange::write_text(path.toStdString(), text.value())))
        emit told(tr("Scores written to %1.").arg(path), false);
}

void PracticePage::refresh() {
    show_all();
}

void PracticePage::show_all() {
    const QString names[] = {tr("What is wrong?"), tr("Leaking or not?"), tr("Go on cycling?"), tr("Which match?")};
    deal_->setText(tr("Practice %1").arg(number()));
    QPalette ink = deal_->palette(); // in the place of work stands something that is none
    ink.setColor(QPalette::Window, colours().ink);
    ink.setColor(QPalette::WindowText, colours().surface);
    deal_->setPalette(ink);
    deal_->setAccessibleName(tr("Deal %1, %2").arg(number(), names[static_cast<int>(bench_.kind())]));
    spent_->setText(tr("%1 min, risk %2").arg(figures::plain(bench_.spent_min(), 0)).arg(bench_.risk()));
    stack_->setCurrentIndex(static_cast<int>(bench_.kind()));
    switch (bench_.kind()) {
    case PracticeCase::what_is_wrong:
        show_pack();
        break;
    case PracticeCase::leaking:
        show_leak();
        break;
    case PracticeCase::cycling:
        show_cycles();
        break;
    case PracticeCase::which_match:
        show_match();
        break;
    }
    seen_words_->setText(
        seen_.isEmpty()
            ? judged_ ? tr("On each card: how sure Ingot would be of what it was, with it beside what you took.")
                      : tr("Arrows choose, Enter takes; or type a card's number. What is taken is paid for.")
            : seen_.join(QLatin1Char(' ')));
    take_->setEnabled(!answered());
    answer_->setEnabled(!answered() && !job_->busy());
    show_answers();
    emit evidence_changed();
}

void PracticePage::show_pack() {
    picture_->set_title(tr("Practice pack %1, made up: %2S%3P, %4, %5 weeks on a shelf")
                            .arg(number())
                            .arg(bench_.pack().layout().series)
                            .arg(bench_.pack().layout().parallel)
                            .arg(figures::pack_capacity(bench_.pack().capacity_ah()))
                            .arg(bench_.pack().weeks_stored()));
    if (const Chemistry* chemistry = workshop().library().chemistry(practice_chemistry)) {
        std::vector<LadderGroup> groups;
        for (int g = 1; g <= bench_.pack().layout().series; ++g)
            groups.push_back({bench_.volts(g, Condition::rest), bench_.volts(g, Condition::end_of_charge),
                              bench_.volts(g, Condition::load), bench_.volts(g, Condition::stored)});
        ladder_->set(*chemistry, 1, groups, bench_.standing(*chemistry));
    }
    std::vector<PracticeCard> cards;
    for (int m = 0; m < practice_measure_count; ++m) {
        const auto measure = static_cast<PracticeMeasure>(m);
        const MeasureCost cost = cost_of(measure, bench_.pack().layout());
        PracticeCard card{wording::practice_measure(measure),
                          wording::practice_measure_below(measure, bench_.pack()),
                          cost.hands_min,
                          {},
                          cost.risk,
                          false};
        if (cost.wait_h >= hours_in_practice_day)
            card.wait = tr("+ %1 days").arg(figures::plain(cost.wait_h / hours_in_practice_day, 0));
        else if (cost.wait_h > 0)
            card.wait = tr("+ %1 h").arg(figures::plain(cost.wait_h, 0));
        card.tells = worth_of(measure);
        card.taken = !about_one_group(measure) && bench_.was_taken(measure, 0);
        cards.push_back(card);
    }
    cards_->set(std::move(cards));
}

void PracticePage::show_leak() {
    picture_->set_title(
        tr("Practice cells %1, made up: does cell %2 (bold) leak?").arg(number()).arg(bench_.leak().asked() + 1));
    std::vector<QString> codes;
    for (int u = 1; u <= bench_.leak().siblings(); ++u)
        codes.push_back(tr("cell %1").arg(u));
    std::vector<RestingLine> lines;
    if (const Chemistry* chemistry = workshop().library().chemistry(practice_chemistry))
        lines = bench_.courses(*chemistry, answered());
    rest_->set(std::move(lines), std::move(codes), bench_.leak().asked() + 1);
    seen_ = {tr("Read on day %1; the meter shows %2 mV. The limit is %3 mV a day.")
                 .arg(bench_.days().back())
                 .arg(figures::plain(bench_.leak().resolution_v() * 1000, 1),
                      figures::plain(bench_.leak().limit_v_per_day() * 1000, 1))};
    cards_->set({{tr("Read tomorrow"), tr("8 readings"), 4, tr("+ 1 day"), 0, false},
                 {tr("Read in 3 days"), tr("8 readings"), 4, tr("+ 3 days"), 0, false},
                 {tr("Read in a week"), tr("8 readings"), 4, tr("+ 7 days"), 0, false}});
}

void PracticePage::show_cycles() {
    picture_->set_title(tr("Practice module %1, made up: rated %2. Will it ever reach %3?")
                            .arg(number(), figures::pack_capacity(bench_.cycling().rated_ah()),
                                 figures::pack_capacity(bench_.cycling().wanted_ah())));
    std::vector<double> done;
    std::vector<double> later;
    for (int c = 1; c <= CyclingDeal::cycles_most(); ++c)
        if (c <= bench_.cycles())
            done.push_back(bench_.cycling().capacity_ah(c));
        else if (answered())
            later.push_back(bench_.cycling().capacity_ah(c));
    series_->set(std::move(done), bench_.cycling().wanted_ah(), tr("cycle"), tr("Ah"), std::move(later));
    seen_.clear();
    cards_->set({{tr("One cycle more"), tr("charge and discharge"), 2, tr("+ 8 h"), 0, false},
                 {tr("Three more"), tr("a day and night"), 6, tr("+ 24 h"), 0, false}});
}

void PracticePage::show_match() {
    const MatchDeal& deal = bench_.match();
    picture_->set_title(tr("Practice sets %1, made up: %2S%3P, %4, after %5 weeks on a shelf")
                            .arg(number())
                            .arg(deal.layout().series)
                            .arg(deal.layout().parallel)
                            .arg(figures::amperes(deal.load_a()))
                            .arg(deal.weeks_stored()));
    lanes_->set(deal, bench_.measured(MatchMeasure::resistances), bench_.measured(MatchMeasure::rest_week), answered());
    seen_ = {tr("Bars: what each unit holds. The load ends with the first empty group; leaks go on all weeks.")};
    cards_->set({{tr("Resistances"),
                  tr("of all units"),
                  deal.cost(MatchMeasure::resistances).hands_min,
                  {},
                  0,
                  bench_.measured(MatchMeasure::resistances)},
                 {tr("A week at rest"), tr("read twice"), deal.cost(MatchMeasure::rest_week).hands_min, tr("+ 7 days"),
                  0, bench_.measured(MatchMeasure::rest_week)}});
}

void PracticePage::show_answers() {
    if (filling_)
        return;
    const bool pack = bench_.kind() == PracticeCase::what_is_wrong;
    verdict_->setVisible(!pack);
    verdict_->setEnabled(!answered());
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const AnswerRow& row = rows_[i];
        const bool named = row.fault->currentIndex() > 0;
        row.fault->setVisible(pack);
        row.group->setVisible(pack);
        row.sure->setVisible(pack || i == 0);
        row.fault->setEnabled(!answered());
        row.group->setEnabled(!answered() && named &&
                              !concerns_whole_pack(static_cast<Fault>(row.fault->currentData().toInt())));
        row.sure->setEnabled(!answered() && (named || !pack));
    }
    emit evidence_changed();
}

bool PracticePage::take_line(const QString& line) {
    static const QRegularExpression deal_number(QStringLiteral("^([1-5])-(\\d{1,4})$"));
    const auto found = deal_number.match(line.trimmed());
    if (found.hasMatch()) {
        deal(bench_.kind(), found.captured(1).toInt(), found.captured(2).toInt());
        return true;
    }
    bool number = false;
    const int card = line.trimmed().toInt(&number);
    if (!number)
        return false;
    cards_->choose(card - 1);
    take(card - 1);
    return true;
}

void PracticePage::pose() {
    constexpr int posed_level = 3;
    constexpr int posed_seed = 4172;
    deal(PracticeCase::what_is_wrong, posed_level, posed_seed);
    for (const PracticeMeasure measure :
         {PracticeMeasure::rest_round, PracticeMeasure::terminals, PracticeMeasure::load_round})
        take(static_cast<int>(measure));
    rows_[0].fault->setCurrentIndex(1);
    rows_[0].sure->setValue(70);
}

} // namespace ingot::app
