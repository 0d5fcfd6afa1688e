#include "app/stations/sort/sort_station.h"

#include "app/parts/duty_scatter.h"
#include "app/parts/marks.h"
#include "app/parts/panel.h"
#include "app/parts/quantity_scatter.h"
#include "app/parts/questions.h"
#include "app/parts/record_table.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/models/shop_models.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QMessageBox>
#include <QPainter>
#include <QStackedWidget>
#include <QUndoCommand>
#include <QVBoxLayout>

#include <algorithm>
#include <map>

namespace ingot::app {

namespace {

// Marks, words and counts of the duties.
class DutyCounts : public QWidget {
public:
    DutyCounts(const Workshop& workshop, QWidget* parent) : QWidget(parent), workshop_(workshop) {
        setFixedHeight(duty_count * row_px() + 4);
    }

protected:
    void paintEvent(QPaintEvent* /*event*/) override {
        QPainter painter(this);
        const auto counts = workshop_.sort().duty_counts();
        QStringList described;
        for (int d = 0; d < duty_count; ++d) {
            const auto duty = static_cast<Duty>(d);
            draw_duty(painter, QPointF(scaled(12), d * row_px() + row_px() / 2.0), scaled(20), duty);
            painter.setPen(colours().ink);
            painter.setFont(type(14));
            painter.drawText(QRectF(scaled(30), d * row_px(), scaled(90), row_px()), Qt::AlignVCenter,
                             wording::duty(duty));
            painter.setFont(type(17, true));
            painter.drawText(QRectF(0, d * row_px(), width() - 2, row_px()), Qt::AlignRight | Qt::AlignVCenter,
                             QString::number(counts[static_cast<std::size_t>(d)]));
            described << QStringLiteral("%1 %2").arg(wording::duty(duty)).arg(counts[static_cast<std::size_t>(d)]);
        }
        if (accessibleName() != described.join(QStringLiteral(", ")))
            setAccessibleName(described.join(QStringLiteral(", ")));
    }

private:
    static int row_px() { return scaled(26); }
    const Workshop& workshop_;
};

class LimitCommand : public QUndoCommand {
public:
    LimitCommand(Workshop& workshop, RuleSet before, RuleSet after, const QString& text)
        : QUndoCommand(text), workshop_(workshop), before_(std::move(before)), after_(std::move(after)) {}
    void undo() override { workshop_.sort().try_rules(before_); }
    void redo() override { workshop_.sort().try_rules(after_); }

private:
    Workshop& workshop_;
    RuleSet before_;
    RuleSet after_;
};

} // namespace

void SortStation::withdraw_overrule() {
    const Act withdraw = [this, unit = unit_] { return workshop().sort().withdraw_overrule(unit); };
    for (const Overrule& standing : workshop().inventory().overrules())
        if (standing.unit == unit_)
            if (const auto duty = duty_from(standing.duty)) {
                do_step(tr("withdraw an overrule"), withdraw, [this, unit = unit_, to = *duty, why = standing.reason] {
                    return workshop().sort().overrule(unit, to, why);
                });
                return;
            }
    fine(withdraw());
}

void SortStation::add_commands() {
    save_ = add_command(tr("&Save the limits"), QKeySequence(tr("Ctrl+S")),
                        tr("Keep the moved limits as the rule set's next version"), [this] {
                            if (fine(this->workshop().sort().save_rules()))
                                refresh();
                        });
    add_command(tr("Next &model"), QKeySequence(tr("Ctrl+PgDown")), tr("Show the next unit model"), [this] {
        if (models_->count() > 0)
            models_->setCurrentIndex((models_->currentIndex() + 1) % models_->count());
    });
    add_command(tr("&Withdraw an overrule"), {}, tr("The rules decide again for the selected unit"),
                [this] { withdraw_overrule(); });
    add_command(tr("What its pack turned out to be…"), {},
                tr("The true cause in the selected unit's pack, once its units are tested"), [this] {
                    if (const UnitState* unit = this->workshop().unit(unit_))
                        ask_true_cause(unit->record.pack);
                    else
                        emit told(tr("Select a unit first."), true);
                });
    list_command_ = add_command(tr("As a &list"), QKeySequence::mnemonic(tr("As a &list")),
                                tr("The model's units as a list: sort, filter, copy, write as CSV"),
                                [this] { show_list(list_command_->isChecked()); });
    list_command_->setCheckable(true);
    add_command(tr("Limits and &rule sets"), QKeySequence(tr("Ctrl+L")),
                tr("Every limit by keys, rule sets side by side, unit by unit"),
                [this] { emit room_wanted(Room::limits, 0); });
    add_command(tr("&Copy the rule set…"), {}, tr("The rules as they stand, under a name of the shop's own"),
                [this] { copy_rules(); });
    add_command(tr("&Populations"), {},
                tr("Sources, lots and models: yields, what a further unit would be, doubtful labels"),
                [this] { emit room_wanted(Room::populations, 0); });
    add_command(tr("S&tock"), {}, tr("Where every unit is, what it is reserved for, what storage asks"),
                [this] { emit room_wanted(Room::stock, 0); });
}

void SortStation::copy_rules() {
    const auto name = ask_line(this, tr("Copy the rule set"), tr("The name under which the shop finds it"));
    if (!name)
        return;
    const std::string before = workshop().sort().rules().id;
    const auto copied = workshop().sort().copy_rules(name->toStdString());
    if (!fine(copied))
        return;
    keep_step(
        tr("copy a rule set"), [this, id = copied.value()] { return workshop().sort().choose_rules(id); },
        [this, before] { return workshop().sort().choose_rules(before); });
    refresh();
}

void SortStation::make_rules(Workshop& workshop) {
    rules_panel_ = new Panel({}, this);
    rules_panel_->set_kind(Panel::Kind::steel);
    rules_panel_->setFixedWidth(scaled(184));
    rules_ = new QComboBox(rules_panel_);
    rules_->setObjectName(QStringLiteral("sort_rules"));
    rules_->setAccessibleName(tr("Rule set"));
    rules_->setFont(type(14, true));
    rules_->setFocusPolicy(Qt::TabFocus);
    rules_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    rules_->setMinimumContentsLength(8);
    connect(rules_, &QComboBox::activated, this, [this] { choose_rules(); });
    rules_panel_->body()->addWidget(rules_);
    school_ = sentence({}, rules_panel_);
    school_->setFont(type(13));
    rules_panel_->body()->addWidget(school_);
    counts_ = new DutyCounts(workshop, rules_panel_);
    rules_panel_->body()->addWidget(counts_);
    rules_panel_->body()->addWidget(caption(tr("all units in stock"), rules_panel_));
    rules_panel_->body()->addStretch(1);
    changes_ = sentence({}, rules_panel_);
    changes_->setObjectName(QStringLiteral("sort_changes"));
    changes_->setFont(type(13));
    rules_panel_->body()->addWidget(changes_);
    outside_ = sentence({}, rules_panel_);
    outside_->setFont(type(13));
    rules_panel_->body()->addWidget(outside_);
    rules_panel_->body()->addWidget(new PressButton(save_, rules_panel_));
}

SortStation::SortStation(Workshop& workshop, QWidget* parent) : StationView(workshop, Station::sort, parent) {
    add_commands();
    auto* outer = new QHBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    make_rules(workshop);
    outer->addWidget(rules_panel_);

    make_picture(workshop);
    outer->addWidget(scatter_panel_, 1);

    connect(models_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_)
            refresh();
    });
    connect(scatter_, &DutyScatter::chosen, this, [this](Id unit) {
        unit_ = unit;
        emit evidence_changed();
    });
    connect(scatter_, &DutyScatter::limit_moved, this, [this](bool capacity, int duty, double value) {
        if (!dragging_) {
            before_drag_ = this->workshop().sort().rules();
            dragging_ = true;
        }
        this->workshop().sort().try_rules(with_limit(capacity, duty, value));
    });
    connect(scatter_, &DutyScatter::limit_released, this, [this](bool capacity, int duty, double value) {
        const RuleSet before = dragging_ ? before_drag_ : this->workshop().sort().rules();
        dragging_ = false;
        emit undo_pushed(
            new LimitCommand(this->workshop(), before, with_limit(capacity, duty, value), tr("move a limit")));
    });
    connect(scatter_, &DutyScatter::limit_tapped, this, [this](bool capacity, int duty) {
        typing_limit_ = true;
        typing_capacity_ = capacity;
        typing_duty_ = duty;
        emit hint_changed();
    });
}

