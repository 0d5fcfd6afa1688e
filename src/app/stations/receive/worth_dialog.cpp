#include "app/stations/receive/worth_dialog.h"

#include "app/parts/panel.h"
#include "app/parts/routes_view.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/triage_wording.h"

#include <QGridLayout>
#include <QLineEdit>
#include <QVBoxLayout>

#include <cmath>

namespace ingot::app {

WorthDialog::WorthDialog(QWidget* parent, Workshop& workshop, Id pack)
    : QDialog(parent), workshop_(workshop), case_(workshop.receive().worth_case(pack, workshop.triage())) {
    setObjectName(QStringLiteral("worth"));
    const Assembly* record = workshop.pack(pack);
    setWindowTitle(record != nullptr ? tr("Worth it? %1").arg(QString::fromStdString(record->label)) : tr("Worth it?"));
    resize(1000, 640);
    auto* outer = new QHBoxLayout(this);
    auto* side = new QVBoxLayout;
    auto* grid = new QGridLayout;
    grid->setVerticalSpacing(3);
    int row = 0;
    const auto heading = [&](const QString& text) {
        auto* label = caption(text, this);
        label->setFont(type(13, true));
        grid->addWidget(label, row++, 0, 1, 2);
    };
    const auto add = [&](const QString& name, const char* object, double value, int digits,
                         std::function<void(WorthCase&, double)> put) {
        auto* label = caption(name, this);
        auto* edit = new QLineEdit(figures::plain(value, digits), this);
        edit->setObjectName(QString::fromLatin1(object));
        edit->setFixedWidth(76);
        edit->setAccessibleName(name);
        label->setBuddy(edit);
        grid->addWidget(label, row, 0);
        grid->addWidget(edit, row++, 1);
        fields_.emplace_back(edit, std::move(put));
        connect(edit, &QLineEdit::editingFinished, this, [this] { weigh(); });
    };
    const auto whole = [](double v) { return static_cast<int>(std::lround(v)); };
    heading(tr("The pack"));
    add(tr("units to replace"), "worth_replace", case_.pack.units_to_replace, 0,
        [whole](WorthCase& c, double v) { c.pack.units_to_replace = whole(v); });
    add(tr("Wh of a unit"), "worth_unit_wh", case_.pack.unit_wh, 1, [](WorthCase& c, double v) { c.pack.unit_wh = v; });
    heading(tr("Prices"));
    add(tr("an hour"), "worth_hour", case_.prices.hour, 2, [](WorthCase& c, double v) { c.prices.hour = v; });
    add(tr("bought unit"), "worth_bought", case_.prices.bought_unit, 2,
        [](WorthCase& c, double v) { c.prices.bought_unit = v; });
    add(tr("unit in stock"), "worth_stock", case_.prices.stock_unit, 2,
        [](WorthCase& c, double v) { c.prices.stock_unit = v; });
    add(tr("new unit"), "worth_new_unit", case_.prices.new_unit, 2,
        [](WorthCase& c, double v) { c.prices.new_unit = v; });
    add(tr("board"), "worth_board", case_.prices.board, 2, [](WorthCase& c, double v) { c.prices.board = v; });
    add(tr("new pack (0: none)"), "worth_new_pack", case_.prices.new_pack, 2,
        [](WorthCase& c, double v) { c.prices.new_pack = v; });
    add(tr("reconditioned (0: none)"), "worth_reconditioned", case_.prices.reconditioned_pack, 2,
        [](WorthCase& c, double v) { c.prices.reconditioned_pack = v; });
    add(tr("unit to convert (0: none)"), "worth_convert", case_.prices.conversion_unit, 2,
        [](WorthCase& c, double v) { c.prices.conversion_unit = v; });
    heading(tr("Hours"));
    add(tr("open and close"), "worth_open_h", case_.hours.open_and_close, 2,
        [](WorthCase& c, double v) { c.hours.open_and_close = v; });
    add(tr("a unit replaced"), "worth_replace_h", case_.hours.per_unit_replaced, 2,
        [](WorthCase& c, double v) { c.hours.per_unit_replaced = v; });
    add(tr("a unit tested"), "worth_test_h", case_.hours.per_unit_tested, 2,
        [](WorthCase& c, double v) { c.hours.per_unit_tested = v; });
    heading(tr("What counts"));
    add(tr("money"), "worth_money", case_.weights.money, 1, [](WorthCase& c, double v) { c.weights.money = v; });
    add(tr("time"), "worth_time", case_.weights.time, 1, [](WorthCase& c, double v) { c.weights.time = v; });
    add(tr("certainty"), "worth_certainty", case_.weights.certainty, 1,
        [](WorthCase& c, double v) { c.weights.certainty = v; });
    side->addLayout(grid);
    side->addStretch(1);
    auto* remember = new PressButton(tr("&Remember these prices"), this);
    remember->setObjectName(QStringLiteral("worth_remember"));
    remember->setEnabled(workshop.writable());
    connect(remember, &PressButton::clicked, this, [this] {
        weigh();
        const auto done = workshop_.receive().remember_worth(case_);
        words_->setText(done ? tr("Remembered for the next pack.") : QString::fromStdString(done.problem().text()));
    });
    side->addWidget(remember);
    outer->addLayout(side);
    auto* main = new QVBoxLayout;
    auto* panel = new Panel(tr("Routes side by side"), this);
    routes_ = new RoutesView(panel);
    panel->body()->addWidget(routes_, 1);
    main->addWidget(panel, 1);
    words_ = sentence({}, this);
    words_->setObjectName(QStringLiteral("worth_words"));
    main->addWidget(words_);
    outer->addLayout(main, 1);
    weigh();
    explain_first(pack);
}

void WorthDialog::explain_first(Id pack) {
    const TriageService& triage = workshop_.triage();
    if (triage.explained_at_hand(pack) || triage.triage_case(pack).readings.empty())
        return;
    auto* job = new Job(this);
    connect(job, &Job::failed, this,
            [this](const Problem& problem) { words_->setText(QString::fromStdString(problem.text())); });
    workshop_.triage().explain_beside(*job, pack, [this, pack, guess = fields_.front().first->text()] {
        QLineEdit* replace = fields_.front().first;
        if (replace->text() == guess)
            replace->setText(
                figures::plain(workshop_.receive().worth_case(pack, workshop_.triage()).pack.units_to_replace, 0));
        weigh();
    });
    if (job->busy())
        words_->setText(tr("What the readings say about the pack is being worked out.") + QLatin1Char('\n') +
                        words_->text());
}

// A field that loses the focus while the dialog goes must not weigh again.
WorthDialog::~WorthDialog() {
    for (const auto& [edit, put] : fields_)
        edit->disconnect(this);
}

void WorthDialog::pose() {
    findChild<QLineEdit*>(QStringLiteral("worth_replace"))->setText(QStringLiteral("4"));
    findChild<QLineEdit*>(QStringLiteral("worth_new_pack"))->setText(QStringLiteral("260"));
    findChild<QLineEdit*>(QStringLiteral("worth_reconditioned"))->setText(QStringLiteral("150"));
    weigh();
}

void WorthDialog::weigh() {
    WorthCase tried = case_;
    for (const auto& [edit, put] : fields_) {
        const auto value = figures::typed(edit->text());
        if (!value) {
            words_->setText(tr("\"%1\" is not a number.").arg(edit->text()));
            return;
        }
        put(tried, *value);
    }
    const auto weighed = weigh_routes(tried);
    if (!weighed) {
        words_->setText(QString::fromStdString(weighed.problem().sentence));
        return;
    }
    case_ = tried;
    result_ = weighed.value();
    routes_->set(result_);
    QStringList lines;
    if (result_.winner)
        lines << tr("%1 wins by what counts here.").arg(wording::route(*result_.winner));
    lines << (result_.break_even_unit ? tr("A bought unit may cost %1 before another route is cheaper.")
                                            .arg(figures::plain(*result_.break_even_unit, 2))
                                      : tr("At no price do bought units beat the other routes."));
    for (const TurningPoint& t : result_.turning_points)
        lines << wording::turning_point(t);
    words_->setText(lines.join(QLatin1Char('\n')));
}

} // namespace ingot::app
