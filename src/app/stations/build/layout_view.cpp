#include "app/stations/build/layout_view.h"

#include "app/parts/layout_picture.h"
#include "app/parts/module_row.h"
#include "app/parts/panel.h"
#include "app/parts/step_list.h"
#include "app/theme/theme.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

namespace {

constexpr double to_mm = 1000;
constexpr double to_mm2 = 1e6;
constexpr double to_mv = 1000;
constexpr std::size_t most_proposals = 3;

PieceLook look_of(double density, const std::optional<exchange::StripDensity>& limits) {
    if (!limits)
        return PieceLook::plain;
    if (density <= limits->cool_a_per_m2)
        return PieceLook::cool;
    if (density <= limits->fair_a_per_m2)
        return PieceLook::fair;
    return density <= limits->warm_a_per_m2 ? PieceLook::warm : PieceLook::too_much;
}

QString density_words(double density) {
    return LayoutView::tr("%1 A/mm²").arg(figures::plain(density / to_mm2, 1));
}

} // namespace

LayoutView::LayoutView(Workshop& workshop, QWidget* parent) : BuildView(workshop, parent) {
    using F = DesignFigure;
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* head = new Panel({}, this);
    proposals_row_ = new QHBoxLayout;
    proposals_row_->setSpacing(6);
    for (std::size_t i = 0; i < most_proposals; ++i) {
        auto* button = new PressButton(QString(), head);
        button->setObjectName(QStringLiteral("proposal_%1").arg(i + 1));
        button->setCheckable(true);
        proposals_row_->addWidget(button);
        proposals_.push_back(button);
        connect(button, &PressButton::clicked, this, [this, i] {
            if (i < plan_.proposals.size())
                set_figure(F::arrangement, QString::fromStdString(arrangement_of(plan_.proposals[i].layout)));
            show_picture();
        });
    }
    proposals_row_->addStretch(1);
    material_ = new QComboBox(head);
    material_->setObjectName(QStringLiteral("strip_material"));
    material_->setAccessibleName(tr("Strip of"));
    strip_of_ = caption(tr("strip of"), head);
    proposals_row_->addWidget(strip_of_);
    proposals_row_->addWidget(material_);
    head->body()->addLayout(proposals_row_);
    add_boxes(head);
    outer->addWidget(head);

    auto* faces = new Panel({}, this);
    words_ = sentence({}, faces);
    words_->setObjectName(QStringLiteral("layout_words"));
    faces->body()->addWidget(words_);
    picture_ = new LayoutPicture(faces);
    constexpr int least_height = 180; // below, the page scrolls instead
    picture_->setMinimumHeight(scaled(least_height));
    faces->body()->addWidget(picture_, 1);
    row_ = new ModuleRow(faces);
    faces->body()->addWidget(row_, 1);
    outer->addWidget(faces, 1);

    auto* checks = new Panel(tr("Checks, live"), this);
    checks_ = new StepList(checks);
    checks_->setAccessibleName(tr("Checks of the layout"));
    trial_weld_ = new QLineEdit(checks);
    trial_weld_->setObjectName(QStringLiteral("trial_weld"));
    trial_weld_->setAccessibleName(tr("Trial weld: settings, and what the pull showed"));
    trial_weld_->setToolTip(
        tr("On a scrap cell of the same kind, low first, until the strip tears and the spot holds"));
    trial_weld_->setPlaceholderText(tr("trial weld, and its pull"));
    trial_weld_->setMinimumWidth(scaled(230));
    rim_boxes_ = new DesignBoxes(tr("Depth of the room and cell link"),
                                 {F::room_deep_m, F::raised_top_m, F::sleeve_m, F::cell_link_m}, checks);
    rim_boxes_->setObjectName(QStringLiteral("rim_boxes"));
    rim_boxes_->setFixedWidth(scaled(300));
    checks->head()->addWidget(rim_boxes_);
    checks->head()->addWidget(trial_weld_);
    checks->body()->addWidget(checks_);
    outer->addWidget(checks);

    connect_hand();
    for (DesignBoxes* boxes : {boxes_, bar_boxes_, holder_boxes_, rim_boxes_})
        connect(boxes, &FigureBoxes::chosen, this, [this, boxes] { // one of them all takes the next number
            for (DesignBoxes* other : {boxes_, bar_boxes_, holder_boxes_, rim_boxes_})
                if (other != boxes)
                    other->set_active(-1);
        });
    for (DesignBoxes* boxes : {boxes_, bar_boxes_, holder_boxes_, rim_boxes_})
        connect(boxes, &FigureBoxes::chosen, this, &BuildView::hint_changed);
    connect(row_, &ModuleRow::module_chosen, this, [this] { emit evidence_changed(); });
    connect(trial_weld_, &QLineEdit::editingFinished, this, [this] {
        if (!filling_ && trial_weld_->isModified() && build() != 0)
            set_figure(F::trial_weld, trial_weld_->text().trimmed());
        trial_weld_->setModified(false);
    });
    connect(picture_, &LayoutPicture::piece_chosen, this, [this] { emit evidence_changed(); });
    connect(checks_, &StepList::chosen, this, [this] { // what a check is about is the worst piece
        if (const LayoutProposal* now = plan_.now(); now != nullptr && now->joints) {
            picture_->choose_piece(static_cast<int>(now->joints->worst));
            emit evidence_changed();
        }
    });
    connect(material_, &QComboBox::activated, this, [this] {
        if (!filling_)
            set_figure(F::strip_material, material_->currentData().toString());
    });
}

