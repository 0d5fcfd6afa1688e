#include "app/rooms/limits_page.h"

#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/record_table.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/models/moved_model.h"
#include "workshop/wording.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QVBoxLayout>

#include <map>

namespace ingot::app {

namespace {

constexpr const char* default_chemistry = "default";
constexpr double percent_of = 100;

// One row of the grid: how a limit is read from the rules, shown and written back.
struct LimitRow {
    const char* name; // for translation
    double factor;    // shown = stored * factor
    bool optional;
    std::optional<double> (*get)(const DutyLimits&);
    void (*set)(DutyLimits&, std::optional<double>);
};
constexpr std::array<LimitRow, 7> limit_table{
    {{QT_TRANSLATE_NOOP("ingot::app::LimitsPage", "least capacity, % of rated"), percent_of, false,
      [](const DutyLimits& l) -> std::optional<double> { return l.least_capacity; },
      [](DutyLimits& l, std::optional<double> v) { l.least_capacity = *v; }},
     {QT_TRANSLATE_NOOP("ingot::app::LimitsPage", "largest resistance, times new"), 1, false,
      [](const DutyLimits& l) -> std::optional<double> { return l.largest_resistance; },
      [](DutyLimits& l, std::optional<double> v) { l.largest_resistance = *v; }},
     {QT_TRANSLATE_NOOP("ingot::app::LimitsPage", "largest self-discharge, % a month"), percent_of, false,
      [](const DutyLimits& l) -> std::optional<double> { return l.largest_self_discharge; },
      [](DutyLimits& l, std::optional<double> v) { l.largest_self_discharge = *v; }},
     {QT_TRANSLATE_NOOP("ingot::app::LimitsPage", "least current, times rated Ah"), 1, true,
      [](const DutyLimits& l) { return l.least_current_it; },
      [](DutyLimits& l, std::optional<double> v) { l.least_current_it = v; }},
     {QT_TRANSLATE_NOOP("ingot::app::LimitsPage", "largest age, years"), 1, true,
      [](const DutyLimits& l) { return l.largest_age_years; },
      [](DutyLimits& l, std::optional<double> v) { l.largest_age_years = v; }},
     {QT_TRANSLATE_NOOP("ingot::app::LimitsPage", "self-discharge of the low kind, % a month"), percent_of, true,
      [](const DutyLimits& l) { return l.largest_self_discharge_low; },
      [](DutyLimits& l, std::optional<double> v) { l.largest_self_discharge_low = v; }},
     {QT_TRANSLATE_NOOP("ingot::app::LimitsPage", "largest temperature rise, K"), 1, true,
      [](const DutyLimits& l) { return l.largest_rise_k; },
      [](DutyLimits& l, std::optional<double> v) { l.largest_rise_k = v; }}}};

struct DemandRow {
    const char* name;
    Duty RuleSet::*duty;
};
constexpr std::array<DemandRow, 5> demand_table{
    {{QT_TRANSLATE_NOOP("ingot::app::LimitsPage", "without a capacity"), &RuleSet::without_capacity},
     {QT_TRANSLATE_NOOP("ingot::app::LimitsPage", "without a resistance"), &RuleSet::without_resistance},
     {QT_TRANSLATE_NOOP("ingot::app::LimitsPage", "without self-discharge"), &RuleSet::without_self_discharge},
     {QT_TRANSLATE_NOOP("ingot::app::LimitsPage", "without a voltage"), &RuleSet::without_voltage},
     {QT_TRANSLATE_NOOP("ingot::app::LimitsPage", "to be handled with care"), &RuleSet::with_care}}};
// 80, 1.6: as a person would write it.
QString shown_limit(double value) {
    QString out = figures::plain(value, 2);
    const QString point = QLocale().decimalPoint();
    while (out.contains(point) && out.endsWith(QLatin1Char('0')))
        out.chop(1);
    if (out.endsWith(point))
        out.chop(static_cast<int>(point.size()));
    return out;
}
constexpr std::array<Duty, 4> demanded{Duty::drive, Duty::store, Duty::light, Duty::rest_again};

} // namespace

LimitsPage::LimitsPage(Workshop& workshop, QWidget* parent) : Page(workshop, parent) {
    setObjectName(QStringLiteral("limits_page"));
    add_commands();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* panel = new Panel({}, this);
    make_grid(panel);
    outer->addWidget(panel);
    make_comparison();
}

void LimitsPage::add_commands() {
    save_ = add_command(tr("&Save the limits"), QKeySequence(tr("Ctrl+S")),
                        tr("Keep the changed limits as the rule set's next version"), [this] {
                            if (fine(workshop().sort().save_rules()))
                                refresh();
                        });
    add_command(tr("&Copy the rule set…"), {}, tr("The rules as they stand, under a name of the shop's own"), [this] {
        const auto name = ask_line(this, tr("Copy the rule set"), tr("The name under which the shop finds it"));
        if (name && fine(workshop().sort().copy_rules(name->toStdString())))
            refresh();
    });
    own_ = add_command(tr("Limits of its &own"), {},
                       tr("The chemistry gets limits of its own, equal to the usual ones at first"), [this] {
                           RuleSet after = workshop().sort().rules();
                           after.by_chemistry[chemistry_->currentData().toString().toStdString()] =
                               after.by_chemistry.at(default_chemistry);
                           change(after, tr("give a chemistry its own limits"));
                       });
    add_way_back();
}

void LimitsPage::make_grid(Panel* panel) {
    name_ = new QLabel(panel);
    name_->setFont(type(16, true));
    panel->head()->insertWidget(0, name_);
    chemistry_ = new QComboBox(panel);
    chemistry_->setObjectName(QStringLiteral("limits_chemistry"));
    chemistry_->setAccessibleName(tr("Chemistry"));
    connect(chemistry_, &QComboBox::activated, this, [this] { fill(); });
    panel->head()->addWidget(caption(tr("limits for"), panel));
    panel->head()->addWidget(chemistry_);
    panel->head()->addWidget(new PressButton(own_, panel));
    panel->head()->addWidget(new PressButton(save_, panel, true));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(4);
    for (int d = 0; d < working_duty_count; ++d)
        grid->addWidget(caption(wording::duty(static_cast<Duty>(d)), panel), 0, d + 1);
    for (int row = 0; row < limit_rows; ++row) {
        const QString name = tr(limit_table[static_cast<std::size_t>(row)].name);
        grid->addWidget(new QLabel(name, panel), row + 1, 0);
        for (int d = 0; d < working_duty_count; ++d) {
            auto* edit = new QLineEdit(panel);
            edit->setObjectName(QStringLiteral("limit_%1_%2").arg(row).arg(d));
            edit->setAccessibleName(QStringLiteral("%1, %2").arg(wording::duty(static_cast<Duty>(d)), name));
            edit->setMaximumWidth(scaled(84));
            if (limit_table[static_cast<std::size_t>(row)].optional)
                edit->setPlaceholderText(tr("any"));
            edit->installEventFilter(this);
            connect(edit, &QLineEdit::editingFinished, this, [this, row, d] { take_limit(row, d); });
            limits_[static_cast<std::size_t>(row)][static_cast<std::size_t>(d)] = edit;
            grid->addWidget(edit, row + 1, d + 1);
        }
    }
    make_demands(panel, grid);
    grid->setColumnStretch(6, 1);
    panel->body()->addLayout(grid);
    deep_ =
        new QCheckBox(tr("Deep-discharged cells may be recovered: slowly, one by one, watched, then proved by capacity "
                         "and rest"),
                      panel);
    deep_->setObjectName(QStringLiteral("limits_deep"));
    connect(deep_, &QCheckBox::toggled, this, [this](bool on) {
        if (filling_ || !workshop().writable())
            return;
        RuleSet after = workshop().sort().rules();
        after.recovers_deep = on;
        change(after, tr("change a school on deep discharge"));
    });
    panel->body()->addWidget(deep_);
}

bool LimitsPage::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride)
        if (const auto* edit = qobject_cast<QLineEdit*>(watched); edit != nullptr && !edit->isModified()) {
            const auto* key = static_cast<QKeyEvent*>(event);
            if ((key->modifiers() & Qt::ControlModifier) && (key->key() == Qt::Key_Z || key->key() == Qt::Key_Y)) {
                event->ignore();
                return true;
            }
        }
    return Page::eventFilter(watched, event);
}