void SortStation::make_picture(Workshop& workshop) {
    scatter_panel_ = new Panel({}, this);
    models_ = new QComboBox(scatter_panel_);
    models_->setObjectName(QStringLiteral("sort_model"));
    models_->setFont(type(16, true));
    models_->setFocusPolicy(Qt::TabFocus);
    models_->setAccessibleName(tr("Unit model"));
    models_->setMinimumContentsLength(9);
    scatter_panel_->head()->insertWidget(0, models_);
    auto* against = caption(tr("against"), scatter_panel_);
    across_ = new QComboBox(scatter_panel_);
    across_->setObjectName(QStringLiteral("sort_across"));
    across_->setAccessibleName(tr("Across"));
    up_ = new QComboBox(scatter_panel_);
    up_->setObjectName(QStringLiteral("sort_up"));
    up_->setAccessibleName(tr("Up"));
    for (QComboBox* combo : {across_, up_}) {
        combo->setFocusPolicy(Qt::TabFocus);
        combo->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        combo->setMinimumContentsLength(6);
        combo->setMaximumWidth(scaled(128));
        for (int q = 0; q < unit_quantity_count; ++q)
            combo->addItem(wording::quantity(static_cast<UnitQuantity>(q)), q);
        connect(combo, &QComboBox::activated, this, [this] { choose_page(); });
    }
    up_->setCurrentIndex(static_cast<int>(UnitQuantity::dc_resistance));
    connect(list_command_, &QAction::toggled, this, [this, against](bool list) {
        for (QWidget* part :
             {static_cast<QWidget*>(across_), static_cast<QWidget*>(against), static_cast<QWidget*>(up_)})
            part->setVisible(!list);
    });
    scatter_panel_->head()->addWidget(across_);
    scatter_panel_->head()->addWidget(against);
    scatter_panel_->head()->addWidget(up_);
    auto* list_button = new PressButton(list_command_, scatter_panel_);
    list_button->setCheckable(true);
    connect(list_command_, &QAction::toggled, list_button, &QAbstractButton::setChecked);
    scatter_panel_->head()->addWidget(list_button);
    stack_ = new QStackedWidget(scatter_panel_);
    auto* picture = new QWidget(stack_);
    auto* below = new QVBoxLayout(picture);
    below->setContentsMargins(0, 0, 0, 0);
    scatter_ = new DutyScatter(picture);
    below->addWidget(scatter_, 1);
    below->addWidget(caption(tr("Drag a limit, or tap it and type. The wheel looks closer."), picture));
    stack_->addWidget(picture);
    list_ = new RecordTable(QStringLiteral("sort_units"), stack_);
    list_->setAccessibleName(tr("Units of the model"));
    list_->setSelectionMode(QAbstractItemView::SingleSelection);
    list_->set_records(new UnitsModel(workshop, list_),
                       {QStringLiteral("code"), QStringLiteral("duty"), QStringLiteral("capacity"),
                        QStringLiteral("dc_resistance"), QStringLiteral("leak"), QStringLiteral("home")});
    list_->filter()->set_choice([this](Id id) {
        const UnitState* unit = this->workshop().unit(id);
        return unit != nullptr && unit->in_stock() && unit->record.model == model();
    });
    stack_->addWidget(list_);
    quantities_ = new QuantityScatter(stack_);
    stack_->addWidget(quantities_);
    connect(quantities_, &QuantityScatter::chosen, this, [this](Id unit) {
        unit_ = unit;
        scatter_->set_selected(unit);
        emit evidence_changed();
    });
    scatter_panel_->body()->addWidget(stack_, 1);
    connect(list_, &RecordTable::chosen, this, [this] {
        if (list_->selected() == 0 || filling_)
            return;
        unit_ = list_->selected();
        scatter_->set_selected(unit_);
        emit evidence_changed();
    });
}

