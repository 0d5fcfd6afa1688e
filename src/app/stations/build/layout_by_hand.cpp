// What a person moves in a layout, by mouse, by arrows or typed, with the checks that follow every movement; and
// whether what is laid out fits.
#include "app/parts/layout_picture.h"
#include "app/parts/questions.h"
#include "app/stations/build/layout_view.h"
#include "core/build/layout_fit.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

constexpr double mm_a_metre = 1000, mv_a_volt = 1000;

QString mm(double metres) {
    return figures::plain(metres * mm_a_metre, 1);
}

} // namespace

bool LayoutView::in_holder() const {
    return question_.design.word(DesignFigure::joining) == code(JoiningKind::holder);
}

void LayoutView::connect_hand() {
    connect(picture_, &LayoutPicture::cell_chosen, this, [this] { emit evidence_changed(); });
    connect(picture_, &LayoutPicture::moving, this, &LayoutView::take_move);
    connect(picture_, &LayoutPicture::link_unwanted, this, &LayoutView::leave_link_out);
    connect(picture_, &LayoutPicture::let_go, this, [this] { show_picture(); });
    connect(picture_, &LayoutPicture::dropped_on, this, [this](int cell, int other) {
        take_move({}, false); // what was dragged stands where it stood
        swap_units(static_cast<std::size_t>(cell), static_cast<std::size_t>(other));
    });
}

std::vector<LayoutMove> LayoutView::moves() const {
    const std::string words = question_.design.word(DesignFigure::by_hand);
    if (plan_.now() == nullptr || !plan_.not_moved.empty())
        return {};
    const auto kept = layout_moves_from(words);
    return kept ? kept.value() : std::vector<LayoutMove>();
}

bool LayoutView::moved() const {
    return question_.design.knows(DesignFigure::by_hand);
}

bool LayoutView::link_chosen() const {
    const LayoutProposal* now = plan_.now();
    return now != nullptr && picture_->piece() >= 0 &&
           now->layout.pieces[static_cast<std::size_t>(picture_->piece())].kind == LayoutPiece::Kind::series;
}

// A move without a place takes nothing along: as it was kept.
void LayoutView::take_move(const LayoutMove& move, bool done) {
    if (plan_.now() == nullptr)
        return;
    const auto next = move.at.group > 0 ? and_move(moves(), move) : moves();
    auto plan = with_moves(plan_, question_, next);
    if (!plan) {
        emit told(wording::sentence(plan.problem().sentence), true);
        show_picture();
        return;
    }
    plan_ = std::move(plan.value());
    if (done)
        keep_moves(next);
    else
        show_picture();
    emit evidence_changed();
}

void LayoutView::keep_moves(const std::vector<LayoutMove>& moves) {
    set_figure(DesignFigure::by_hand,
               moves.empty() ? QString()
                             : QString::fromStdString(arrangement_of(plan_.as_proposed) + ": " + words_of(moves)));
    question_ = workshop().build().question(build());
    if (auto kept = with_moves(plan_, question_, this->moves())) // where it was refused, it stands as it stood
        plan_ = std::move(kept.value());
    refresh();
}

void LayoutView::ask_moves() {
    if (plan_.now() == nullptr)
        return;
    const auto objection = [this](const QString& answer) {
        const auto typed = layout_moves_from(answer.toStdString());
        if (!typed)
            return wording::sentence(typed.problem().sentence);
        const auto plan = with_moves(plan_, question_, typed.value());
        return plan ? QString() : wording::sentence(plan.problem().sentence);
    };
    const auto answer = ask_line(this, tr("Move by hand"),
                                 tr("cell 3.2 0.5 -1 (mm); lead plus 7.1; sense 3 2.4; link 1.1 2.3; cut 1.2 2.2"),
                                 QString::fromStdString(words_of(moves())), objection);
    if (!answer)
        return;
    const auto typed = layout_moves_from(answer->toStdString());
    if (!typed)
        return;
    if (auto plan = with_moves(plan_, question_, typed.value()))
        plan_ = std::move(plan.value());
    keep_moves(typed.value());
}

void LayoutView::leave_link_out() {
    if (!link_chosen()) {
        emit told(tr("Choose a link between two groups first."), true);
        return;
    }
    const LayoutPiece& piece = plan_.now()->layout.pieces[static_cast<std::size_t>(picture_->piece())];
    LayoutMove move;
    move.kind = LayoutMove::Kind::cut;
    move.at = picture_->place_of(piece.cells.front());
    move.to = picture_->place_of(piece.cells.back());
    take_move(move, true);
}

void LayoutView::forget_moves() {
    if (moved())
        set_figure(DesignFigure::by_hand, {});
}

std::vector<std::vector<Id>> LayoutView::order_now() const {
    std::vector<std::vector<Id>> out(static_cast<std::size_t>(std::max(0, question_.series)));
    for (const BuildLine& line : workshop().build().sheet(build()).lines)
        if (line.group >= 1 && line.group <= question_.series)
            out[static_cast<std::size_t>(line.group - 1)].push_back(line.unit);
    return out;
}