void LayoutView::add_boxes(Panel* head) {
    using F = DesignFigure;
    boxes_ = new DesignBoxes(tr("Room, strip and current"),
                             {F::case_width_m, F::case_height_m, F::pitch_m, F::strip_width_m, F::strip_thickness_m,
                              F::link_layers, F::end_layers, F::welder_thickest_m, F::continuous_a},
                             head);
    boxes_->setObjectName(QStringLiteral("layout_boxes"));
    head->body()->addWidget(boxes_);
    bar_boxes_ = new DesignBoxes(
        tr("Bars, bay and current"),
        {F::bar_before_ohm, F::bar_ohm, F::bar_torque_nm, F::case_width_m, F::case_height_m, F::continuous_a}, head);
    bar_boxes_->setObjectName(QStringLiteral("bar_boxes"));
    head->body()->addWidget(bar_boxes_);
    holder_boxes_ = new DesignBoxes(
        tr("Holder and current"),
        {F::case_width_m, F::case_height_m, F::room_deep_m, F::pitch_m, F::spring_ohm, F::spring_a, F::continuous_a},
        head);
    holder_boxes_->setObjectName(QStringLiteral("holder_boxes"));
    head->body()->addWidget(holder_boxes_);
}

void LayoutView::refresh() {
    filling_ = true;
    question_ = workshop().build().question(build());
    for (DesignBoxes* each : {boxes_, bar_boxes_, holder_boxes_}) {
        each->show_design(question_.design);
        each->setVisible(each == (modules() ? bar_boxes_ : in_holder() ? holder_boxes_ : boxes_));
    }
    const bool strips = !modules() && !in_holder();
    rim_boxes_->show_design(question_.design);
    rim_boxes_->setVisible(strips);
    strip_of_->setVisible(strips);
    material_->setVisible(strips);
    trial_weld_->setVisible(strips);
    trial_weld_->setText(QString::fromStdString(question_.design.word(DesignFigure::trial_weld)));
    trial_weld_->setCursorPosition(0);
    trial_weld_->setEnabled(build() != 0 && workshop().writable());
    material_->clear();
    material_->addItem(tr("not known"));
    for (const auto& material : workshop().library().practice.strip_materials)
        material_->addItem(QString::fromStdString(material.id), QString::fromStdString(material.id));
    material_->setCurrentIndex(
        std::max(0, material_->findData(QString::fromStdString(question_.design.word(DesignFigure::strip_material)))));
    material_->setEnabled(build() != 0 && workshop().writable());
    filling_ = false;
    if (plan_.build != build())
        plan_ = {};
    show_picture();
}