void LimitsPage::make_demands(Panel* panel, QGridLayout* grid) {
    grid->addWidget(caption(tr("at best"), panel), 0, 5);
    grid->setColumnMinimumWidth(4, scaled(150));
    for (int row = 0; row < demand_rows; ++row) {
        const QString name = tr(demand_table[static_cast<std::size_t>(row)].name);
        grid->addWidget(new QLabel(name, panel), row + 1, 4);
        auto* combo = new QComboBox(panel);
        combo->setObjectName(QStringLiteral("demand_%1").arg(row));
        combo->setAccessibleName(tr("%1, at best").arg(name));
        for (const Duty duty : demanded)
            combo->addItem(wording::duty(duty), static_cast<int>(duty));
        connect(combo, &QComboBox::activated, this, [this, row] { take_demand(row); });
        demands_[static_cast<std::size_t>(row)] = combo;
        grid->addWidget(combo, row + 1, 5);
    }
}

void LimitsPage::make_comparison() {
    auto* panel = new Panel(tr("Unit by unit"), this);
    with_ = new QComboBox(panel);
    with_->setObjectName(QStringLiteral("limits_with"));
    with_->setAccessibleName(tr("Compared with"));
    connect(with_, &QComboBox::activated, this, [this] { compare(); });
    panel->head()->addWidget(caption(tr("against"), panel));
    panel->head()->addWidget(with_);
    words_ = sentence({}, panel);
    words_->setObjectName(QStringLiteral("limits_words"));
    panel->body()->addWidget(words_);
    table_ = new RecordTable(QStringLiteral("moved_units"), panel);
    table_->setAccessibleName(tr("Units whose duty differs"));
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    model_ = new MovedModel(workshop(), table_);
    table_->set_records(model_);
    connect(table_, &RecordTable::chosen, this, [this] { emit evidence_changed(); });
    panel->body()->addWidget(table_, 1);
    qobject_cast<QVBoxLayout*>(layout())->addWidget(panel, 1);
}