void LayoutView::arrange(const QString& step, const std::vector<std::vector<Id>>& order) {
    emit step_wanted(
        step, [this, id = build(), order] { return workshop().build().arrange(id, order); },
        [this, id = build(), before = order_now()] { return workshop().build().arrange(id, before); });
}

void LayoutView::swap_units(std::size_t a, std::size_t b) {
    auto order = order_now();
    const LayoutPlace one = picture_->place_of(a);
    const LayoutPlace other = picture_->place_of(b);
    const auto at = [&](const LayoutPlace& place) -> Id& {
        return order[static_cast<std::size_t>(place.group - 1)][static_cast<std::size_t>(place.cell - 1)];
    };
    std::swap(at(one), at(other));
    arrange(tr("swap %1.%2 and %3.%4").arg(one.group).arg(one.cell).arg(other.group).arg(other.cell), order);
}

std::optional<LayoutPlace> LayoutView::place_of(const QString& word) const {
    const LayoutProposal* now = plan_.now();
    if (now == nullptr)
        return std::nullopt;
    for (std::size_t c = 0; c < now->layout.cells.size(); ++c) {
        const LayoutPlace place = picture_->place_of(c);
        if (word == QStringLiteral("%1.%2").arg(place.group).arg(place.cell) ||
            word.compare(QString::fromStdString(now->layout.cells[c].id), Qt::CaseInsensitive) == 0)
            return place;
    }
    return std::nullopt;
}

void LayoutView::ask_swap() {
    if (plan_.now() == nullptr)
        return;
    const auto groups_of = [this](const QStringList& words) -> std::optional<std::pair<int, int>> {
        bool first = false;
        bool second = false;
        const int a = words.value(0).toInt(&first);
        const int b = words.value(1).toInt(&second);
        if (words.size() != 2 || !first || !second || a < 1 || b < 1 || a > question_.series || b > question_.series)
            return std::nullopt;
        return std::pair(a, b);
    };
    const auto words_in = [](const QString& answer) { return answer.simplified().split(QLatin1Char(' ')); };
    const auto objection = [&](const QString& answer) {
        const QStringList words = words_in(answer);
        const bool places = words.size() == 2 && place_of(words[0]) && place_of(words[1]);
        return places || groups_of(words)
                   ? QString()
                   : tr("Two groups (2 5), two places (2.1 5.3) or the labels of two units of this build.");
    };
    const auto answer =
        ask_line(this, tr("Swap"), tr("Two groups, two places or two labels, with a space between"), {}, objection);
    if (!answer)
        return;
    const QStringList words = words_in(*answer);
    auto order = order_now();
    if (const auto groups = groups_of(words)) {
        std::swap(order[static_cast<std::size_t>(groups->first - 1)],
                  order[static_cast<std::size_t>(groups->second - 1)]);
        arrange(tr("swap groups %1 and %2").arg(groups->first).arg(groups->second), order);
        return;
    }
    const auto index = [this](const LayoutPlace& place) {
        return static_cast<std::size_t>(place.group - 1) * static_cast<std::size_t>(question_.parallel) +
               static_cast<std::size_t>(place.cell - 1);
    };
    if (const auto a = place_of(words[0]), b = place_of(words[1]); a && b)
        swap_units(index(*a), index(*b));
}

EvidenceContent LayoutView::cell_evidence() const {
    EvidenceContent content;
    content.caution = "build";
    const LayoutProposal& now = *plan_.now();
    const auto c = static_cast<std::size_t>(picture_->cell());
    const LayoutCell& cell = now.layout.cells[c];
    const LayoutPlace place = picture_->place_of(c);
    content.subject = tr("%1, place %2.%3").arg(label()).arg(place.group).arg(place.cell);
    content.verdict = QString::fromStdString(cell.id);
    content.line = tr("plus to the %1").arg(cell.plus == StripDrawing::Face::front ? tr("front") : tr("back"));
    if (now.layout.flat)
        content.line.clear();
    content.notes << tr("Its middle lies %1 mm from the left and %2 mm from below, seen from the front.")
                         .arg(mm(cell.x_m), mm(cell.y_m));
    for (const LayoutMove& move : moves())
        if (move.kind == LayoutMove::Kind::cell && move.at == place)
            content.notes << tr("Moved by hand: %1 mm to the right, %2 mm up.").arg(mm(move.x_m), mm(move.y_m));
    if (now.joints)
        content.notes << tr("It gives %1 at the load.").arg(figures::amperes(now.joints->cell_a[c]));
    add_remedies(content); // of the worst piece, whatever is chosen
    content.notes << tr("Drag it, or Shift and an arrow: half a millimetre a step. Let it go on another cell and the "
                        "two change places.");
    return content;
}

