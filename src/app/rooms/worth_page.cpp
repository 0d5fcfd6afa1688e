#include "app/rooms/worth_page.h"

#include "app/parts/choice_row.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/routes_view.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/triage_wording.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QStackedWidget>
#include <QVBoxLayout>

#include <cmath>

namespace ingot::app {

namespace {

constexpr double per_cent = 100;

bool bought_whole(WorthRoute route) {
    switch (route) {
    case WorthRoute::buy_new:
    case WorthRoute::buy_other_size:
    case WorthRoute::buy_reconditioned:
    case WorthRoute::adapter:
    case WorthRoute::whole_device:
        return true;
    default:
        return false;
    }
}

bool own_number_of_units(WorthRoute route) {
    return route == WorthRoute::rebuild_other_size || route == WorthRoute::convert;
}

bool any_route(WorthRoute /*route*/) {
    return true;
}

} // namespace

WorthPage::WorthPage(Workshop& workshop, QWidget* parent) : PackRoom(workshop, Room::worth, parent) {
    add_commands();
    QAction* back = add_way_back();
    explaining_ = new Job(this);
    explaining_->setObjectName(QStringLiteral("explaining"));
    connect(explaining_, &Job::failed, this,
            [this](const Problem& problem) { words_->setText(wording::problem(problem)); });
    auto* outer = new QHBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    form_ = make_form();
    panel_ = new Panel(title(), this);
    panel_->head()->addWidget(new PressButton(back, panel_));
    aim_ = new ChoiceRow({tr("the device working"), tr("stock")}, panel_);
    aim_->setObjectName(QStringLiteral("worth_aim"));
    connect(aim_, &ChoiceRow::changed, this, [this] { weigh(); });
    auto* wanted = new QHBoxLayout;
    wanted->addWidget(caption(tr("wanted"), panel_));
    wanted->addWidget(aim_);
    wanted->addStretch(1);
    wanted->addWidget(new PressButton(remember_, panel_));
    panel_->body()->addLayout(wanted);
    routes_ = new RoutesView(panel_);
    panel_->body()->addWidget(routes_, 1);
    words_ = sentence({}, panel_);
    words_->setObjectName(QStringLiteral("worth_words"));
    panel_->body()->addWidget(words_);
    outer->addWidget(form_);
    outer->addWidget(panel_, 1);
    connect(routes_, &RoutesView::chosen_changed, this, [this] {
        if (filling_)
            return;
        show_figures(true);
        show_figures_of(Figures::route);
        words_->setText(what_it_says(result_).join(QLatin1Char('\n')));
    });
}

void WorthPage::add_commands() {
    remember_ = add_command(tr("&Remember these"), QKeySequence(tr("Ctrl+S")), tr("For the packs to come"),
                            [this] { remember(); });
    took_ =
        add_command(tr("&It took…"), QKeySequence(tr("Ctrl+J")),
                    tr("How many hours the chosen route took on this pack, when it is done"), [this] { note_hours(); });
    learned_ =
        add_command(tr("&Take over what your jobs took"), {},
                    tr("The chosen route's hours as those of the jobs that were done"), [this] { take_learned(); });
}

// Three pages of figures, one in sight: the pack, what the shop pays and takes, what is the chosen route's own.
QWidget* WorthPage::make_form() {
    auto* form = new QWidget(this);
    form_ = form;
    auto* side = new QVBoxLayout(form);
    side->setContentsMargins(0, 0, 0, 0);
    side->setSpacing(6);
    pages_ = new ChoiceRow({tr("pack"), tr("prices"), tr("route")}, form);
    pages_->setObjectName(QStringLiteral("worth_pages"));
    side->addWidget(pages_);
    stack_ = new QStackedWidget(form);
    side->addWidget(stack_, 1);
    const auto grid = [this] {
        auto* page = new QWidget(stack_);
        auto* whole = new QVBoxLayout(page);
        whole->setContentsMargins(0, 0, 0, 0);
        auto* out = new QGridLayout;
        out->setVerticalSpacing(3);
        out->setHorizontalSpacing(6);
        whole->addLayout(out);
        whole->addStretch(1);
        stack_->addWidget(page);
        return out;
    };
    add_pack_fields(grid());
    add_shop_fields(grid());
    QGridLayout* route = grid();
    route_name_ = new QLabel(form);
    route_name_->setFont(type(13, true));
    route_name_->setObjectName(QStringLiteral("worth_route"));
    route_name_->setWordWrap(true);
    route->addWidget(route_name_, 0, 0, 1, 2);
    add_route_fields(route);
    connect(pages_, &ChoiceRow::changed, stack_, &QStackedWidget::setCurrentIndex);
    form->setFixedWidth(scaled(232));
    return form;
}

void WorthPage::show_figures_of(Figures figures) {
    pages_->choose(static_cast<int>(figures));
    stack_->setCurrentIndex(static_cast<int>(figures));
}

void WorthPage::add_heading(QGridLayout* grid, const QString& text) {
    auto* label = caption(text, form_);
    label->setFont(type(13, true));
    grid->addWidget(label, grid->rowCount(), 0, 1, 2);
}

void WorthPage::add_field(QGridLayout* grid, const QString& name, const char* object, Field field) {
    const int row = grid->rowCount();
    field.label = caption(name, form_);
    field.edit = new QLineEdit(form_);
    field.edit->setObjectName(QString::fromLatin1(object));
    field.edit->setFixedWidth(scaled(58));
    field.edit->setAccessibleName(name);
    field.label->setBuddy(field.edit);
    grid->addWidget(field.label, row, 0);
    grid->addWidget(field.edit, row, 1);
    connect(field.edit, &QLineEdit::editingFinished, this, [this] { weigh(); });
    fields_.push_back(std::move(field));
}

void WorthPage::add_pick(QGridLayout* grid, const QString& name, const char* object, const QStringList& choices,
                         Pick pick) {
    const int row = grid->rowCount();
    pick.label = caption(name, form_);
    pick.box = new QComboBox(form_);
    pick.box->addItems(choices);
    pick.box->setObjectName(QString::fromLatin1(object));
    pick.box->setAccessibleName(name);
    pick.box->setFixedWidth(scaled(98));
    grid->addWidget(pick.label, row, 0);
    grid->addWidget(pick.box, row, 1);
    connect(pick.box, &QComboBox::currentIndexChanged, this, [this] { weigh(); });
    picks_.push_back(std::move(pick));
}

namespace {

// A figure of the case that `at` names, times `shown`.
template <class At> auto getter(At at, double shown = 1) {
    return [at, shown](const WorthCase& c) {
        WorthCase copy = c;
        return static_cast<double>(at(copy)) * shown;
    };
}
template <class At> auto putter(At at, double shown = 1) {
    return [at, shown](WorthCase& c, double v) {
        auto& kept = at(c);
        using Kept = std::remove_reference_t<decltype(kept)>;
        if constexpr (std::is_integral_v<Kept>) {
            constexpr double most = 1e6;
            kept = static_cast<Kept>(std::lround(std::clamp(v / shown, -most, most)));
        } else {
            kept = v / shown;
        }
    };
}

// Nobody knows, yes, no.
int index_of(const std::optional<bool>& known) {
    return !known ? 0 : *known ? 1 : 2;
}
std::optional<bool> from_index(int index) {
    return index <= 0 ? std::nullopt : std::optional(index == 1);
}

} // namespace

void WorthPage::add_pack_fields(QGridLayout* grid) {
    const auto add = [&](const QString& name, const char* object, int digits, auto at) {
        add_field(grid, name, object, {nullptr, nullptr, digits, false, getter(at), putter(at), {}});
    };
    add_heading(grid, tr("The pack"));
    add(tr("units to replace"), "worth_replace", 0, [](WorthCase& c) -> int& { return c.pack.units_to_replace; });
    add(tr("Wh of a unit"), "worth_unit_wh", 1, [](WorthCase& c) -> double& { return c.pack.unit_wh; });
    const QStringList known{tr("not known"), tr("there"), tr("missing")};
    add_pick(grid, tr("its charger"), "worth_charger_there", known,
             {nullptr,
              nullptr,
              [](const WorthCase& c) { return index_of(c.pack.charger_at_hand); },
              [](WorthCase& c, int index) { c.pack.charger_at_hand = from_index(index); },
              {}});
    add_pick(grid, tr("its board"), "worth_board_sound", {tr("not known"), tr("sound"), tr("dead")},
             {nullptr,
              nullptr,
              [](const WorthCase& c) { return index_of(c.pack.board_sound); },
              [](WorthCase& c, int index) { c.pack.board_sound = from_index(index); },
              {}});
    add_heading(grid, tr("What counts"));
    add(tr("money"), "worth_money", 1, [](WorthCase& c) -> double& { return c.weights.money; });
    add(tr("time"), "worth_time", 1, [](WorthCase& c) -> double& { return c.weights.time; });
    add(tr("certainty"), "worth_certainty", 1, [](WorthCase& c) -> double& { return c.weights.certainty; });
    add(tr("a day waited, h"), "worth_day", 2, [](WorthCase& c) -> double& { return c.hours.day_waited; });
}

void WorthPage::add_shop_fields(QGridLayout* grid) {
    const auto add = [&](const QString& name, const char* object, auto at) {
        add_field(grid, name, object, {nullptr, nullptr, 2, false, getter(at), putter(at), {}});
    };
    add_heading(grid, tr("Prices"));
    add(tr("an hour"), "worth_hour", [](WorthCase& c) -> double& { return c.prices.hour; });
    add(tr("unit in stock"), "worth_stock", [](WorthCase& c) -> double& { return c.prices.stock_unit; });
    add(tr("charger"), "worth_charger", [](WorthCase& c) -> double& { return c.prices.charger; });
    add(tr("board"), "worth_board", [](WorthCase& c) -> double& { return c.prices.board; });
    add(tr("strip, sundries"), "worth_sundries", [](WorthCase& c) -> double& { return c.prices.strip_and_sundries; });
    add(tr("recycling"), "worth_recycling", [](WorthCase& c) -> double& { return c.prices.recycling; });
    add_heading(grid, tr("Hours"));
    add(tr("open and close"), "worth_open_h", [](WorthCase& c) -> double& { return c.hours.open_and_close; });
    add(tr("a unit replaced"), "worth_replace_h", [](WorthCase& c) -> double& { return c.hours.per_unit_replaced; });
    add(tr("a unit tested"), "worth_test_h", [](WorthCase& c) -> double& { return c.hours.per_unit_tested; });
    add(tr("a unit built in"), "worth_built_h", [](WorthCase& c) -> double& { return c.hours.per_unit_built; });
    add(tr("proving"), "worth_prove_h", [](WorthCase& c) -> double& { return c.hours.prove; });
}

void WorthPage::add_route_fields(QGridLayout* grid) {
    const auto add = [&](const QString& name, const char* object, int digits, auto at,
                         std::function<bool(WorthRoute)> has, double shown = 1) {
        const auto of_chosen = [ this, at ](WorthCase & c) -> auto& {
            return at(c.of(routes_->chosen()));
        };
        add_field(grid, name, object,
                  {nullptr, nullptr, digits, true, getter(of_chosen, shown), putter(of_chosen, shown), std::move(has)});
    };
    const auto has_price = [](WorthRoute r) { return gives_device(r) && r != WorthRoute::repair_from_stock; };
    add(
        tr("price of one"), "route_price", 2, [](RouteTerms& t) -> double& { return t.price; }, has_price);
    add(
        tr("units (0: as before)"), "route_units", 0, [](RouteTerms& t) -> int& { return t.units; },
        own_number_of_units);
    add(
        tr("Wh of each"), "route_unit_wh", 1, [](RouteTerms& t) -> double& { return t.unit_wh; }, own_number_of_units);
    add(
        tr("so many packs"), "route_pieces", 0, [](RouteTerms& t) -> int& { return t.pieces; }, bought_whole);
    add(
        tr("Wh of each (0: same)"), "route_piece_wh", 0, [](RouteTerms& t) -> double& { return t.piece_wh; },
        bought_whole);
    add(
        tr("deposit for the old"), "route_deposit", 2, [](RouteTerms& t) -> double& { return t.core_deposit; },
        bought_whole);
    add(
        tr("freight"), "route_freight", 2, [](RouteTerms& t) -> double& { return t.freight; }, has_price);
    add(
        tr("days until it is here"), "route_days", 0, [](RouteTerms& t) -> double& { return t.waiting_days; },
        has_price);
    add(
        tr("hours besides"), "route_hours", 1, [](RouteTerms& t) -> double& { return t.extra_hours; }, any_route);
    add(
        tr("keeps, %"), "route_kept", 0, [](RouteTerms& t) -> double& { return t.kept_share; }, any_route, per_cent);
    add(
        tr("lasts, years"), "route_years", 1, [](RouteTerms& t) -> double& { return t.years; }, any_route);
    add(
        tr("works in … of 100"), "route_chance", 0, [](RouteTerms& t) -> double& { return t.chance; }, any_route,
        per_cent);
    add(
        tr("warranty, years"), "route_warranty", 2, [](RouteTerms& t) -> double& { return t.warranty_years; },
        gives_device);
    const auto pick = [&](const QString& name, const char* object, auto at) {
        add_pick(grid, name, object, {tr("none"), tr("old one"), tr("new one")},
                 {nullptr, nullptr,
                  [this, at](const WorthCase& c) {
                      WorthCase copy = c;
                      return static_cast<int>(at(copy.of(routes_->chosen())));
                  },
                  [this, at](WorthCase& c, int index) {
                      at(c.of(routes_->chosen())) = static_cast<WorthPart>(std::max(0, index));
                  },
                  gives_device});
    };
    pick(tr("charger"), "route_charger", [](RouteTerms& t) -> WorthPart& { return t.charger; });
    pick(tr("board"), "route_board", [](RouteTerms& t) -> WorthPart& { return t.board; });
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
    for (QAction* action : {remember_, took_, learned_})
        action->setEnabled(any && workshop().writable());
    if (!any) {
        words_->setText(tr("Go to Receive, choose a pack and come from there."));
        return;
    }
    case_ = workshop().receive().worth_case(pack(), workshop().triage());
    filling_ = true;
    aim_->choose(static_cast<int>(case_.aim));
    filling_ = false;
    show_figures(false);
    weigh();
    explain_first();
    emit evidence_changed();
}

// Those of the route are shown anew when another one is chosen, and only what it has.
void WorthPage::show_figures(bool of_route_only) {
    filling_ = true;
    const WorthRoute route = routes_->chosen();
    route_name_->setText(wording::route(route));
    for (const Field& field : fields_) {
        if (field.of_route) {
            field.edit->setVisible(field.has(route));
            field.label->setVisible(field.has(route));
        } else if (of_route_only) {
            continue;
        }
        const double value = field.get(case_);
        const bool unknown = field.edit->objectName() == QLatin1String("worth_unit_wh") && !(value > 0);
        field.edit->setText(unknown ? QString() : figures::plain(value, field.digits));
    }
    for (const Pick& pick : picks_) {
        if (pick.has) {
            pick.box->setVisible(pick.has(route));
            pick.label->setVisible(pick.has(route));
        } else if (of_route_only) {
            continue;
        }
        pick.box->setCurrentIndex(pick.get(case_));
    }
    filling_ = false;
}

void WorthPage::refresh() {
    panel_->set_title(title());
    if (record() == nullptr)
        fill();
    for (QAction* action : {remember_, took_, learned_})
        action->setEnabled(record() != nullptr && workshop().writable());
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
    case_.pack.units_to_replace = std::min(4, case_.pack.units);
    constexpr double new_pack = 260;
    constexpr double reconditioned = 150;
    constexpr double deposit = 20;
    case_.of(WorthRoute::buy_new).price = new_pack;
    case_.of(WorthRoute::buy_reconditioned).price = reconditioned;
    case_.of(WorthRoute::buy_reconditioned).core_deposit = deposit;
    show_figures(false);
    weigh();
    routes_->choose(WorthRoute::rebuild);
    show_figures_of(Figures::route);
}

std::optional<WorthCase> WorthPage::typed() {
    WorthCase tried = case_;
    tried.aim = static_cast<WorthAim>(aim_->chosen());
    const WorthRoute route = routes_->chosen();
    for (const Field& field : fields_) {
        if (field.of_route && !field.has(route))
            continue;
        const QString text = field.edit->text().trimmed();
        // Untouched it keeps its digits.
        if (text == figures::plain(field.get(case_), field.digits))
            continue;
        const auto value = text.isEmpty() ? std::optional(0.0) : figures::typed(text);
        if (!value) {
            words_->setText(tr("\"%1\" is not a number.").arg(field.edit->text()));
            return std::nullopt;
        }
        field.put(tried, *value);
    }
    for (const Pick& pick : picks_)
        if (!pick.has || pick.has(route))
            pick.put(tried, pick.box->currentIndex());
    return tried;
}

void WorthPage::weigh() {
    if (record() == nullptr || filling_)
        return;
    const auto tried = typed();
    if (!tried)
        return;
    const auto weighed = weigh_routes(*tried);
    if (!weighed) { // no figures of before, or of another pack, stand beside the objection
        result_ = {};
        routes_->set(result_, tried->aim);
        words_->setText(wording::sentence(weighed.problem().sentence));
        return;
    }
    case_ = *tried;
    result_ = weighed.value();
    routes_->set(result_, case_.aim);
    words_->setText(what_it_says(result_).join(QLatin1Char('\n')));
}

QStringList WorthPage::what_it_says(const WorthResult& result) const {
    QStringList lines;
    if (result.winner)
        lines << tr("%1 wins by what counts here.").arg(wording::route(*result.winner));
    else
        lines << tr("No route can be taken yet: give a price to one.");
    // What keeps the winner, then what would make the chosen one win, or the nearest of the others.
    const WorthRoute chosen = routes_->chosen();
    constexpr int most_of_winner = 2;
    constexpr int most_of_others = 2;
    int of_winner = 0;
    int of_others = 0;
    for (const TurningPoint& point : result.turning_points) {
        const bool asked_for = point.wins || chosen == result.winner || point.route == chosen;
        int& count = point.wins ? of_winner : of_others;
        if (!asked_for || count >= (point.wins ? most_of_winner : most_of_others))
            continue;
        ++count;
        lines << wording::turning_point(point);
    }
    if (chosen != result.winner && of_others == 0 && result.winner)
        lines << tr("No single figure of it makes %1 win.").arg(wording::route(chosen));
    if (case_.aim == WorthAim::stock && result.unit_cost)
        lines << tr("A good unit taken out costs %1; in stock it is worth %2.")
                     .arg(figures::plain(*result.unit_cost, 2), figures::plain(case_.prices.stock_unit, 2));
    else if (case_.aim == WorthAim::device && result.break_even_unit)
        lines << tr("A bought unit may cost %1 before another route is cheaper.")
                     .arg(figures::plain(*result.break_even_unit, 2));
    const auto jobs = workshop().receive().jobs_done();
    if (const auto factor = hours_factor(jobs, chosen))
        lines << tr("%1: your jobs took %2 times the hours reckoned then (%3 jobs).")
                     .arg(wording::route(chosen), figures::plain(*factor, 2))
                     .arg(std::count_if(jobs.begin(), jobs.end(), [&](const JobDone& j) { return j.route == chosen; }));
    return lines;
}

void WorthPage::remember() {
    if (record() == nullptr)
        return;
    weigh();
    if (fine(workshop().receive().remember_worth(case_)))
        emit told(tr("Remembered for the next pack."), false);
}

void WorthPage::note_hours() {
    if (record() == nullptr || !workshop().writable() || result_.routes.empty())
        return;
    const RouteFigures& figures = result_.routes[static_cast<std::size_t>(routes_->chosen())];
    constexpr double most_h = 1000;
    constexpr double least_h = 0.1;
    if (const auto hours = ask_figure(this, tr("It took…"),
                                      tr("%1: how many hours of hands, in all?").arg(wording::route(figures.route)),
                                      tr("h"), least_h, most_h, std::max(least_h, figures.hours)))
        if (fine(workshop().receive().note_hours(pack(), {figures.route, *hours, figures.hours}))) {
            emit told(tr("Noted. After three jobs of a route Worth it? says what yours take."), false);
            weigh();
        }
}

void WorthPage::take_learned() {
    if (record() == nullptr || result_.routes.empty())
        return;
    const WorthRoute route = routes_->chosen();
    const auto factor = hours_factor(workshop().receive().jobs_done(), route);
    if (!factor) {
        emit told(tr("Of this route fewer than three jobs are noted. Say what each took when it is done."), true);
        return;
    }
    RouteTerms& terms = case_.of(route);
    const double hours = result_.routes[static_cast<std::size_t>(route)].hours;
    terms.extra_hours = std::max(0.0, terms.extra_hours + (*factor - 1) * hours);
    show_figures(true);
    weigh();
}

EvidenceContent WorthPage::evidence() const {
    EvidenceContent content;
    content.caution = "receive";
    if (const Assembly* pack = record())
        content.subject = QString::fromStdString(pack->label);
    return content;
}

} // namespace ingot::app
