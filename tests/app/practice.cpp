// The practice bench in the window: three deals of three kinds, by keys; nothing of it reaches the workshop.
#include "window.h"

#include "app/parts/deal_lanes.h"
#include "app/parts/practice_cards.h"
#include "app/parts/stated_picture.h"
#include "app/parts/yield_bars.h"
#include "app/rooms/book_page.h"
#include "app/rooms/practice_page.h"
#include "exchange/practice_csv.h"
#include "exchange/text_file.h"

#include <QComboBox>
#include <QFile>
#include <QFileDialog>
#include <QLineEdit>
#include <QSpinBox>

using namespace ingot;
using namespace ingot::tests;

namespace {

app::PracticePage& practice(Window& w) {
    QFile::remove(app::PracticePage::scores_file());
    w.key(Qt::Key_P, Qt::ControlModifier | Qt::ShiftModifier);
    auto* page = qobject_cast<app::PracticePage*>(w.window.view(app::Room::practice));
    REQUIRE(page != nullptr);
    REQUIRE(w.window.current_view() == page);
    return *page;
}

void choose(Window& w, const char* name, int index) {
    auto* box = w.find<QComboBox>(name);
    REQUIRE(box->isEnabled());
    box->setCurrentIndex(index);
    w.settle();
}

int index_of_fault(Window& w, Fault fault) {
    const int at = w.find<QComboBox>("practice_fault_0")->findData(static_cast<int>(fault));
    REQUIRE(at > 0);
    return at;
}

} // namespace

TEST_CASE("Practice: a pack is measured by card numbers, answered rightly, and explained; the shop is as it was") {
    Window w;
    const auto all_in = [&] {
        const LedgerCounts c = w.shop().ledger().counts();
        return std::vector{c.lots, c.packs, c.units, c.measurements, c.runs, c.builds};
    };
    const auto before = all_in();
    app::PracticePage& page = practice(w);
    // A deal with one plain fault in a group, by its number.
    int seed = 0;
    while (PackDeal(1, seed).truth().size() != 1 || PackDeal(1, seed).truth().front().fault != Fault::leaking_cell)
        ++seed;
    w.scan(QString::fromStdString(PackDeal(1, seed).number()));
    REQUIRE(page.bench().pack().seed() == seed);
    CHECK(page.bench().spent_min() == 0);
    w.scan(QStringLiteral("1"));
    w.scan(QStringLiteral("2"));
    CHECK(page.bench().spent_min() ==
          Approx(cost_of(PracticeMeasure::rest_round, page.bench().pack().layout()).hands_min + 1));
    w.scan(QStringLiteral("1")); // not twice
    CHECK(w.window.told().contains(QStringLiteral("already")));
    // Without an answer nothing is judged.
    w.key(Qt::Key_Return, Qt::ControlModifier);
    CHECK_FALSE(page.answered());
    CHECK(w.window.told().contains(QStringLiteral("how sure")));
    page.cards()->setFocus();
    QTest::keyClick(page.cards(), Qt::Key_Down);
    CHECK(page.cards()->chosen() == 4); // under the first card
    const HiddenFault truth = page.bench().pack().truth().front();
    choose(w, "practice_fault_0", index_of_fault(w, truth.fault));
    choose(w, "practice_group_0", truth.group - 1);
    w.find<QSpinBox>("practice_sure_0")->setValue(90);
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(w.wait_for([&] { return page.answered(); }));
    CHECK(page.score()->right == Approx(60 * (1 - 2 * 0.01)));
    CHECK(page.score()->safety == 20);
    CHECK(page.evidence().line.contains(QStringLiteral("group %1").arg(truth.group)));
    CHECK(page.evidence().verdict.endsWith(QStringLiteral("of 100")));
    // Once answered, nothing more is taken; the score is kept.
    const double spent = page.bench().spent_min();
    w.scan(QStringLiteral("3"));
    CHECK(page.bench().spent_min() == spent);
    const auto kept =
        exchange::read_practice(exchange::read_text(app::PracticePage::scores_file().toStdString()).value(), "scores");
    REQUIRE(kept);
    REQUIRE(kept.value().size() == 1);
    CHECK(kept.value().front().kind == "what-is-wrong");
    CHECK(kept.value().front().score.total() == Approx(page.score()->total()).margin(1e-3));
    CHECK(all_in() == before);
    w.key(Qt::Key_Escape);
    CHECK(w.window.current_view() != &page);
}

