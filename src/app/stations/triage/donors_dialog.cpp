#include "app/stations/triage/donors_dialog.h"

#include "app/parts/panel.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/job.h"

#include <QCheckBox>
#include <QCoreApplication>
#include <QDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QProgressBar>
#include <QStringList>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

#include <chrono>

namespace ingot::app {

namespace {

class DonorsDialog : public QDialog {
    Q_DECLARE_TR_FUNCTIONS(DonorsDialog)
public:
    DonorsDialog(QWidget* parent, Workshop& workshop, Id pack) : QDialog(parent), workshop_(workshop), pack_(pack) {
        setObjectName(QStringLiteral("donors"));
        setWindowTitle(tr("Donors"));
        resize(760, 560);
        auto* layout = new QVBoxLayout(this);
        summary_ = sentence({}, this);
        summary_->setObjectName(QStringLiteral("donors_summary"));
        summary_->setFont(type(17, true));
        layout->addWidget(summary_);
        auto* row = new QHBoxLayout;
        row->addWidget(caption(tr("groups of one pack within"), this));
        window_ = new QLineEdit(QStringLiteral("0.1"), this);
        window_->setObjectName(QStringLiteral("donors_window"));
        window_->setFixedWidth(70);
        window_->setAccessibleName(tr("Voltage window, V"));
        row->addWidget(window_);
        row->addWidget(caption(tr("V and"), this));
        tolerance_ = new QLineEdit(this);
        tolerance_->setObjectName(QStringLiteral("donors_tolerance"));
        tolerance_->setFixedWidth(70);
        tolerance_->setAccessibleName(tr("Capacity tolerance, %"));
        row->addWidget(tolerance_);
        row->addWidget(caption(tr("% of capacity (blank: any)"), this));
        one_model_ = new QCheckBox(tr("never two models in one pack"), this);
        one_model_->setObjectName(QStringLiteral("donors_one_model"));
        row->addWidget(one_model_);
        row->addStretch(1);
        to_open_ = new PressButton(tr("Left-over packs to Open"), this);
        to_open_->setObjectName(QStringLiteral("donors_to_open"));
        to_open_->setToolTip(tr("Packs that no plan completes are taken apart for their units"));
        row->addWidget(to_open_);
        layout->addLayout(row);
        auto* search = new QHBoxLayout;
        progress_ = new QProgressBar(this);
        progress_->setRange(0, 0);
        progress_->setTextVisible(false);
        progress_->setAccessibleName(tr("Planning"));
        stop_ = new PressButton(tr("Stop, keep the best"), this);
        stop_->setObjectName(QStringLiteral("donors_stop"));
        search->addWidget(progress_, 1);
        search->addWidget(stop_);
        layout->addLayout(search);
        progress_->hide();
        stop_->hide();
        table_ = new QTableWidget(0, columns, this);
        table_->setObjectName(QStringLiteral("donors_moves"));
        table_->setHorizontalHeaderLabels(
            {tr("into pack"), tr("place"), tr("from pack"), tr("its group"), tr("at rest"), tr("capacity")});
        table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
        table_->verticalHeader()->hide();
        table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
        table_->setSelectionBehavior(QAbstractItemView::SelectRows);
        table_->setAccessibleName(tr("Moves, in order"));
        layout->addWidget(table_, 1);
        step_ = sentence({}, this);
        step_->setObjectName(QStringLiteral("donors_step"));
        step_->setFont(type(15, true));
        layout->addWidget(step_);
        scan_ = new QLineEdit(this);
        scan_->setObjectName(QStringLiteral("donors_scan"));
        scan_->setPlaceholderText(tr("Scan the label of the pack that the group comes from"));
        scan_->setAccessibleName(tr("Scan"));
        layout->addWidget(scan_);
        auto* caution =
            sentence(tr("Packs are opened for this: every step and caution of Open comes first. Join groups "
                        "only inside the voltage window, never bridge two strips, and prove the pack "
                        "afterwards. Follow local codes."),
                     this);
        caution->setFont(type(13));
        layout->addWidget(caution);
        for (QLineEdit* field : {window_, tolerance_})
            connect(field, &QLineEdit::editingFinished, this, [this] {
                if (typed() != planned_for_) // leaving a field is no new question
                    plan();
            });
        connect(stop_, &PressButton::clicked, this, [this] { beside_->stop(); });
        connect(one_model_, &QCheckBox::toggled, this, [this] { plan(); });
        connect(to_open_, &PressButton::clicked, this, [this] { send_to_open(); });
        connect(scan_, &QLineEdit::returnPressed, this, [this] { scanned(); });
        beside_ = new Job(this);
        connect(beside_, &Job::failed, this,
                [this](const Problem& problem) { summary_->setText(QString::fromStdString(problem.text())); });
        plan();
        scan_->setFocus();
    }