std::string SortStation::model() const {
    return models_->currentData().toString().toStdString();
}

RuleSet SortStation::with_limit(bool capacity, int duty, double value) const {
    RuleSet rules = workshop().sort().rules();
    ModelLimits& limits = rules.by_model[model()];
    (capacity ? limits.least_capacity_ah : limits.largest_resistance_ohm)[static_cast<std::size_t>(duty)] = value;
    return rules;
}

void SortStation::set_limit(bool capacity, int duty, double value) {
    emit undo_pushed(
        new LimitCommand(workshop(), workshop().sort().rules(), with_limit(capacity, duty, value), tr("set a limit")));
}

void SortStation::fill_models() {
    filling_ = true;
    std::map<std::string, int> by_model;
    for (const UnitState& unit : workshop().units())
        if (unit.in_stock())
            ++by_model[unit.record.model];
    const QString before = models_->currentData().toString();
    models_->clear();
    int most = 0;
    int index = -1;
    for (const auto& [id, count] : by_model) {
        const UnitModel* known = workshop().library().model(id);
        models_->addItem(QString::fromStdString(known != nullptr ? known->name : id), QString::fromStdString(id));
        if (before.isEmpty() ? count > most : before.toStdString() == id) {
            most = count;
            index = models_->count() - 1;
        }
    }
    models_->setCurrentIndex(index < 0 && models_->count() > 0 ? 0 : index);
    filling_ = false;
}