void LayoutView::take_plan(const BuildPlan& plan) {
    plan_ = plan;
    show_picture();
    emit evidence_changed();
}

void LayoutView::show_picture() {
    for (std::size_t i = 0; i < proposals_.size(); ++i) {
        PressButton* button = proposals_[i];
        button->setVisible(i < plan_.proposals.size());
        if (i >= plan_.proposals.size())
            continue;
        button->setText(tr("&%1 %2").arg(i + 1).arg(wording::arrangement(plan_.proposals[i].layout)));
        button->setChecked(i == plan_.chosen);
        button->setEnabled(workshop().writable());
        button->updateGeometry();
    }
    const LayoutProposal* now = plan_.now();
    const bool row = !plan_.row.empty();
    picture_->setVisible(now != nullptr);
    row_->setVisible(row);
    words_->setVisible(now == nullptr && !row);
    checks_->parentWidget()->setVisible(now != nullptr || row);
    if (row) {
        picture_->clear();
        show_row();
        return;
    }
    if (now == nullptr) {
        words_->setText(build() == 0              ? tr("Match a set and reserve it; it is laid out here.")
                        : plan_.objection.empty() ? tr("Laying out …")
                                                  : wording::sentence(plan_.objection));
        picture_->clear();
        return;
    }
    picture_->set(now->layout, question_.stock ? question_.stock->width_m : 0,
                  question_.design.number(DesignFigure::case_width_m).value_or(0),
                  question_.design.number(DesignFigure::case_height_m).value_or(0));
    std::vector<PieceLook> looks;
    std::vector<QString> values;
    if (now->joints)
        for (const PieceLoad& piece : now->joints->pieces) {
            looks.push_back(look_of(piece.density_a_per_m2, limits()));
            values.push_back(
                tr("%1, %2").arg(figures::amperes(piece.current_a), density_words(piece.density_a_per_m2)));
        }
    picture_->set_looks(std::move(looks), std::move(values));
    std::vector<char> by_hand(now->layout.cells.size(), 0);
    for (const LayoutMove& move : moves())
        for (std::size_t c = 0; c < by_hand.size(); ++c)
            if (move.kind == LayoutMove::Kind::cell && picture_->place_of(c) == move.at)
                by_hand[c] = 1;
    picture_->set_movable(workshop().writable() && build() != 0, std::move(by_hand));
    show_checks();
}

void LayoutView::show_row() {
    const auto& ticks = workshop().build().ticks(build());
    const auto next = workshop().build().next_item(build());
    std::vector<BarLook> bars(plan_.row.size() - 1, BarLook::waiting);
    for (const BuildTask task : {BuildTask::links_front, BuildTask::links_back}) {
        const auto items = build_items(task, question_.series, question_.parallel);
        for (std::size_t i = 0; i < items.size(); ++i) {
            const std::pair item(task, static_cast<int>(i) + 1);
            const auto bar = static_cast<std::size_t>(items[i].front()) - 1;
            if (bar < bars.size())
                bars[bar] = ticks.contains(item) ? BarLook::done : next && *next == item ? BarLook::now : bars[bar];
        }
    }
    row_->set(plan_.row, std::move(bars));
    using S = StepLine::State;
    std::vector<StepLine> lines;
    const auto add = [&](const QString& name, const QString& note, std::optional<bool> passes) {
        lines.push_back({name, note, passes && *passes ? S::done : S::to_come, passes && !*passes});
    };
    const auto now = question_.design.number(DesignFigure::bar_ohm);
    const auto before = question_.design.number(DesignFigure::bar_before_ohm);
    const auto load = question_.design.number(DesignFigure::continuous_a);
    add(tr("The worst bar with both its joints"),
        !now     ? tr("not read: four-wire, or the drop under a known current")
        : before ? tr("%1, before %2").arg(figures::milliohms(*now), figures::milliohms(*before))
                 : figures::milliohms(*now),
        now && before ? std::optional(*now < *before) : std::nullopt);
    const double bars_count = static_cast<double>(plan_.row.size() - 1);
    if (now && load)
        add(tr("Drop in all bars, at most"),
            tr("%1 mV, %2 W at %3")
                .arg(figures::plain(*now * bars_count * *load * to_mv, 0),
                     figures::plain(*now * bars_count * *load * *load, 1), figures::amperes(*load)),
            true);
    const auto torque = question_.design.number(DesignFigure::bar_torque_nm);
    add(tr("Torque"),
        torque ? tr("%1 Nm, from the middle outwards, in two rounds").arg(figures::plain(*torque, 1))
               : tr("not known: the maker's; too much tears the pole out"),
        torque ? std::optional(true) : std::nullopt);
    checks_->set(std::move(lines), -1);
}

