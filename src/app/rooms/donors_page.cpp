#include "app/rooms/donors_page.h"

#include "app/parts/panel.h"
#include "app/parts/record_table.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/wording.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QProgressBar>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

#include <chrono>

namespace ingot::app {

namespace {
constexpr int move_columns = 7;
} // namespace

DonorsPage::DonorsPage(Workshop& workshop, QWidget* parent) : PackRoom(workshop, Room::donors, parent) {
    to_open_ =
        add_command(tr("Left-over packs to &Open"), QKeySequence(tr("Ctrl+T")),
                    tr("Packs that no plan completes are taken apart for their units"), [this] { send_to_open(); });
    stop_ = add_command(tr("&Stop, keep the best"), {}, tr("The best plan found so far"), [this] { beside_->stop(); });
    never_host_ = add_command(tr("&Not into this pack"), {},
                              tr("The chosen row's pack gives groups and is not rebuilt; again: it may be"),
                              [this] { choose_host(rules_.never_host, rules_.hosts_first); });
    host_first_ =
        add_command(tr("This pack is re&built first"), {},
                    tr("Where there is a choice, the chosen row's pack: its board is sound; again: no matter"),
                    [this] { choose_host(rules_.hosts_first, rules_.never_host); });
    QAction* back = add_way_back();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    panel_ = new Panel(title(), this);
    panel_->head()->addWidget(new PressButton(to_open_, panel_));
    panel_->head()->addWidget(new PressButton(back, panel_));
    summary_ = sentence({}, panel_);
    summary_->setObjectName(QStringLiteral("donors_summary"));
    summary_->setFont(type(17, true));
    panel_->body()->addWidget(summary_);
    build_rules(panel_);
    table_ = new QTableWidget(0, move_columns, panel_);
    table_->setObjectName(QStringLiteral("donors_moves"));
    table_->setHorizontalHeaderLabels({tr("into pack"), tr("place"), tr("from pack"), tr("its group"), tr("at rest"),
                                       tr("capacity"), tr("of a pack")});
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    for (const int packs : {0, 2, 6}) // their words are read whole
        table_->horizontalHeader()->setSectionResizeMode(packs, QHeaderView::ResizeToContents);
    dress_table(*table_);
    table_->setAccessibleName(tr("Moves, in order"));
    panel_->body()->addWidget(table_, 1);
    step_ = sentence({}, panel_);
    step_->setObjectName(QStringLiteral("donors_step"));
    step_->setFont(type(15, true));
    panel_->body()->addWidget(step_);
    outer->addWidget(panel_, 1);
    auto* caution = new Panel(tr("Before a group is moved"), this);
    caution->set_kind(Panel::Kind::caution);
    caution->body()->addWidget(
        sentence(tr("Packs are opened for this: every step and caution of Open comes first. Join groups "
                    "only inside the voltage window, never bridge two strips, and prove the pack "
                    "afterwards. Follow local codes."),
                 caution));
    outer->addWidget(caution);
    for (QLineEdit* field : {window_, tolerance_})
        connect(field, &QLineEdit::editingFinished, this, [this] {
            if (typed() != planned_for_) // leaving a field is no new question
                plan();
        });
    for (QCheckBox* box : {one_model_, unlike_})
        connect(box, &QCheckBox::toggled, this, [this] { plan(); });
    beside_ = new Job(this);
    connect(beside_, &Job::failed, this,
            [this](const Problem& problem) { summary_->setText(wording::problem(problem)); });
}

void DonorsPage::build_rules(Panel* panel) {
    auto* row = new QHBoxLayout;
    const auto field = [&](const char* object, const QString& name, const QString& first) {
        auto* edit = new QLineEdit(first, panel);
        edit->setObjectName(QString::fromLatin1(object));
        edit->setFixedWidth(scaled(60));
        edit->setAccessibleName(name);
        row->addWidget(edit);
        return edit;
    };
    row->addWidget(caption(tr("groups within"), panel));
    window_ = field("donors_window", tr("Voltage window, V"), QStringLiteral("0.1"));
    row->addWidget(caption(tr("V and"), panel));
    tolerance_ = field("donors_tolerance", tr("Capacity tolerance, %"), {});
    row->addWidget(caption(tr("% of capacity (blank: any)"), panel));
    one_model_ = new QCheckBox(tr("one model a pack"), panel);
    one_model_->setObjectName(QStringLiteral("donors_one_model"));
    row->addWidget(one_model_);
    unlike_ = new QCheckBox(tr("packs of another layout give, too"), panel);
    unlike_->setObjectName(QStringLiteral("donors_unlike"));
    row->addStretch(1);
    panel->body()->addLayout(row);
    auto* hosts = new QHBoxLayout;
    hosts->addWidget(unlike_);
    hosts->addStretch(1);
    for (QAction* command : {never_host_, host_first_})
        hosts->addWidget(new PressButton(command, panel));
    panel->body()->addLayout(hosts);
    auto* search = new QHBoxLayout;
    progress_ = new QProgressBar(panel);
    progress_->setRange(0, 0);
    progress_->setTextVisible(false);
    progress_->setAccessibleName(tr("Planning"));
    stop_button_ = new PressButton(stop_, panel);
    search->addWidget(progress_, 1);
    search->addWidget(stop_button_);
    panel->body()->addLayout(search);
    progress_->hide();
    stop_button_->hide();
}

void DonorsPage::set_pack(Id id) {
    PackRoom::set_pack(id);
    rules_.never_host.clear();
    rules_.hosts_first.clear();
    plan();
    emit evidence_changed();
}

void DonorsPage::refresh() {
    panel_->set_title(title());
    if (record() == nullptr)
        summary_->setText(
            tr("Go to Triage, choose a pack and come from there: the plan is made for packs of its kind."));
    show_step();
}

QStringList DonorsPage::typed() const {
    return {window_->text(), tolerance_->text()};
}

void DonorsPage::plan() {
    const Assembly* kind = record();
    const Chemistry* chemistry = kind != nullptr ? workshop().library().chemistry(kind->chemistry) : nullptr;
    if (chemistry == nullptr)
        return;
    planned_for_ = typed();
    moves_.clear();
    left_over_.clear();
    next_ = 0;
    table_->setRowCount(0);
    for (const QLineEdit* field : {window_, tolerance_})
        if (!field->text().trimmed().isEmpty() && figures::typed(field->text()).value_or(-1) < 0) {
            beside_->drop();
            summary_->setText(
                tr("\"%1\" is not a figure from 0. Correct it, or leave the field blank.").arg(field->text()));
            show_step();
            return;
        }
    const auto question =
        std::make_shared<DonorQuestion>(workshop().triage().donor_question(*kind, unlike_->isChecked()));
    DonorRules rules = rules_;
    rules.never_host.insert(question->unlike.begin(), question->unlike.end());
    rules.cells_per_unit = kind->layout.cells_per_tap();
    rules.voltage_window_v = figures::typed(window_->text());
    constexpr double per_cent = 100;
    if (const auto tolerance = figures::typed(tolerance_->text()))
        rules.capacity_tolerance = *tolerance / per_cent;
    rules.one_model = one_model_->isChecked();
    summary_->setText(tr("Planning for %n packs …", nullptr, static_cast<int>(question->ids.size())));
    constexpr int soon_ms = 150;
    QTimer::singleShot(soon_ms, this, [this] {
        progress_->setVisible(beside_->busy());
        stop_button_->setVisible(beside_->busy());
        show_step();
    });
    using Planned = Result<DonorPlan>;
    beside_->begin<Planned>(
        [question, rules, chemistry = *chemistry](const Job::Token& token) {
            constexpr std::chrono::seconds patience(2);
            const auto until = std::chrono::steady_clock::now() + patience;
            return plan_donors(question->groups, chemistry, rules,
                               [&] { return token.wanted() && std::chrono::steady_clock::now() < until; });
        },
        [this, question, rules, series = kind->layout.series](const Planned& planned) {
            take(*question, rules, series, planned);
        });
    show_step();
}

// Which packs must not be rebuilt, or are first; a pack stands in one of both.
void DonorsPage::choose_host(std::set<std::string>& into, std::set<std::string>& out_of) {
    const int row = table_->currentRow();
    if (row < 0 || row >= static_cast<int>(moves_.size()) || next_ > 0) {
        emit told(next_ > 0 ? tr("Groups were moved already: the plan stands.") : tr("Choose a row first."), true);
        return;
    }
    const std::string pack = moves_[static_cast<std::size_t>(row)].into;
    out_of.erase(pack);
    if (into.erase(pack) == 0)
        into.insert(pack);
    plan();
}

QString DonorsPage::hosts_in_words() const {
    const auto listed = [](const std::set<std::string>& packs) {
        QStringList out;
        for (const std::string& pack : packs)
            out << QString::fromStdString(pack);
        return out.join(QStringLiteral(", "));
    };
    QString out;
    if (!rules_.never_host.empty())
        out += tr(" Not rebuilt: %1.").arg(listed(rules_.never_host));
    if (!rules_.hosts_first.empty())
        out += tr(" First: %1.").arg(listed(rules_.hosts_first));
    return out;
}

void DonorsPage::take(const DonorQuestion& question, const DonorRules& rules, int series,
                      const Result<DonorPlan>& planned) {
    progress_->hide();
    stop_button_->hide();
    const QString waiting = question.unread > 0
                                ? tr(" %n packs of this kind are not read through yet.", nullptr, question.unread)
                                : QString();
    if (!planned) {
        summary_->setText((question.groups.empty() ? tr("No pack of this kind is read through yet.")
                                                   : wording::problem(planned.problem())) +
                          waiting);
        show_step();
        return;
    }
    const DonorPlan& plan = planned.value();
    const DonorForecast further = forecast_donors(question.groups, plan, rules, series);
    const QString bought =
        further.until_next > 0
            ? tr(" A further one brings %1 of a pack; the next lives with %n more.", nullptr, further.until_next)
                  .arg(figures::plain(further.packs_each, 2))
            : QString();
    summary_->setText(
        tr("%1 of %2 packs can live, %n groups move; %3.%4", nullptr, plan.moved)
            .arg(plan.packs_rebuilt())
            .arg(question.ids.size())
            .arg(plan.proved ? tr("no plan does better") : tr("the best found"), hosts_in_words() + bought + waiting));
    left_over_ = question.ids;
    for (const RebuiltPack& pack : plan.packs) {
        left_over_.erase(pack.pack);
        for (const PlacedGroup& p : pack.groups) {
            const DonorGroup& from = question.groups[p.from];
            if (from.pack != pack.pack)
                moves_.push_back({pack.pack, from.pack, question.ids.at(pack.pack), question.ids.at(from.pack),
                                  p.position, from.group, from.voltage_v, from.capacity_ah});
        }
    }
    for (const std::string& other : question.unlike) // what gave nothing stays what it is
        if (std::none_of(moves_.begin(), moves_.end(), [&](const Move& m) { return m.from == other; }))
            left_over_.erase(other);
    fill_table();
    show_step();
}

// Its layout, its kind and its age, as far as they are known.
QString DonorsPage::described(Id id) const {
    const Assembly* pack = workshop().pack(id);
    if (pack == nullptr)
        return {};
    QStringList out{wording::layout(pack->layout)};
    if (!pack->model.empty())
        out << QString::fromStdString(pack->model);
    const auto known = workshop().receive().particulars(id);
    if (const auto age = known.find(ParticularKind::age); age != known.end())
        out << QString::fromStdString(age->second);
    return out.join(QStringLiteral(", "));
}

void DonorsPage::fill_table() {
    for (const Move& move : moves_) {
        const int row = table_->rowCount();
        table_->insertRow(row);
        const QString cells[move_columns] = {QString::fromStdString(move.into),
                                             QString::number(move.place),
                                             QString::fromStdString(move.from),
                                             QString::number(move.group),
                                             figures::volts(move.volts),
                                             figures::or_dash(move.capacity_ah, figures::pack_capacity),
                                             described(move.from_id)};
        for (int c = 0; c < move_columns; ++c)
            table_->setItem(row, c, new QTableWidgetItem(cells[c]));
    }
}

void DonorsPage::show_step() {
    // What is left over may go once nothing of it is wanted any more.
    for (QAction* command : {never_host_, host_first_})
        command->setEnabled(!moves_.empty() && next_ == 0 && !beside_->busy());
    to_open_->setEnabled(next_ == moves_.size() && !left_over_.empty() && workshop().writable());
    stop_->setEnabled(beside_->busy());
    emit hint_changed();
    if (beside_->busy() || record() == nullptr) {
        step_->clear();
    } else if (moves_.empty()) {
        step_->setText(tr("Nothing to move."));
    } else if (next_ == moves_.size()) {
        step_->setText(tr("All moves are done. What is left over goes to Open."));
    } else {
        const Move& m = moves_[next_];
        table_->selectRow(static_cast<int>(next_));
        step_->setText(tr("Step %1 of %2: group %3 of %4 goes into place %5 of %6. Scan %4 when it is done.")
                           .arg(next_ + 1)
                           .arg(moves_.size())
                           .arg(m.group)
                           .arg(QString::fromStdString(m.from))
                           .arg(m.place)
                           .arg(QString::fromStdString(m.into)));
    }
}

void DonorsPage::send_to_open() {
    int sent = 0;
    for (const auto& [label, id] : left_over_) {
        const Assembly* pack = workshop().pack(id);
        if (pack == nullptr || pack->state != AssemblyState::in_triage)
            continue;
        if (!send_pack(id, AssemblyState::to_open, tr("send %1 to Open")))
            return;
        ++sent;
    }
    left_over_.clear();
    show_step();
    emit told(tr("%n packs went to Open.", nullptr, sent), false);
}

QString DonorsPage::scan_hint() const {
    return next_ < moves_.size()
               ? tr("the label of %1, when its group is moved").arg(QString::fromStdString(moves_[next_].from))
               : tr("a label opens its pack or unit");
}

// A pack's label while moves are left: the right one does the step, another one is no slip of going elsewhere.
bool DonorsPage::take_line(const QString& line) {
    if (line.isEmpty() || next_ >= moves_.size())
        return line.isEmpty();
    const HistorySubject named = workshop().ledger().named(line.toStdString());
    if (named.assembly == 0)
        return false;
    const Move m = moves_[next_];
    if (named.assembly != m.from_id) {
        step_->setText(tr("\"%1\" is not the pack that this group comes from: %2 is. Nothing was recorded.")
                           .arg(line, QString::fromStdString(m.from)));
        return true;
    }
    const auto done = workshop().triage().move_group(m.from_id, m.group, m.into_id, m.place);
    if (!done) {
        step_->setText(wording::problem(done.problem()));
        return true;
    }
    for (int c = 0; c < move_columns; ++c)
        table_->item(static_cast<int>(next_), c)->setForeground(colours().muted);
    ++next_;
    show_step();
    return true;
}

EvidenceContent DonorsPage::evidence() const {
    EvidenceContent content;
    content.caution = "open";
    if (const Assembly* pack = record())
        content.subject = QString::fromStdString(pack->label);
    return content;
}

bool DonorsPage::planning() const {
    return beside_->busy();
}

void DonorsPage::pose() {
    window_->setText(QStringLiteral("0.15"));
    emit window_->editingFinished();
}

} // namespace ingot::app