void SortStation::fill_rules() {
    const RuleSet& rules = workshop().sort().rules();
    rules_->clear();
    for (const auto& [id, known] : workshop().library().rule_sets)
        rules_->addItem(QString::fromStdString(known.name), QString::fromStdString(id));
    rules_->setCurrentIndex(rules_->findData(QString::fromStdString(rules.id)));
    rules_->setEnabled(workshop().writable());
    school_->setText(QString::fromStdString(rules.school));
    save_->setEnabled(workshop().sort().rules_changed() && workshop().writable());
    QStringList lines;
    if (workshop().sort().rules_changed())
        lines << tr("Moved limits are not saved. Saved, they would change:");
    // All units are judged twice for it: not while a limit is under the hand.
    const auto changes = dragging_ ? std::vector<SortService::Change>() : workshop().sort().changes();
    constexpr std::size_t most_lines = 5;
    for (std::size_t i = 0; i < std::min(most_lines, changes.size()); ++i)
        lines << tr("%1 \u2192 %2: %3")
                     .arg(wording::duty(changes[i].from), wording::duty(changes[i].to))
                     .arg(changes[i].units);
    if (workshop().sort().rules_changed() && changes.empty() && !dragging_)
        lines << tr("no unit's duty");
    changes_->setText(lines.join(QLatin1Char('\n')));
    changes_->setVisible(!lines.isEmpty());
}

// Limits that were moved belong to the rule set that is left: the person is asked what becomes of them.
void SortStation::choose_rules() {
    const std::string id = rules_->currentData().toString().toStdString();
    if (workshop().sort().rules_changed() && id != workshop().sort().rules().id) {
        const auto answer =
            QMessageBox::question(this, tr("Moved limits"), tr("Save the moved limits before another rule set judges?"),
                                  QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel);
        if (answer == QMessageBox::Cancel || (answer == QMessageBox::Save && !fine(workshop().sort().save_rules()))) {
            fill_rules();
            return;
        }
    }
    const std::string before = workshop().sort().rules().id;
    do_step(
        tr("choose a rule set"), [this, id] { return workshop().sort().choose_rules(id); },
        [this, before] { return workshop().sort().choose_rules(before); });
    refresh();
}

namespace {
enum SortPage { limits_picture, units_list, quantities_picture };
} // namespace

void SortStation::show_list(bool list) {
    list_command_->setChecked(list);
    choose_page();
}

UnitQuantity SortStation::axis(bool across) const {
    return static_cast<UnitQuantity>((across ? across_ : up_)->currentData().toInt());
}

void SortStation::show_axes(UnitQuantity x, UnitQuantity y) {
    across_->setCurrentIndex(static_cast<int>(x));
    up_->setCurrentIndex(static_cast<int>(y));
    show_list(false);
}

// The limits belong to capacity and DC resistance; other quantities have a picture without them.
void SortStation::choose_page() {
    const bool limits = axis(true) == UnitQuantity::capacity && axis(false) == UnitQuantity::dc_resistance;
    stack_->setCurrentIndex(list_command_->isChecked() ? units_list : limits ? limits_picture : quantities_picture);
    refresh();
}

void SortStation::refresh() {
    fill_models();
    fill_rules();
    if (stack_->currentIndex() == units_list) {
        filling_ = true;
        list_->filter()->choose_again();
        list_->select(unit_);
        filling_ = false;
    }
    fill_scatter();
    if (stack_->currentIndex() == quantities_picture)
        fill_quantities();
    counts_->update();
}

