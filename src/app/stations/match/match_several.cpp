// Match over several builds: adding them, their order, reserving for all that are met.
#include "app/parts/questions.h"
#include "app/parts/wanted_question.h"
#include "app/stations/match/match_station.h"
#include "app/stations/match/several_view.h"
#include "workshop/build_wording.h"
#include "workshop/wording.h"

#include <QMessageBox>
#include <QStackedWidget>

namespace ingot::app {

void MatchStation::add_build_commands() {
    const auto mode = [this](const QString& text, const QString& tip, bool several) {
        QAction* action =
            add_command(text, QKeySequence::mnemonic(text), tip, [this, several] { show_several(several); });
        action->setCheckable(true);
        return action;
    };
    one_mode_ = mode(tr("O&ne build"), tr("Units for one build, group by group"), false);
    several_mode_ = mode(tr("Several &builds"), tr("All builds that want units, over one stock"), true);
    add_build_ = add_command(tr("&Add a build…"), {}, tr("A build that wants units: what for, its groups, its Ah"),
                             [this] { add_build(); });
    add_refill_ =
        add_command(tr("Refill a pa&ck…"), {}, tr("A pack that was opened in part: new groups for its empty places"),
                    [this] { add_refill(); });
    earlier_ = add_command(tr("Serve earl&ier"), QKeySequence(tr("Ctrl+Up")), tr("Before the build above it"), [this] {
        const Id build = several_view_->chosen_build();
        do_step(
            tr("serve earlier"), [this, build] { return workshop().build().serve(build, -1); },
            [this, build] { return workshop().build().serve(build, 1); });
    });
    later_ = add_command(tr("Serve la&ter"), QKeySequence(tr("Ctrl+Down")), tr("After the build below it"), [this] {
        const Id build = several_view_->chosen_build();
        do_step(
            tr("serve later"), [this, build] { return workshop().build().serve(build, 1); },
            [this, build] { return workshop().build().serve(build, -1); });
    });
    drop_build_ = add_command(tr("&Drop the build…"), {}, tr("It wants no units any more"), [this] {
        const Assembly* build = workshop().build_of(several_view_->chosen_build());
        if (build != nullptr &&
            QMessageBox::question(this, tr("Drop the build"),
                                  tr("Drop %1? It holds no units; its design is kept in the Ledger.")
                                      .arg(QString::fromStdString(build->label))) == QMessageBox::Yes)
            fine(workshop().build().give_up(build->id));
    });
    reserve_met_ = add_command(tr("Reserve all that are &met"), QKeySequence(tr("Ctrl+Shift+Return")),
                               tr("Every build that gets what it wants takes its units"), [this] { reserve_met(); });
}

void MatchStation::show_several(bool several) {
    several_ = several;
    stack_->setCurrentIndex(several ? 1 : 0);
    // What is out of sight asks for no room.
    for (int i = 0; i < stack_->count(); ++i) {
        const auto policy = i == stack_->currentIndex() ? QSizePolicy::Preferred : QSizePolicy::Ignored;
        stack_->widget(i)->setSizePolicy(policy, policy);
    }
    stop_->setEnabled(searching());
    refresh();
    emit hint_changed();
    emit evidence_changed();
}

void MatchStation::add_build() {
    const auto wanted = ask_wanted_build(this, tr("Add a build"));
    if (!wanted)
        return;
    const auto id = workshop().build().begin(*wanted);
    if (!fine(id))
        return;
    show_several(true);
    several_view_->choose(id.value());
}

void MatchStation::add_refill() {
    const auto refills = workshop().build().refills();
    if (refills.empty()) {
        emit told(tr("No pack under repair has an empty place that nothing is begun for. Open one in part first: the "
                     "bad groups come out, the rest stays."),
                  true);
        return;
    }
    QStringList packs;
    for (const auto& refill : refills) {
        const Assembly* pack = workshop().pack(refill.pack);
        packs << tr("%1, %2: %3")
                     .arg(QString::fromStdString(pack->label), wording::layout(pack->layout),
                          wording::places(refill.groups));
    }
    const auto chosen = ask_choice(this, tr("Refill a pack"), tr("Which pack gets new groups"), packs);
    if (!chosen)
        return;
    const auto id = workshop().build().begin_refill(refills[static_cast<std::size_t>(*chosen)].pack);
    if (!fine(id))
        return;
    show_several(true);
    several_view_->choose(id.value());
}

void MatchStation::reserve_met() {
    const auto done = several_view_->reserve_met();
    if (!fine(done))
        return;
    emit told(tr("Units of %n builds are reserved; Build leads to their trays.", nullptr, done.value()), false);
    refresh();
}

} // namespace ingot::app
