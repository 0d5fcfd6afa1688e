#include "app/stations/prove/field_view.h"

#include "app/parts/field_picture.h"
#include "app/parts/panel.h"
#include "app/parts/reading_boxes.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/prove_wording.h"
#include "workshop/returned_pack.h"
#include "workshop/triage_wording.h"
#include "workshop/wording.h"

#include <QLabel>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

FieldView::FieldView(Workshop& workshop, QWidget* parent) : QWidget(parent), workshop_(workshop) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* round = new Panel(tr("Read again"), this);
    words_ = sentence({}, round);
    words_->setObjectName(QStringLiteral("field_words"));
    round->body()->addWidget(words_);
    boxes_ = new ReadingBoxes(round);
    round->body()->addWidget(boxes_);
    outer->addWidget(round);
    auto* trend = new Panel(tr("Groups against the middle one, a cell"), this);
    picture_ = new FieldPicture(trend);
    trend->body()->addWidget(picture_, 1);
    outer->addWidget(trend, 1);
    job_ = new Job(this);
    job_->setObjectName(QStringLiteral("explaining")); // what is shown follows it
    connect(boxes_, &ReadingBoxes::chosen, this, [this](int index) { choose_group(index + 1); });
    connect(picture_, &FieldPicture::group_chosen, this, &FieldView::choose_group);
}

void FieldView::show_pack(Id pack) {
    const bool another = pack != pack_.pack.id;
    pack_ = workshop_.prove().field(pack);
    if (another)
        active_ = first_empty();
    active_ = std::clamp(active_, 0, std::max(0, pack_.pack.layout.series - 1));
    if (pack_.rounds.empty())
        words_->setText(tr("At rest, an hour or more after use: every group in order."));
    else
        words_->setText(tr("%n rounds so far, the last on %1.", nullptr, static_cast<int>(pack_.rounds.size()))
                            .arg(QString::fromStdString(pack_.read_at.back()).left(10)) +
                        QLatin1Char(' ') +
                        (pack_.next_at.empty()
                             ? QString()
                             : tr("Again on %1.").arg(QString::fromStdString(pack_.next_at).left(10))));
    show_boxes();
    picture_->set(pack_, active_ + 1);
    explain_return();
}

// Beside the window; once for each figure.
void FieldView::explain_return() {
    auto asked = workshop_.prove().returned_case(pack_.pack.id);
    if (!asked) {
        job_->drop();
        explained_.reset();
        asked_of_ = 0;
        return;
    }
    if (asked_of_ == pack_.last)
        return;
    asked_of_ = pack_.last;
    asked_ = asked->known;
    explained_.reset();
    job_->begin<Explained>([asked = std::move(*asked)](const Job::Token&) { return why_it_came_back(asked); },
                           [this](const Explained& made) {
                               explained_ = made;
                               emit explained();
                           });
}

void FieldView::say_return(EvidenceContent& content) const {
    if (pack_.pack.state != AssemblyState::returned || pack_.pack.came_in())
        return;
    if (!explained_) {
        content.tell_apart = job_->busy() ? tr("What explains it is being weighed …")
                                          : tr("It came back: read every group at rest, then it is explained.");
        return;
    }
    constexpr double least = 0.04;
    for (const Explanation& e : explained_->explanations)
        if (e.probability >= least)
            content.explanations.push_back({e.groups.empty()
                                                ? wording::fault(e.fault)
                                                : tr("%1, %2").arg(wording::fault(e.fault), wording::groups(e.groups)),
                                            e.probability, wording::reason(e, asked_)});
    if (explained_->settle_by)
        content.tell_apart = wording::next_reading(*explained_->settle_by);
    content.ways.push_back({tr("Back to Build"),
                            tr("Its joints and units are on record: opened at the joint that is meant, mended, proved "
                               "anew. Or a balance, where only the charge is apart."),
                            true});
}

void FieldView::refresh() {
    show_pack(pack_.pack.id);
}

// Of the round that still takes figures; else the first, of the next one.
int FieldView::first_empty() const {
    if (!pack_.open)
        return 0;
    const auto& read = pack_.rounds.back().group_v;
    const auto empty = std::find_if(read.begin(), read.end(), [](const auto& v) { return !v; });
    return empty == read.end() ? 0 : static_cast<int>(empty - read.begin());
}

void FieldView::show_boxes(const QString& typed) {
    std::vector<ReadingBox> out;
    for (int g = 0; g < pack_.pack.layout.series && pack_.pack.id != 0; ++g) {
        ReadingBox box;
        box.title = tr("Group %1").arg(g + 1);
        if (!pack_.rounds.empty()) {
            const auto i = static_cast<std::size_t>(g);
            const auto& volts = pack_.rounds.back().group_v[i];
            const auto& away = pack_.trend.points.back().from_middle_v[i];
            const bool next = !pack_.open && g == active_; // what is typed begins another round
            box.value = volts && !next ? figures::plain(*volts, 3) : QString();
            box.below = away ? figures::millivolts_signed(*away) : QString();
            box.warned = pack_.trend.lowest == g;
        }
        out.push_back(std::move(box));
    }
    boxes_->set(std::move(out));
    boxes_->set_active(pack_.pack.id != 0 ? active_ : -1, typed);
}

void FieldView::choose_group(int group) {
    active_ = group - 1;
    show_boxes();
    picture_->set(pack_, group);
    emit group_changed();
}

void FieldView::next_group() {
    if (pack_.pack.layout.series > 0)
        choose_group((active_ + 1) % pack_.pack.layout.series + 1);
}

Result<Id> FieldView::take(double volts, const QString& line) {
    auto kept = workshop_.prove().record_in_field(pack_.pack.id, active_ + 1, volts, figures::last_digit(line));
    if (!kept)
        return kept;
    refresh();
    choose_group(first_empty() + 1);
    return kept;
}

Result<bool> FieldView::strike_last() {
    if (pack_.last == 0)
        return Problem{"", 0, said("Nothing was read since it left.")};
    const int group = active_;
    auto done = workshop_.prove().strike(pack_.last, "typed wrong");
    if (done) {
        active_ = std::max(0, group - 1);
        refresh();
        emit group_changed();
    }
    return done;
}

void FieldView::echo(const QString& typed) {
    show_boxes(typed);
}

EvidenceContent FieldView::evidence() const {
    EvidenceContent content;
    if (pack_.pack.id == 0)
        return content;
    content.subject = tr("%1 in the field").arg(QString::fromStdString(pack_.pack.label));
    content.verdict = wording::field_state(pack_.trend.state);
    content.line = (pack_.balanced ? tr("balanced on %1") : tr("into service on %1"))
                       .arg(QString::fromStdString(pack_.since_at).left(10));
    content.notes = wording::field_reasons(pack_);
    if (const Chemistry* chemistry = workshop_.library().chemistry(pack_.pack.chemistry))
        content.notes << wording::storage_care(chemistry->storage);
    say_return(content);
    content.hand_title = pack_.next_at.empty()
                             ? tr("On the bench")
                             : tr("Read it again on %1").arg(QString::fromStdString(pack_.next_at).left(10));
    content.hand_line = wording::field_what_to_do(pack_);
    content.caution = "field";
    content.decided_by = tr("3 % of charge between the groups wants a balance");
    return content;
}

} // namespace ingot::app
