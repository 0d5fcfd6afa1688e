#include "workshop/populations_wording.h"

#include "workshop/figures.h"
#include "workshop/rest_wording.h"
#include "workshop/translated.h"

namespace ingot::wording {

namespace {

constexpr double percent_of = 100;
constexpr double grams = 1000;

QString doubt(const Workshop& workshop, const DoubtfulLabel& label) {
    const UnitState* unit = workshop.unit(label.unit);
    const QString code = unit == nullptr ? QString() : QString::fromStdString(unit->code());
    const Suspect& s = label.suspect;
    switch (s.suspicion) {
    case Suspicion::holds_far_less:
        return tr("%1 holds %2 of the %3 that its model is rated, at more than twice the new resistance: worn out, or "
                  "never was that model.")
            .arg(code, figures::unit_capacity(s.measured), figures::unit_capacity(s.claimed));
    case Suspicion::holds_more:
        return tr("%1 holds %2, more than the %3 of its model: another model under that name?")
            .arg(code, figures::unit_capacity(s.measured), figures::unit_capacity(s.claimed));
    case Suspicion::too_light:
    case Suspicion::too_heavy:
        return tr("%1 weighs %2 g where its model weighs %3 g: look at what is under the sleeve.")
            .arg(code, figures::plain(s.measured * grams, 1), figures::plain(s.claimed * grams, 1));
    }
    return {};
}

} // namespace

QString chance(const ShareOf& share) {
    return tr("%1 (%2 to %3)")
        .arg(figures::percent(share.mean, 0), figures::plain(share.low * percent_of, 0),
             figures::plain(share.high * percent_of, 0));
}

QStringList what_stands_out(const Workshop& workshop, const PopulationAnswer& answer) {
    QStringList out;
    constexpr std::size_t most_of_a_kind = 6;
    for (std::size_t i = 0; i < std::min(most_of_a_kind, answer.instruments.size()); ++i) {
        const InstrumentDoubt& doubt = answer.instruments[i];
        out << tr("%1 reads %2 %3 % above %4 (\u00B1 %5 %, %6 units read by both). Hold both against a third.")
                   .arg(QString::fromStdString(doubt.gap.instrument),
                        doubt.resistance ? tr("resistance") : tr("capacity"),
                        figures::plain((doubt.gap.ratio - 1) * percent_of, 1),
                        QString::fromStdString(doubt.gap.against),
                        figures::plain(doubt.gap.uncertainty * percent_of, 1))
                   .arg(doubt.gap.units);
    }
    for (std::size_t i = 0; i < std::min(most_of_a_kind, answer.shared.size()); ++i) {
        const SharedTrait& shared = answer.shared[i];
        out << tr("%1 of %2 units that failed are of %3, which %4 of all %5 are: it is that, more than each unit.")
                   .arg(shared.odd_with)
                   .arg(shared.odd)
                   .arg(trait(shared.trait))
                   .arg(shared.with)
                   .arg(shared.all);
    }
    for (std::size_t i = 0; i < std::min(most_of_a_kind, answer.doubtful.size()); ++i)
        out << doubt(workshop, answer.doubtful[i]);
    if (answer.doubtful.size() > most_of_a_kind)
        out << tr("%1 more labels are doubtful.").arg(answer.doubtful.size() - most_of_a_kind);
    return out;
}

} // namespace ingot::wording