void LayoutView::show_checks() {
    const LayoutProposal& now = *plan_.now();
    using S = StepLine::State;
    std::vector<StepLine> lines;
    const auto add = [&](const QString& name, const QString& note, std::optional<bool> passes) {
        lines.push_back({name, note, passes ? *passes ? S::done : S::to_come : S::to_come, passes && !*passes});
    };
    if (in_holder() || question_.design.refills() || !question_.to_scale) {
        // No strip of its own, or its places are not known: nothing to reckon with.
    } else if (now.joints) {
        const PieceLoad& worst = now.joints->pieces[now.joints->worst];
        const auto zone = limits();
        add(tr("Current density, the worst piece"),
            zone ? tr("%1, %2 K warmer; at most %3")
                       .arg(density_words(worst.density_a_per_m2), figures::plain(worst.warmer_k, 0),
                            figures::plain(zone->warm_a_per_m2 / to_mm2, 1))
                 : density_words(worst.density_a_per_m2),
            zone ? std::optional(worst.density_a_per_m2 <= zone->warm_a_per_m2) : std::nullopt);
        add(tr("Drop in all strips"),
            tr("%1 mV, %2 W").arg(figures::plain(now.joints->drop_v * to_mv, 0), figures::plain(now.joints->loss_w, 2)),
            true);
    } else {
        QStringList missing;
        if (!question_.stock)
            missing << tr("strip");
        if (!question_.design.knows(DesignFigure::continuous_a))
            missing << tr("continuous current");
        if (!question_.without_resistance.empty())
            missing << tr("resistance of %n units", nullptr, static_cast<int>(question_.without_resistance.size()));
        add(tr("Currents in the metal"), tr("not known: %1").arg(missing.join(QStringLiteral(", "))), std::nullopt);
    }
    QString nets = question_.design.refills()
                       ? tr("each group's bars join its own units; the pack's links stay its own")
                       : tr("%1S%2P as designed").arg(question_.series).arg(question_.parallel);
    if (!plan_.joins_as_designed)
        nets = tr("not %1S%2P: what is joined is another pack").arg(question_.series).arg(question_.parallel);
    if (const auto by_hand = moves(); !by_hand.empty())
        nets += tr("; %n moves by hand", nullptr, static_cast<int>(by_hand.size()));
    add(tr("Nets of the pieces"), nets, plan_.joins_as_designed);
    add_fit_checks(lines);
    const auto welder = question_.design.number(DesignFigure::welder_thickest_m);
    constexpr double hair = 1e-9;
    const auto seats = workshop().build().heat_seats(build(), &now.layout);
    if (seats.objection.empty())
        add(tr("Heat by place"),
            seats.moved == 0 ? tr("strongest group in the warm middle, least ohms at the cool edge")
            : seats.strongest == seats.warmest
                ? tr("\"Place by heat\" moves %n units to where they stay cooler", nullptr, seats.moved)
                : tr("group %1 is strongest, group %2 stands warmest; \"Place by heat\" moves %n units", nullptr,
                     seats.moved)
                      .arg(seats.strongest)
                      .arg(seats.warmest),
            seats.moved == 0 ? std::optional(true) : std::nullopt);
    QStringList pieces{tr("%1 pieces of %2 kinds, %3 m, %4 welds")
                           .arg(now.layout.pieces.size())
                           .arg(now.layout.kinds)
                           .arg(figures::plain(now.layout.strip_length_m, 2))
                           .arg(now.layout.welds)};
    if (!in_holder() && question_.to_scale)
        add(tr("Pieces, welds, what covers them"), (pieces + covers()).join(QStringLiteral(", ")),
            !welder || !question_.stock || question_.stock->thickness_m <= *welder + hair);
    std::stable_sort(lines.begin(), lines.end(),
                     [](const StepLine& a, const StepLine& b) { return a.hazard && !b.hazard; });
    checks_->set(std::move(lines), -1);
}

