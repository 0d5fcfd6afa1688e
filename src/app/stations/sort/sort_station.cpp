#include "app/stations/sort/sort_station.h"

#include "app/parts/duty_scatter.h"
#include "app/parts/marks.h"
#include "app/parts/panel.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QPainter>
#include <QUndoCommand>
#include <QVBoxLayout>

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

SortStation::SortStation(Workshop& workshop, QWidget* parent) : StationView(workshop, Station::sort, parent) {
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

    auto* outer = new QHBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    rules_panel_ = new Panel({}, this);
    rules_panel_->set_kind(Panel::Kind::steel);
    rules_panel_->setFixedWidth(scaled(184));
    school_ = sentence({}, rules_panel_);
    school_->setFont(type(13));
    rules_panel_->body()->addWidget(school_);
    counts_ = new DutyCounts(workshop, rules_panel_);
    rules_panel_->body()->addWidget(counts_);
    rules_panel_->body()->addWidget(caption(tr("all units in stock"), rules_panel_));
    rules_panel_->body()->addStretch(1);
    outside_ = sentence({}, rules_panel_);
    outside_->setFont(type(13));
    rules_panel_->body()->addWidget(outside_);
    rules_panel_->body()->addWidget(new PressButton(save_, rules_panel_));
    outer->addWidget(rules_panel_);

    scatter_panel_ = new Panel({}, this);
    models_ = new QComboBox(scatter_panel_);
    models_->setObjectName(QStringLiteral("sort_model"));
    models_->setFont(type(16, true));
    models_->setFocusPolicy(Qt::TabFocus);
    models_->setAccessibleName(tr("Unit model"));
    scatter_panel_->head()->insertWidget(0, models_);
    scatter_panel_->head()->addWidget(caption(tr("capacity against DC resistance"), scatter_panel_));
    scatter_ = new DutyScatter(scatter_panel_);
    scatter_panel_->body()->addWidget(scatter_, 1);
    scatter_panel_->body()->addWidget(
        caption(tr("Drag a limit, or tap it and type. The wheel looks closer."), scatter_panel_));
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

void SortStation::refresh() {
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

    const RuleSet& rules = workshop().sort().rules();
    rules_panel_->set_title(QString::fromStdString(rules.name));
    school_->setText(QString::fromStdString(rules.school) +
                     (workshop().sort().rules_changed() ? tr("\nMoved limits are not saved yet.") : QString()));
    save_->setEnabled(workshop().sort().rules_changed() && workshop().writable());

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
    counts_->update();
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