    // A field that loses the focus while the dialog goes must not plan again.
    ~DonorsDialog() override {
        window_->disconnect(this);
        tolerance_->disconnect(this);
    }

private:
    struct Move {
        std::string into, from;
        Id into_id = 0, from_id = 0;
        int place = 0, group = 0;
        double volts = 0;
        std::optional<double> capacity_ah;
    };
    static constexpr int columns = 6;

    [[nodiscard]] QStringList typed() const { return {window_->text(), tolerance_->text()}; }

    void plan() {
        const Assembly* kind = workshop_.pack(pack_);
        const Chemistry* chemistry = kind != nullptr ? workshop_.library().chemistry(kind->chemistry) : nullptr;
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
        const auto question = std::make_shared<DonorQuestion>(workshop_.triage().donor_question(*kind));
        DonorRules rules;
        rules.cells_per_unit = kind->layout.cells_per_unit;
        rules.voltage_window_v = figures::typed(window_->text());
        constexpr double per_cent = 100;
        if (const auto tolerance = figures::typed(tolerance_->text()))
            rules.capacity_tolerance = *tolerance / per_cent;
        rules.one_model = one_model_->isChecked();
        summary_->setText(tr("Planning for %n packs …", nullptr, static_cast<int>(question->ids.size())));
        constexpr int soon_ms = 150;
        QTimer::singleShot(soon_ms, this, [this] {
            progress_->setVisible(beside_->busy());
            stop_->setVisible(beside_->busy());
        });
        using Planned = Result<DonorPlan>;
        beside_->begin<Planned>(
            [question, rules, chemistry = *chemistry](const Job::Token& token) {
                constexpr std::chrono::seconds patience(2);
                const auto until = std::chrono::steady_clock::now() + patience;
                return plan_donors(question->groups, chemistry, rules,
                                   [&] { return token.wanted() && std::chrono::steady_clock::now() < until; });
            },
            [this, question](const Planned& planned) { take(*question, planned); });
        show_step();
    }

    void take(const DonorQuestion& question, const Result<DonorPlan>& planned) {
        progress_->hide();
        stop_->hide();
        const QString waiting = question.unread > 0
                                    ? tr(" %n packs of this kind are not read through yet.", nullptr, question.unread)
                                    : QString();
        if (!planned) {
            summary_->setText((question.groups.empty() ? tr("No pack of this kind is read through yet.")
                                                       : QString::fromStdString(planned.problem().text())) +
                              waiting);
            show_step();
            return;
        }
        const DonorPlan& plan = planned.value();
        summary_->setText(tr("%1 of %2 packs can live, %n groups move; %3.%4", nullptr, plan.moved)
                              .arg(plan.packs_rebuilt())
                              .arg(question.ids.size())
                              .arg(plan.proved ? tr("no plan does better") : tr("the best found"), waiting));
        left_over_ = question.ids;
        for (const RebuiltPack& pack : plan.packs)
            left_over_.erase(pack.pack);
        for (const RebuiltPack& pack : plan.packs)
            for (const PlacedGroup& p : pack.groups) {
                const DonorGroup& from = question.groups[p.from];
                if (from.pack != pack.pack)
                    moves_.push_back({pack.pack, from.pack, question.ids.at(pack.pack), question.ids.at(from.pack),
                                      p.position, from.group, from.voltage_v, from.capacity_ah});
            }
        for (const Move& move : moves_) {
            const int row = table_->rowCount();
            table_->insertRow(row);
            const QString cells[columns] = {
                QString::fromStdString(move.into), QString::number(move.place),
                QString::fromStdString(move.from), QString::number(move.group),
                figures::volts(move.volts),        figures::or_dash(move.capacity_ah, figures::pack_capacity)};
            for (int c = 0; c < columns; ++c)
                table_->setItem(row, c, new QTableWidgetItem(cells[c]));
        }
        show_step();
    }