bool LayoutView::take_line(const QString& line) {
    return type_figure(boxes(), line);
}

void LayoutView::echo(const QString& typed) {
    if (boxes().figure())
        boxes().set_active(boxes().active(), typed);
}

QString LayoutView::scan_hint() const {
    const auto figure = boxes().figure();
    if (!figure || build() == 0)
        return tr("a unit label finds its place");
    return tr("number: %1, %2").arg(wording::design_figure(*figure), wording::design_unit(*figure));
}

bool LayoutView::show_unit(Id unit) {
    const UnitState* state = workshop().unit(unit);
    const LayoutProposal* now = plan_.now();
    if (state == nullptr)
        return false;
    if (const auto at = std::find(plan_.row.begin(), plan_.row.end(), state->code()); at != plan_.row.end()) {
        const int module = static_cast<int>(at - plan_.row.begin());
        row_->choose(module);
        emit told(row_->parts()[static_cast<std::size_t>(module)].name, false);
        emit evidence_changed();
        return true;
    }
    if (now == nullptr)
        return false;
    for (std::size_t c = 0; c < now->layout.cells.size(); ++c)
        if (now->layout.cells[c].id == state->code()) {
            picture_->choose_cell(static_cast<int>(c));
            emit evidence_changed();
            emit told(tr("%1 stands in group %2, plus to the %3.")
                          .arg(QString::fromStdString(state->code()))
                          .arg(now->layout.cells[c].group + 1)
                          .arg(now->layout.cells[c].plus == StripDrawing::Face::front ? tr("front") : tr("back")),
                      false);
            return true;
        }
    return false;
}

void LayoutView::take_remedy(int number) {
    // As Evidence numbers them: those that the welder can weld.
    const Remedy* wanted = nullptr;
    for (const Remedy& one : plan_.remedies)
        if (one.welder_fits && --number == 0)
            wanted = &one;
    if (wanted == nullptr) {
        emit told(tr("There is no such remedy here."), false);
        return;
    }
    const Remedy& remedy = *wanted;
    switch (remedy.kind) {
    case RemedyKind::end_layer:
        set_figure(DesignFigure::end_layers, QString::number(remedy.stock.end_layers));
        break;
    case RemedyKind::link_layer:
        set_figure(DesignFigure::link_layers, QString::number(remedy.stock.link_layers));
        break;
    case RemedyKind::thicker:
        set_figure(DesignFigure::strip_thickness_m, QString::number(remedy.stock.thickness_m, 'g', 6));
        break;
    case RemedyKind::wider:
        set_figure(DesignFigure::strip_width_m, QString::number(remedy.stock.width_m, 'g', 6));
        break;
    }
}

void LayoutView::place_by_heat() {
    const LayoutProposal* now = plan_.now();
    const auto seats = workshop().build().heat_seats(build(), now == nullptr ? nullptr : &now->layout);
    if (!seats.objection.empty() || seats.moved == 0) {
        emit told(seats.objection.empty() ? tr("They stand so already.") : wording::sentence(seats.objection),
                  !seats.objection.empty());
        return;
    }
    arrange(tr("place the units by heat"), seats.order);
}

