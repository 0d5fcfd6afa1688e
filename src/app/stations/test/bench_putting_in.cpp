// Unit, bay, yes: how a unit comes onto a bay of the tester, and how it leaves it.
#include "app/parts/bay_wall.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/stations/test/bench_view.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

// A scanner may read one label twice at once; that is no yes.
constexpr int twice_at_once_ms = 500;

} // namespace

void BenchView::add_offer(QVBoxLayout* outer) {
    offer_ = new Panel({}, this);
    offer_->set_kind(Panel::Kind::hand);
    offer_->setObjectName(QStringLiteral("offer"));
    auto* row = new QHBoxLayout;
    offer_words_ = new QLabel(offer_);
    offer_words_->setObjectName(QStringLiteral("offer_words"));
    offer_words_->setFont(type(14));
    offer_words_->setWordWrap(true);
    row->addWidget(offer_words_, 1);
    auto* start = new PressButton(tr("Start"), offer_, true);
    start->setObjectName(QStringLiteral("offer_start"));
    auto* leave = new PressButton(tr("Not now"), offer_);
    leave->setObjectName(QStringLiteral("offer_leave"));
    for (PressButton* button : {start, leave})
        row->addWidget(button);
    connect(start, &PressButton::clicked, this, &BenchView::take_offer);
    connect(leave, &PressButton::clicked, this, &BenchView::withdraw_offer);
    offer_->body()->addLayout(row);
    offer_->hide();
    outer->addWidget(offer_);
}

std::string BenchView::protocol_for(const OnChannel& on) const {
    std::string protocol = protocol_->currentData().toString().toStdString();
    if (protocol.empty())
        for (const auto& waiting : schedule_.queue())
            if (on == OnChannel(waiting.unit))
                protocol = waiting.protocol;
    return protocol.empty() ? bays_.usual_protocol(on) : protocol;
}

// An offer stands until it is taken, withdrawn, or its bay or unit went elsewhere.
void BenchView::show_offer() {
    const BayView* bay = bays_.bay(offered_bay_);
    const bool stands = offered() && known_on(workshop_, offered_on_) && bay != nullptr && bay->look == BayLook::free;
    if (!stands)
        offered_bay_ = 0;
    offer_->setVisible(stands);
    if (!stands)
        return;
    const Protocol* protocol = workshop_.library().protocol(protocol_for(offered_on_));
    const QString name = protocol != nullptr ? QString::fromStdString(protocol->name) : tr("no protocol");
    const double hours = protocol != nullptr ? predicted_hours(*protocol, bays_.bay_unit(offered_on_)) : 0;
    offer_words_->setText(tr("<b>%1 into bay %2</b>: %3, about %4 h. Clips on, the right way round, nothing beside it "
                             "that burns? Scan B%2 again, type yes, or press Start.")
                              .arg(QString::fromStdString(code_on(workshop_, offered_on_)))
                              .arg(offered_bay_)
                              .arg(name, figures::plain(hours, 1)));
}

void BenchView::offer(const OnChannel& on, int bay) {
    const auto protocol = workshop_.library().protocol(protocol_for(on));
    if (const auto problem = bays_.may_not_start(on, bay, protocol)) {
        emit told(wording::sentence(problem->sentence), true);
        return;
    }
    offered_on_ = on;
    offered_bay_ = bay;
    offered_since_.start();
    wall_->choose(bay);
    show_offer();
}

void BenchView::withdraw_offer() {
    offered_bay_ = 0;
    show_offer();
}

void BenchView::take_offer() {
    if (!offered())
        return;
    const int bay = offered_bay_;
    const auto done = bays_.put_in(offered_on_, bay, protocol_for(offered_on_));
    withdraw_offer();
    if (!done) {
        emit told(wording::sentence(done.problem().sentence), true);
        return;
    }
    wall_->choose(bay);
    plan_stale_ = true;
    if (planned_)
        plan();
}

void BenchView::bay_pressed(int bay) {
    const BayView* view = bays_.bay(bay);
    if (view == nullptr || view->look != BayLook::free)
        bay_scanned(bay, unit_);
    else if (unit_ != 0)
        offer(unit_, bay);
}

void BenchView::bay_scanned(int bay, Id unit) {
    const BayView* scanned = bays_.bay(bay);
    if (scanned == nullptr) {
        emit told(bays_.bays().empty() ? tr("No tester is on the bench. Attach one first.")
                                       : tr("There is no bay %1.").arg(bay),
                  true);
        return;
    }
    const BayView& view = *scanned;
    if (view.look == BayLook::lift_out || (view.look == BayLook::stopped && chosen_bay() == bay)) {
        lift_out(bay);
        return;
    }
    const bool others = offered_on_.several() || offered_on_.assembly != 0; // they stand by themselves
    if (view.look == BayLook::free && (unit != 0 || (others && offered_bay_ == bay))) {
        if (offered_bay_ != bay || (!others && offered_on_ != OnChannel(unit)))
            offer(unit, bay);
        else if (offered_since_.elapsed() > twice_at_once_ms)
            take_offer();
        return;
    }
    choose_bay(bay);
}

void BenchView::lift_out(int bay) {
    const BayView* view = bays_.bay(bay);
    const bool unconfirmed = view != nullptr && (view->look == BayLook::in_doubt ||
                                                 (view->look == BayLook::running && view->silent && view->stop_asked));
    if (unconfirmed) {
        QuestionBox box(
            this, tr("Clear a bay in doubt"),
            tr("The tester did not say whether current flows in bay %1. Have you looked, and is the unit off "
               "its clips or the tester switched off?")
                .arg(bay));
        if (!box.ask())
            return;
    }
    const auto done = bays_.lift_out(bay);
    if (!done)
        emit told(wording::sentence(done.problem().sentence), true);
    else if (planned_)
        plan();
}

} // namespace ingot::app