std::string LimitsPage::chemistry() const {
    const std::string id = chemistry_->currentData().toString().toStdString();
    return workshop().sort().rules().by_chemistry.contains(id) ? id : default_chemistry;
}

const RuleSet* LimitsPage::other() const {
    const auto found = workshop().library().rule_sets.find(with_->currentData().toString().toStdString());
    return found == workshop().library().rule_sets.end() ? nullptr : &found->second;
}

void LimitsPage::refresh() {
    filling_ = true;
    const QString chosen = chemistry_->currentData().toString();
    chemistry_->clear();
    chemistry_->addItem(tr("all others"), QString::fromLatin1(default_chemistry));
    for (const auto& [id, known] : workshop().library().chemistries)
        chemistry_->addItem(QString::fromStdString(known.name), QString::fromStdString(id));
    chemistry_->setCurrentIndex(std::max(0, chemistry_->findData(chosen)));
    const QString with = with_->currentData().toString();
    with_->clear();
    const RuleSet& rules = workshop().sort().rules();
    for (const auto& [id, known] : workshop().library().rule_sets)
        with_->addItem(id == rules.id ? tr("as it is saved") : QString::fromStdString(known.name),
                       QString::fromStdString(id));
    with_->setCurrentIndex(std::max(0, with_->findData(with.isEmpty() ? QString::fromStdString(rules.id) : with)));
    filling_ = false;
    fill();
    compare();
}

void LimitsPage::fill() {
    filling_ = true;
    const RuleSet& rules = workshop().sort().rules();
    const bool may = workshop().writable();
    name_->setText(workshop().sort().rules_changed()
                       ? tr("%1, changed and not saved").arg(QString::fromStdString(rules.name))
                       : QString::fromStdString(rules.name));
    const auto& limits = rules.by_chemistry.at(chemistry());
    static_assert(limit_table.size() == limit_rows && demand_table.size() == demand_rows);
    for (std::size_t row = 0; row < limit_table.size(); ++row)
        for (std::size_t d = 0; d < limits.size(); ++d) {
            const auto value = limit_table[row].get(limits[d]);
            limits_[row][d]->setText(value ? shown_limit(*value * limit_table[row].factor) : QString());
            limits_[row][d]->setReadOnly(!may);
        }
    for (std::size_t row = 0; row < demand_table.size(); ++row) {
        demands_[row]->setCurrentIndex(demands_[row]->findData(static_cast<int>(rules.*demand_table[row].duty)));
        demands_[row]->setEnabled(may);
    }
    deep_->setChecked(rules.recovers_deep);
    deep_->setEnabled(may);
    save_->setEnabled(may && workshop().sort().rules_changed());
    own_->setEnabled(may && chemistry_->currentIndex() > 0 && chemistry() == default_chemistry);
    filling_ = false;
}

