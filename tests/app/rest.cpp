// Units at rest in the real window: a reading round by scanner and keys, verdicts, what is kept.
#include "window.h"

#include "app/parts/choice_row.h"
#include "app/parts/record_table.h"
#include "app/parts/rest_picture.h"
#include "app/stations/rest/rest_station.h"
#include "workshop/models/rest_model.h"

#include <QLabel>

using namespace ingot;
using namespace ingot::tests;

namespace {

struct RestWindow : Window {
    RestWindow() {
        window.go_to(Station::rest);
        wait();
    }
    [[nodiscard]] app::RestStation& page() const {
        auto* page = qobject_cast<app::RestStation*>(window.current_view());
        REQUIRE(page != nullptr);
        return *page;
    }
    void wait() const {
        REQUIRE(wait_for([&] { return !page().judging(); }));
    }
    [[nodiscard]] app::RecordTable& table() const {
        return *page().findChild<app::RecordTable*>(QStringLiteral("resting_units"));
    }
    [[nodiscard]] RestModel& model() const { return *qobject_cast<RestModel*>(table().records()); }
};

} // namespace

TEST_CASE("A reading round walks the shelf; leakers of the demo are found") {
    RestWindow w;
    REQUIRE(w.model().rowCount() > 20);
    int leaking = 0;
    for (const RestingLine& line : w.model().shelf().lines)
        leaking += line.leak.verdict == LeakVerdict::leaking ? 1 : 0;
    CHECK(leaking >= 1);
    auto* which = w.page().findChild<app::ChoiceRow*>(QStringLiteral("rest_which"));
    emit which->button(2)->clicked(); // leaking
    w.settle();
    CHECK(w.table().model()->rowCount() == leaking);
    const Id leaker = w.table().filter()->id_at(0);
    w.table().select(leaker);
    emit w.table().chosen(leaker);
    w.settle();
    CHECK(w.page().findChild<QLabel*>(QStringLiteral("rest_words"))->text().contains(QStringLiteral("mV/day")));
    CHECK(w.page().findChild<app::RestPicture*>()->parts().size() > 5);
    // Scan a unit that the choice hides: it is shown.
    Id sound = 0;
    for (const RestingLine& line : w.model().shelf().lines)
        if (line.leak.verdict == LeakVerdict::fit)
            sound = line.unit;
    REQUIRE(sound != 0);
    w.scan(QString::fromStdString(w.shop().unit(sound)->code()));
    CHECK(w.table().selected() == sound);
    // Type its volts: durable, and the next one is chosen.
    const auto before = w.shop().ledger().counts().measurements;
    w.scan(QStringLiteral("3,6389"));
    CHECK(w.shop().ledger().counts().measurements == before + 1);
    const Measurement read = w.shop().test().history(sound).front();
    CHECK(read.value == Approx(3.6389));
    CHECK(*read.resolution == Approx(1e-4));
    // One that cannot be: refused, nothing kept.
    w.scan(QString::fromStdString(w.shop().unit(leaker)->code()));
    w.scan(QStringLiteral("38.1"));
    CHECK(w.shop().ledger().counts().measurements == before + 1);
    CHECK_FALSE(w.window.told().isEmpty());
    w.wait();
    for (QAction* action : w.page().commands())
        if (action->text().contains(QStringLiteral("Keep")))
            action->trigger();
    w.wait();
    CHECK(w.shop().ledger().counts().measurements > before + 1);
}