    void show_step() {
        // What is left over may go once nothing of it is wanted any more.
        to_open_->setEnabled(next_ == moves_.size() && !left_over_.empty() && workshop_.writable());
        scan_->setEnabled(next_ < moves_.size() && workshop_.writable());
        if (beside_->busy()) {
            step_->clear();
        } else if (moves_.empty()) {
            step_->setText(tr("Nothing to move."));
        } else if (next_ == moves_.size()) {
            step_->setText(tr("All moves are done. What is left over goes to Open."));
        } else {
            const Move& m = moves_[next_];
            table_->selectRow(static_cast<int>(next_));
            step_->setText(tr("Step %1 of %2: group %3 of %4 goes into place %5 of %6.")
                               .arg(next_ + 1)
                               .arg(moves_.size())
                               .arg(m.group)
                               .arg(QString::fromStdString(m.from))
                               .arg(m.place)
                               .arg(QString::fromStdString(m.into)));
        }
    }

    void send_to_open() {
        int sent = 0;
        for (const auto& [label, id] : left_over_) {
            const Assembly* pack = workshop_.pack(id);
            if (pack == nullptr || pack->state != AssemblyState::in_triage)
                continue;
            const auto done = workshop_.receive().set_state(id, AssemblyState::to_open);
            if (!done) {
                step_->setText(QString::fromStdString(done.problem().text()));
                return;
            }
            ++sent;
        }
        left_over_.clear();
        show_step();
        step_->setText(tr("%n packs went to Open.", nullptr, sent));
    }

    void scanned() {
        const QString label = scan_->text().trimmed();
        scan_->clear();
        if (next_ >= moves_.size() || label.isEmpty())
            return;
        const Move& m = moves_[next_];
        if (label.compare(QString::fromStdString(m.from), Qt::CaseInsensitive) != 0) {
            step_->setText(tr("\"%1\" is not the pack that this group comes from: %2 is. Nothing was recorded.")
                               .arg(label, QString::fromStdString(m.from)));
            return;
        }
        const auto done = workshop_.triage().move_group(m.from_id, m.group, m.into_id, m.place);
        if (!done) {
            step_->setText(QString::fromStdString(done.problem().text()));
            return;
        }
        for (int c = 0; c < columns; ++c)
            table_->item(static_cast<int>(next_), c)->setForeground(colours().muted);
        ++next_;
        show_step();
    }

    Workshop& workshop_;
    Id pack_;
    QLabel* summary_ = nullptr;
    QLabel* step_ = nullptr;
    QLineEdit* window_ = nullptr;
    QLineEdit* tolerance_ = nullptr;
    QLineEdit* scan_ = nullptr;
    QCheckBox* one_model_ = nullptr;
    PressButton* to_open_ = nullptr;
    PressButton* stop_ = nullptr;
    QProgressBar* progress_ = nullptr;
    Job* beside_ = nullptr;
    QStringList planned_for_;             // the fields' texts
    std::map<std::string, Id> left_over_; // packs that the plan does not complete
    QTableWidget* table_ = nullptr;
    std::vector<Move> moves_;
    std::size_t next_ = 0;
};

} // namespace

void show_donors(QWidget* parent, Workshop& workshop, Id pack) {
    DonorsDialog dialog(parent, workshop, pack);
    dialog.exec();
}

} // namespace ingot::app
