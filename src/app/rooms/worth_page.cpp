#include "app/rooms/worth_page.h"

#include "app/parts/panel.h"
#include "app/parts/routes_view.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/triage_wording.h"
#include "workshop/wording.h"

#include <QGridLayout>
#include <QLineEdit>
#include <QVBoxLayout>

#include <cmath>

namespace ingot::app {

WorthPage::WorthPage(Workshop& workshop, QWidget* parent) : PackRoom(workshop, Room::worth, parent) {
    remember_ = add_command(tr("&Remember these prices"), QKeySequence(tr("Ctrl+S")), tr("For the packs to come"),
                            [this] { remember(); });
    QAction* back = add_way_back();
    explaining_ = new Job(this);
    explaining_->setObjectName(QStringLiteral("explaining"));
    connect(explaining_, &Job::failed, this,
            [this](const Problem& problem) { words_->setText(wording::problem(problem)); });
    auto* outer = new QHBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    form_ = new QWidget(this);
    auto* side = new QVBoxLayout(form_);
    side->setContentsMargins(0, 0, 0, 0);
    auto* grid = new QGridLayout;
    grid->setVerticalSpacing(3);
    add_fields(grid);
    side->addLayout(grid);
    side->addWidget(new PressButton(remember_, form_));
    side->addStretch(1);
    outer->addWidget(form_);
    panel_ = new Panel(title(), this);
    panel_->head()->addWidget(new PressButton(back, panel_));
    routes_ = new RoutesView(panel_);
    panel_->body()->addWidget(routes_, 1);
    words_ = sentence({}, panel_);
    words_->setObjectName(QStringLiteral("worth_words"));
    panel_->body()->addWidget(words_);
    outer->addWidget(panel_, 1);
}

void WorthPage::add_fields(QGridLayout* grid) {
    int row = 0;
    const auto heading = [&](const QString& text) {
        auto* label = caption(text, form_);
        label->setFont(type(13, true));
        grid->addWidget(label, row++, 0, 1, 2);
    };
    // `at` names the figure in the case, for reading and for writing.
    const auto add = [&](const QString& name, const char* object, int digits, auto at) {
        auto* label = caption(name, form_);
        auto* edit = new QLineEdit(form_);
        edit->setObjectName(QString::fromLatin1(object));
        edit->setFixedWidth(scaled(66));
        edit->setAccessibleName(name);
        label->setBuddy(edit);
        grid->addWidget(label, row, 0);
        grid->addWidget(edit, row++, 1);
        using Kept = std::remove_reference_t<decltype(at(case_))>;
        fields_.push_back({edit, digits, [at](const WorthCase& c) { return static_cast<double>(at(c)); },
                           [at](WorthCase& c, double v) {
                               if constexpr (std::is_integral_v<Kept>)
                                   at(c) = static_cast<Kept>(std::lround(v));
                               else
                                   at(c) = v;
                           }});
        connect(edit, &QLineEdit::editingFinished, this, [this] { weigh(); });
    };
    heading(tr("The pack"));
    add(
        tr("units to replace"), "worth_replace", 0, [](auto& c) -> auto& { return c.pack.units_to_replace; });
    add(
        tr("Wh of a unit"), "worth_unit_wh", 1, [](auto& c) -> auto& { return c.pack.unit_wh; });
    heading(tr("Prices"));
    add(
        tr("an hour"), "worth_hour", 2, [](auto& c) -> auto& { return c.prices.hour; });
    add(
        tr("bought unit"), "worth_bought", 2, [](auto& c) -> auto& { return c.prices.bought_unit; });
    add(
        tr("unit in stock"), "worth_stock", 2, [](auto& c) -> auto& { return c.prices.stock_unit; });
    add(
        tr("new unit"), "worth_new_unit", 2, [](auto& c) -> auto& { return c.prices.new_unit; });
    add(
        tr("protection board"), "worth_board", 2, [](auto& c) -> auto& { return c.prices.board; });
    add(
        tr("new pack (0: no)"), "worth_new_pack", 2, [](auto& c) -> auto& { return c.prices.new_pack; });
    add(
        tr("reconditioned (0: no)"), "worth_reconditioned", 2,
        [](auto& c) -> auto& { return c.prices.reconditioned_pack; });
    add(
        tr("conversion (0: no)"), "worth_convert", 2, [](auto& c) -> auto& { return c.prices.conversion_unit; });
    heading(tr("Hours"));
    add(
        tr("open and close"), "worth_open_h", 2, [](auto& c) -> auto& { return c.hours.open_and_close; });
    add(
        tr("a unit replaced"), "worth_replace_h", 2, [](auto& c) -> auto& { return c.hours.per_unit_replaced; });
    add(
        tr("a unit tested"), "worth_test_h", 2, [](auto& c) -> auto& { return c.hours.per_unit_tested; });
    heading(tr("What counts"));
    add(
        tr("money"), "worth_money", 1, [](auto& c) -> auto& { return c.weights.money; });
    add(
        tr("time"), "worth_time", 1, [](auto& c) -> auto& { return c.weights.time; });
    add(
        tr("certainty"), "worth_certainty", 1, [](auto& c) -> auto& { return c.weights.certainty; });
}

void WorthPage::set_pack(Id id) {
    PackRoom::set_pack(id);
    fill();
}

// The pack as it is now; what was typed for another one does not stay.
void WorthPage::fill() {
    explaining_->drop();
    const bool any = record() != nullptr;
    panel_->set_title(title());
    form_->setEnabled(any);
    routes_->setVisible(any);
    remember_->setEnabled(any && workshop().writable());
    if (!any) {
        words_->setText(tr("Go to Receive, choose a pack and come from there."));
        return;
    }
    case_ = workshop().receive().worth_case(pack(), workshop().triage());
    for (const Field& field : fields_)
        field.edit->setText(figures::plain(field.get(case_), field.digits));
    weigh();
    explain_first();
    emit evidence_changed();
}

void WorthPage::refresh() {
    panel_->set_title(title());
    if (record() == nullptr)
        fill();
    remember_->setEnabled(record() != nullptr && workshop().writable());
}

void WorthPage::explain_first() {
    const TriageService& triage = workshop().triage();
    if (triage.explained_at_hand(pack()) || triage.triage_case(pack()).readings.empty())
        return;
    workshop().triage().explain_beside(*explaining_, pack(), [this, guess = fields_.front().edit->text()] {
        QLineEdit* replace = fields_.front().edit;
        if (replace->text() == guess)
            replace->setText(
                figures::plain(workshop().receive().worth_case(pack(), workshop().triage()).pack.units_to_replace, 0));
        weigh();
    });
    if (explaining_->busy())
        words_->setText(tr("What the readings say about the pack is being worked out.") + QLatin1Char('\n') +
                        words_->text());
}

void WorthPage::pose() {
    const auto put = [this](const char* object, const QString& text) {
        findChild<QLineEdit*>(QString::fromLatin1(object))->setText(text);
    };
    put("worth_replace", QStringLiteral("4"));
    put("worth_new_pack", QStringLiteral("260"));
    put("worth_reconditioned", QStringLiteral("150"));
    weigh();
}

void WorthPage::weigh() {
    if (record() == nullptr)
        return;
    WorthCase tried = case_;
    for (const Field& field : fields_) {
        const auto value = figures::typed(field.edit->text());
        if (!value) {
            words_->setText(tr("\"%1\" is not a number.").arg(field.edit->text()));
            return;
        }
        field.put(tried, *value);
    }
    const auto weighed = weigh_routes(tried);
    if (!weighed) {
        words_->setText(wording::sentence(weighed.problem().sentence));
        return;
    }
    case_ = tried;
    const WorthResult& result = weighed.value();
    routes_->set(result);
    QStringList lines;
    if (result.winner)
        lines << tr("%1 wins by what counts here.").arg(wording::route(*result.winner));
    lines << (result.break_even_unit ? tr("A bought unit may cost %1 before another route is cheaper.")
                                           .arg(figures::plain(*result.break_even_unit, 2))
                                     : tr("At no price do bought units beat the other routes."));
    for (const TurningPoint& t : result.turning_points)
        lines << wording::turning_point(t);
    words_->setText(lines.join(QLatin1Char('\n')));
}

void WorthPage::remember() {
    if (record() == nullptr)
        return;
    weigh();
    if (fine(workshop().receive().remember_worth(case_)))
        emit told(tr("Remembered for the next pack."), false);
}

EvidenceContent WorthPage::evidence() const {
    EvidenceContent content;
    content.caution = "receive";
    if (const Assembly* pack = record())
        content.subject = QString::fromStdString(pack->label);
    return content;
}

} // namespace ingot::app