TEST_CASE("Practice: leaking or not answered wrongly costs safety; go on cycling shows how it went on") {
    Window w;
    app::PracticePage& page = practice(w);
    int seed = 0;
    while (!LeakDeal(2, seed).leaks())
        ++seed;
    page.deal(PracticeCase::leaking, 2, seed);
    w.settle();
    w.scan(QStringLiteral("3")); // a week later
    CHECK(page.bench().spent_min() == Approx(4));
    choose(w, "practice_verdict", 1); // "it is fit"
    w.find<QSpinBox>("practice_sure_0")->setValue(80);
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(page.answered());
    CHECK(page.score()->safety == 0); // a leaker let through
    CHECK(page.score()->right == 0);
    CHECK(page.evidence().line.contains(QStringLiteral("leaks")));

    seed = 0;
    while (!CyclingDeal(1, seed).reaches())
        ++seed;
    page.deal(PracticeCase::cycling, 1, seed);
    w.settle();
    CHECK_FALSE(page.answered());
    w.scan(QStringLiteral("2")); // three more cycles
    CHECK(page.bench().spent_min() == Approx(6));
    choose(w, "practice_verdict", 0);
    w.find<QSpinBox>("practice_sure_0")->setValue(100);
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(page.answered());
    CHECK(page.score()->right == Approx(60));
    CHECK(page.score()->total() == Approx(100));
    // The next number, and the same again.
    w.key(Qt::Key_N, Qt::AltModifier);
    CHECK_FALSE(page.answered());
    const auto kept =
        exchange::read_practice(exchange::read_text(app::PracticePage::scores_file().toStdString()).value(), "scores");
    REQUIRE(kept);
    CHECK(kept.value().size() == 2);
}

TEST_CASE("Practice: which match is answered by keys after what had to be known; another is answered wrongly") {
    Window w;
    app::PracticePage& page = practice(w);
    int seed = 0;
    while (MatchDeal(3, seed).needed_min() == 0)
        ++seed;
    choose(w, "practice_case", 3);
    emit w.find<QComboBox>("practice_case")->activated(3);
    w.settle();
    REQUIRE(page.bench().kind() == PracticeCase::which_match);
    w.scan(QString::fromStdString(PackDeal(3, seed).number()));
    REQUIRE(page.bench().kind() == PracticeCase::which_match);
    auto* lanes = page.findChild<app::DealLanes*>();
    REQUIRE(lanes->parts().size() == 3);
    CHECK_FALSE(lanes->parts()[0].value.contains(QStringLiteral("mAh a day")));
    w.scan(QStringLiteral("1"));
    w.scan(QStringLiteral("2"));
    CHECK(lanes->parts()[0].value.contains(QStringLiteral("mAh a day")));
    CHECK_FALSE(lanes->parts()[0].value.contains(QStringLiteral("gives"))); // not before it is answered
    w.scan(QStringLiteral("2"));
    CHECK(w.window.told().contains(QStringLiteral("known already")));
    choose(w, "practice_verdict", page.bench().match().best());
    w.find<QSpinBox>("practice_sure_0")->setValue(90);
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(page.answered());
    CHECK(page.score()->right == Approx(60 * (1 - 2 * 0.01)));
    CHECK(lanes->parts()[0].value.contains(QStringLiteral("gives")));
    CHECK(page.evidence().line.contains(QStringLiteral("set %1").arg(QChar(u'A' + page.bench().match().best()))));
    // The next one wrongly: sure and wrong gains nothing.
    w.key(Qt::Key_N, Qt::AltModifier);
    choose(w, "practice_verdict", (page.bench().match().best() + 1) % 3);
    w.find<QSpinBox>("practice_sure_0")->setValue(95);
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(page.answered());
    CHECK(page.score()->right == 0);
}