void SortStation::fill_quantities() {
    const UnitQuantity x = axis(true);
    const UnitQuantity y = axis(false);
    std::vector<QuantityPoint> points;
    int unplaced = 0;
    const std::string chosen = model();
    for (const UnitState& unit : workshop().units()) {
        if (!unit.in_stock() || unit.record.model != chosen)
            continue;
        const auto at_x = value_of(unit, x);
        const auto at_y = value_of(unit, y);
        if (at_x && at_y)
            points.push_back({unit.record.id, *at_x, *at_y, unit.verdict.duty});
        else
            ++unplaced;
    }
    quantities_->set(std::move(points), wording::quantity(x), wording::quantity_unit(x), wording::quantity(y),
                     wording::quantity_unit(y), unplaced);
    quantities_->set_selected(unit_);
}

void SortStation::fill_scatter() {
    std::vector<ScatterPoint> points;
    std::array<double, 3> capacity{};
    std::array<double, 3> resistance{};
    int unplaced = 0;
    const std::string chosen = model();
    for (const UnitState& unit : workshop().units()) {
        if (!unit.in_stock() || unit.record.model != chosen)
            continue;
        if (!unit.facts.capacity_ah) {
            ++unplaced;
            continue;
        }
        points.push_back(
            {unit.record.id, *unit.facts.capacity_ah,
             unit.facts.dc_resistance_ohm ? std::optional(unit.facts.dc_resistance_ohm->value) : std::nullopt,
             unit.verdict.duty});
        for (const Evidence& evidence : unit.verdict.evidence)
            for (std::size_t i = 0; i < evidence.limits.size() && i < 3; ++i) {
                if (evidence.kind == EvidenceKind::capacity)
                    capacity[i] = evidence.limits[i].value;
                else if (evidence.kind == EvidenceKind::resistance && evidence.note == "dc")
                    resistance[i] = evidence.limits[i].value;
            }
    }
    outside_->setText(unplaced > 0 ? tr("%1 of this model have no capacity yet and are not drawn.").arg(unplaced)
                                   : QString());
    if (capacity[2] <= 0 && !points.empty()) { // nobody knows the rating: only the units themselves say where they lie
        double largest_ah = 0;
        for (const ScatterPoint& point : points)
            largest_ah = std::max(largest_ah, point.capacity_ah);
        capacity.fill(largest_ah);
    }
    scatter_->set(std::move(points), capacity, resistance);
    scatter_->set_selected(unit_);
}

bool SortStation::show_unit(Id unit) {
    const UnitState* state = workshop().unit(unit);
    if (state == nullptr)
        return false;
    unit_ = unit;
    const int index = models_->findData(QString::fromStdString(state->record.model));
    if (index >= 0)
        models_->setCurrentIndex(index);
    scatter_->set_selected(unit);
    quantities_->set_selected(unit);
    list_->select(unit);
    emit evidence_changed();
    return true;
}

bool SortStation::take_line(const QString& line) {
    if (line.isEmpty()) {
        typing_limit_ = false;
        emit hint_changed();
        return true;
    }
    const auto number = figures::typed(line);
    if (!number)
        return false;
    if (typing_limit_) {
        typing_limit_ = false;
        if (*number <= 0)
            emit told(tr("A limit must be more than 0."), true);
        else
            set_limit(typing_capacity_, typing_duty_, typing_capacity_ ? *number : *number / 1000);
        emit hint_changed();
        return true;
    }
    const auto found = workshop().find_unit(line.toStdString());
    if (fine(found))
        show_unit(found.value());
    return true;
}

QString SortStation::scan_hint() const {
    if (typing_limit_)
        return tr("number: the %1 limit in %2")
            .arg(wording::duty(static_cast<Duty>(typing_duty_)),
                 typing_capacity_ ? tr("Ah") : QStringLiteral("m\u03A9"));
    return tr("a unit label selects it");
}

EvidenceContent SortStation::evidence() const {
    EvidenceContent content;
    if (unit_ != 0)
        content = unit_evidence(workshop(), unit_);
    add_causes_by_units(content, unit_);
    return content;
}

void SortStation::pose() {
    const int index = models_->findData(QStringLiteral("H26"));
    if (index >= 0)
        models_->setCurrentIndex(index);
    for (const UnitState& unit : workshop().units())
        if (unit.in_stock() && unit.record.model == "H26" && unit.verdict.duty == Duty::store &&
            unit.facts.self_discharge_ah_per_day && unit.facts.dc_resistance_ohm) {
            show_unit(unit.record.id);
            return;
        }
}

} // namespace ingot::app