// A limit that does not loosen from Drive to Light is said and taken back.
void LimitsPage::take_limit(int row, int duty) {
    if (filling_ || !workshop().writable())
        return;
    const LimitRow& limit = limit_table[static_cast<std::size_t>(row)];
    const QString typed = limits_[static_cast<std::size_t>(row)][static_cast<std::size_t>(duty)]->text().trimmed();
    const auto figure = figures::typed(typed);
    RuleSet after = workshop().sort().rules();
    DutyLimits& changed = after.by_chemistry[chemistry()][static_cast<std::size_t>(duty)];
    const auto before = limit.get(changed);
    if (typed == (before ? shown_limit(*before * limit.factor) : QString()))
        return;
    if (!(typed.isEmpty() && limit.optional) && (!figure || !(*figure > 0))) {
        emit told(tr("\"%1\" is no limit: a figure above 0 is.").arg(typed), true);
        fill();
        return;
    }
    limit.set(changed, figure ? std::optional(*figure / limit.factor) : std::nullopt);
    change(after, tr("set a limit"));
}

void LimitsPage::take_demand(int row) {
    if (filling_)
        return;
    RuleSet after = workshop().sort().rules();
    after.*demand_table[static_cast<std::size_t>(row)].duty =
        static_cast<Duty>(demands_[static_cast<std::size_t>(row)]->currentData().toInt());
    change(after, tr("change what a school asks"));
}

void LimitsPage::change(const RuleSet& after, const QString& what) {
    if (const auto wrong = workshop().sort().objection(after)) {
        emit told(QString::fromStdString(wrong->text()), true);
        fill();
        return;
    }
    const RuleSet before = workshop().sort().rules();
    const auto trying = [this](const RuleSet& rules) {
        return [this, rules]() -> Result<bool> {
            workshop().sort().try_rules(rules);
            return true;
        };
    };
    do_step(what, trying(after), trying(before));
}

void LimitsPage::compare() {
    const RuleSet* with = other();
    model_->show(with == nullptr ? std::vector<SortService::Moved>() : workshop().sort().moved_by(*with));
    std::map<std::pair<Duty, Duty>, int> counts;
    for (const SortService::Moved& moved : model_->moved())
        ++counts[{moved.now, moved.then}];
    QStringList parts;
    for (const auto& [duties, count] : counts)
        parts << tr("%1 \u2192 %2: %3").arg(wording::duty(duties.first), wording::duty(duties.second)).arg(count);
    words_->setText(parts.isEmpty()
                        ? tr("Every unit in stock has the same duty by both.")
                        : tr("As it judges now \u2192 by the other: %1").arg(parts.join(QStringLiteral(", "))));
    emit evidence_changed();
}

bool LimitsPage::take_line(const QString& line) {
    const auto unit = workshop().find_unit(line.toStdString());
    if (!unit.ok())
        return false;
    if (table_->filter()->row_of(unit.value()) < 0)
        emit told(
            tr("%1 has the same duty by both.").arg(QString::fromStdString(workshop().unit(unit.value())->code())),
            false);
    table_->select(unit.value());
    emit evidence_changed();
    return true;
}

QWidget* LimitsPage::hands_on() const {
    return limits_.front().front();
}

EvidenceContent LimitsPage::evidence() const {
    EvidenceContent content;
    if (const Id unit = table_->selected(); unit != 0)
        return unit_evidence(workshop(), unit);
    const RuleSet& rules = workshop().sort().rules();
    content.subject = QString::fromStdString(rules.name);
    content.line = QString::fromStdString(rules.school);
    content.notes << tr("Limits are relative to a unit's rating. A changed limit judges at once; it is kept when it is "
                        "saved, as the rule set's next version.");
    content.notes << (rules.by_model.empty()
                          ? tr("Absolute limits of single models are set at Sort, in the picture; none has any.")
                          : tr("%n models have absolute limits, set at Sort in the picture; those count before these.",
                               nullptr, static_cast<int>(rules.by_model.size())));
    content.decided_by = QString::fromStdString(rules.stamp());
    return content;
}

} // namespace ingot::app