EvidenceContent LayoutView::row_evidence() const {
    EvidenceContent content;
    content.subject = label();
    content.caution = "build";
    const int chosen = row_->chosen();
    const auto parts = row_->parts();
    content.verdict = tr("%n modules in a row", nullptr, static_cast<int>(plan_.row.size()));
    if (chosen >= 0 && chosen < static_cast<int>(parts.size())) {
        content.subject = tr("%1, %2").arg(label(), parts[static_cast<std::size_t>(chosen)].name);
        content.line = parts[static_cast<std::size_t>(chosen)].value;
    }
    content.notes << wording::build_task_how(BuildTask::holder, true)
                  << wording::build_task_how(BuildTask::links_front, true);
    return content;
}

void LayoutView::add_remedies(EvidenceContent& content) const {
    for (const Remedy& remedy : plan_.remedies) {
        const PieceLoad& worst = remedy.joints.pieces[remedy.joints.worst];
        content.ways.push_back({wording::remedy(remedy),
                                tr("worst %1, %2 K warmer, %3 mV in all")
                                        .arg(density_words(worst.density_a_per_m2), figures::plain(worst.warmer_k, 0),
                                             figures::plain(remedy.joints.drop_v * to_mv, 0)) +
                                    (remedy.welder_fits ? QString() : tr(". The welder stops before that")),
                                remedy.welder_fits});
    }
}

EvidenceContent LayoutView::evidence() const {
    if (build() != 0 && !plan_.row.empty())
        return row_evidence();
    EvidenceContent content;
    if (build() == 0)
        return content;
    content.subject = label();
    content.caution = "build";
    const LayoutProposal* now = plan_.now();
    if (now == nullptr)
        return content;
    if (picture_->cell() >= 0)
        return cell_evidence();
    if (!now->joints) {
        content.verdict = tr("Laid out");
        content.line = in_holder() ? tr("The holder's springs carry the current; Prove reads each unit under load.")
                       : question_.design.refills()
                           ? tr("What the metal carries depends on where the pack's own links stand.")
                       : !question_.to_scale ? tr("Bars and cables between modules are bolted: Steps has their order.")
                                             : tr("Strip, current and the units' resistances say what the metal "
                                                  "carries.");
        return content;
    }
    const std::size_t piece = picture_->piece() >= 0 ? static_cast<std::size_t>(picture_->piece()) : now->joints->worst;
    const PieceLoad& load = now->joints->pieces[piece];
    const auto parts = picture_->parts();
    content.subject = piece < parts.size() ? tr("%1, %2").arg(label(), parts[piece].name) : label();
    const PieceLook look = look_of(load.density_a_per_m2, limits());
    content.verdict = look == PieceLook::too_much ? tr("Too thin here")
                      : look == PieceLook::plain  ? density_words(load.density_a_per_m2)
                                                  : tr("Stays %1").arg(piece_look_name(look));
    content.line = piece == now->joints->worst ? tr("the piece that carries most for its section")
                                               : tr("the worst piece: %1").arg(parts[now->joints->worst].name);
    content.notes << tr("<b>%1</b> at the most, %2, %3 K warmer than its cells, %4 mW.")
                         .arg(figures::amperes(load.current_a), density_words(load.density_a_per_m2),
                              figures::plain(load.warmer_k, 1), figures::plain(load.loss_w * to_mv, 0));
    const auto hardest = std::max_element(now->joints->cell_a.begin(), now->joints->cell_a.end());
    if (hardest != now->joints->cell_a.end()) {
        const auto& cell = now->layout.cells[static_cast<std::size_t>(hardest - now->joints->cell_a.begin())];
        content.notes
            << (question_.continuous_rating_a > 0
                    ? tr("%1 gives most: %2; its model may give %3.")
                          .arg(QString::fromStdString(cell.id), figures::amperes(*hardest),
                               figures::amperes(question_.continuous_rating_a))
                    : tr("%1 gives most: %2.").arg(QString::fromStdString(cell.id), figures::amperes(*hardest)));
    }
    add_remedies(content);
    return content;
}

} // namespace ingot::app