void LayoutView::add_fit_checks(std::vector<StepLine>& lines) const {
    const LayoutProposal& now = *plan_.now();
    using S = StepLine::State;
    const auto add = [&](const QString& name, const QString& note, std::optional<bool> passes) {
        lines.push_back({name, note, passes && *passes ? S::done : S::to_come, passes && !*passes});
    };
    if (!plan_.not_moved.empty())
        add(tr("Moved by hand"), wording::sentence(plan_.not_moved), false);
    if (in_holder()) {
        const auto spring = question_.design.number(DesignFigure::spring_ohm);
        const auto load = question_.design.number(DesignFigure::continuous_a);
        const auto most = question_.design.number(DesignFigure::spring_a);
        if (!spring)
            add(tr("Springs of the holder"), tr("resistance of a contact not known: four-wire, a cell in its place"),
                std::nullopt);
        else if (!load)
            add(tr("Springs of the holder"),
                tr("%1 a contact; continuous current not known").arg(figures::milliohms(*spring)), std::nullopt);
        else {
            const SpringLoad springs = load_springs(*spring, *load, question_.series, question_.parallel);
            add(tr("Springs of the holder"),
                tr("%1 mV and %2 W in all at %3")
                    .arg(figures::plain(springs.drop_v * mv_a_volt, 0), figures::plain(springs.loss_w, 2),
                         figures::amperes(*load)),
                most ? std::optional(springs.each_a <= *most) : std::nullopt);
        }
    }
    if (!question_.to_scale) {
        add(tr("Sizes"), tr("the modules' format is not in the library: blocks, not to scale"), std::nullopt);
        return;
    }
    if (plan_.clearance_m && !in_holder())
        add(tr("Nearest foreign strip"),
            *plan_.clearance_m < 0 ? tr("two strips cross or touch; at least %1 mm").arg(mm(least_clearance_m))
                                   : tr("%1 mm, at least %2").arg(mm(*plan_.clearance_m), mm(least_clearance_m)),
            *plan_.clearance_m >= least_clearance_m);
    const bool room_known =
        question_.design.knows(DesignFigure::case_width_m) && question_.design.knows(DesignFigure::case_height_m);
    QString size = tr("%1 × %2 mm").arg(mm(now.layout.size_m[0]), mm(now.layout.size_m[1]));
    if (plan_.gap_m)
        size += *plan_.gap_m < -1e-9 ? tr(", two cells overlap by %1").arg(mm(-*plan_.gap_m))
                                     : tr(", %1 between cells").arg(mm(std::max(0.0, *plan_.gap_m)));
    const CaseFit fit = fit_in_case(now.layout, question_.design.number(DesignFigure::case_width_m).value_or(0),
                                    question_.design.number(DesignFigure::case_height_m).value_or(0));
    if (room_known && fit.apart && !now.layout.fits) // what of the case would have to go
        size += fit.over_width_m > 0 || fit.over_height_m > 0
                    ? tr(": ribs or posts would have to go, %1 mm across, %2 up")
                          .arg(mm(fit.over_width_m), mm(fit.over_height_m))
                    : tr(": it stands over the edge; move it back");
    add(tr("Inside the case"), room_known ? size : tr("%1; the room is not known").arg(size),
        !fit.apart   ? std::optional(false)
        : room_known ? std::optional(now.layout.fits)
                     : std::nullopt);
    const auto deep = question_.design.number(DesignFigure::room_deep_m);
    if (deep && question_.height_m > 0) {
        const auto& stock = question_.stock;
        const double strips =
            stock && !in_holder() ? std::max(stock->link_layers, stock->end_layers) * stock->thickness_m : 0;
        const DepthFit along =
            fit_along_cell(question_.height_m, question_.design.number(DesignFigure::raised_top_m).value_or(0), strips,
                           plan_.covers.rings > 0, *deep);
        add(tr("Along a cell"),
            !along.fits() ? tr("%1 mm with what lies on it, room %2: %3 too long")
                                .arg(mm(along.long_m), mm(*deep), mm(-along.slack_m))
            : along.rattles() && !in_holder()
                ? tr("%1 mm with what lies on it, room %2: pad %3, so that nothing moves")
                      .arg(mm(along.long_m), mm(*deep), mm(along.slack_m))
                : tr("%1 mm with what lies on it, room %2").arg(mm(along.long_m), mm(*deep)),
            along.fits());
    }
}

QStringList LayoutView::covers() const {
    QStringList words;
    if (plan_.covers.rings > 0)
        words << tr("%n rings", nullptr, plan_.covers.rings);
    if (!plan_.covers.corners.empty())
        words << tr("%n ends clipped", nullptr, static_cast<int>(plan_.covers.corners.size()));
    if (!plan_.covers.cards.empty()) {
        const auto most = std::max_element(plan_.covers.cards.begin(), plan_.covers.cards.end(),
                                           [](const auto& a, const auto& b) { return a.volts < b.volts; });
        words << tr("%n cards, up to %1", nullptr, static_cast<int>(plan_.covers.cards.size()))
                     .arg(figures::volts(most->volts, 1));
    }
    return words;
}

} // namespace ingot::app