TEST_CASE("Practice: an instructor's case comes from a file, each card says afterwards what it would have told") {
    Window w;
    app::PracticePage& page = practice(w);
    const std::string path = w.file("own.toml");
    REQUIRE(exchange::write_text(path, "title = \"mower row\"\nseries = 5\nparallel = 3\ncapacity_ah = 7.5\n"
                                       "[[fault]]\nkind = \"high-resistance-joint\"\ngroup = 4\n"));
    Window::answer_file(path);
    w.window.activateWindow();
    w.command(QStringLiteral("A case of your own"));
    w.window.activateWindow();
    w.settle();
    REQUIRE(page.bench().pack().own());
    CHECK(page.evidence().subject.contains(QStringLiteral("mower row")));
    CHECK_FALSE(w.find<QComboBox>("practice_level")->isEnabled());
    w.scan(QStringLiteral("1"));
    w.scan(QStringLiteral("3"));
    choose(w, "practice_fault_0", index_of_fault(w, Fault::high_resistance_joint));
    choose(w, "practice_group_0", 3);
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(w.wait_for([&] { return page.answered(); }));
    CHECK(page.cards()->parts()[2].value.contains(QStringLiteral("tells")));
    // The same again is unanswered; what is no case is objected to and the deal stays.
    w.command(QStringLiteral("Same again"));
    CHECK_FALSE(page.answered());
    CHECK(page.bench().pack().own());
    REQUIRE(exchange::write_text(path, "title = \"x\"\n"));
    page.deal_file(QString::fromStdString(path));
    CHECK_FALSE(w.window.told().isEmpty());
    CHECK(page.bench().pack().number() == "mower row");
    w.command(QStringLiteral("Next deal"));
    CHECK_FALSE(page.bench().pack().own());
}

TEST_CASE("Practice scores that cannot be read are objected to, not written over") {
    Window w;
    app::PracticePage& page = practice(w);
    REQUIRE(exchange::write_text(app::PracticePage::scores_file().toStdString(), "not a table of scores\n1\n"));
    page.deal(PracticeCase::cycling, 1, 3);
    w.key(Qt::Key_Return, Qt::ControlModifier);
    CHECK_FALSE(w.window.told().isEmpty());
    CHECK(exchange::read_text(app::PracticePage::scores_file().toStdString()).value() == "not a table of scores\n1\n");
}

TEST_CASE("The shop's book: a row a lot, walked by keys, selected by a lot's label, said aloud") {
    Window w;
    w.key(Qt::Key_B, Qt::ControlModifier | Qt::ShiftModifier);
    auto* book = qobject_cast<app::BookPage*>(w.window.view(app::Room::book));
    REQUIRE(w.window.current_view() == book);
    REQUIRE(book->book().lots.size() >= 4);
    CHECK(book->bars()->parts().size() == book->book().lots.size());
    CHECK(book->bars()->chosen() == 0);
    book->bars()->setFocus();
    QTest::keyClick(book->bars(), Qt::Key_Down);
    CHECK(book->bars()->chosen() == 1);
    CHECK(book->evidence().subject == QString::fromStdString(book->book().lots[1].label));
    w.scan(QStringLiteral("MOW-05"));
    CHECK(book->evidence().subject == QStringLiteral("MOW-05"));
    CHECK(book->evidence().verdict.endsWith(QStringLiteral("fit")));
    // As a table and on paper.
    const std::string pdf = w.file("book.pdf");
    REQUIRE(book->write_pdf_to(QString::fromStdString(pdf)));
    CHECK(exchange::read_text(pdf).value().substr(0, 4) == "%PDF");
    CHECK_FALSE(book->write_pdf_to(QStringLiteral("/nowhere/book.pdf")));
    // N51: how sure Ingot was against what packs turned out to be.
    auto* stated = book->findChild<app::StatedPicture*>();
    REQUIRE(stated != nullptr);
    REQUIRE(stated->parts().size() == stated_bin_count);
    for (const app::PaintedPart& part : stated->parts())
        CHECK(part.value == QStringLiteral("no pack yet"));
    Explained said;
    Explanation dead;
    dead.fault = Fault::dead_group;
    dead.groups = {1};
    dead.probability = 0.93;
    said.explanations.push_back(dead);
    const Id pack = w.shop().packs().front().id;
    REQUIRE(w.shop().triage().record_outcome(pack, {{Fault::dead_group, {1}}}, said));
    w.settle();
    CHECK(stated->parts().back().value.contains(QStringLiteral("1 of 1 right")));
    CHECK(book->evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("Of 1 pack it is known")));
    w.key(Qt::Key_Escape);
    CHECK(w.window.current_view() != book);
}
