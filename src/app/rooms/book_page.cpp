#include "app/rooms/book_page.h"

#include "app/parts/panel.h"
#include "app/parts/stated_picture.h"
#include "app/parts/yield_bars.h"
#include "app/print/record_sheet.h"
#include "app/theme/theme.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/triage_wording.h"
#include "workshop/wording.h"

#include <QFileDialog>
#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

namespace {
QString watt_hours(double wh) {
    return BookPage::tr("%1 Wh").arg(figures::plain(wh, 0));
}
} // namespace

BookPage::BookPage(Workshop& workshop, QWidget* parent) : Page(workshop, parent) {
    setObjectName(QStringLiteral("book_page"));
    QAction* csv =
        add_command(tr("The book as &CSV…"), {}, tr("Lots, packs and recycling as a table"), [this] { write_csv(); });
    QAction* pdf = add_command(tr("The book as &PDF…"), {}, tr("Lots, packs, jobs and recycling on paper"),
                               [this] { write_pdf(); });
    add_way_back();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* top = new Panel(tr("The shop's book"), this);
    top->head()->addWidget(new PressButton(csv, top));
    top->head()->addWidget(new PressButton(pdf, top));
    auto* row = new QHBoxLayout;
    row->setSpacing(18);
    kept_ = new Figure(tr("fit of all that have a verdict"), top, 28);
    stock_ = new Figure(tr("fit and in stock"), top);
    out_ = new Figure(tr("in packs that were joined"), top);
    gone_ = new Figure(tr("to recycling"), top);
    hours_ = new Figure(tr("hours of hands, noted"), top);
    for (Figure* figure : {kept_, stock_, out_, gone_, hours_})
        row->addWidget(figure);
    row->addStretch(1);
    top->body()->addLayout(row);
    outer->addWidget(top);
    auto* lots = new Panel(tr("What each lot gave"), this);
    none_ = sentence(tr("Nothing has been opened yet. What lots give stands here as soon as their units have codes."),
                     lots);
    lots->body()->addWidget(none_);
    bars_ = new YieldBars;
    auto* area = new QScrollArea(lots);
    area->setFrameShape(QFrame::NoFrame);
    area->setWidgetResizable(true);
    area->setWidget(bars_);
    area->setFocusPolicy(Qt::NoFocus);
    area->viewport()->setAutoFillBackground(false);
    bars_->setAutoFillBackground(false);
    lots->body()->addWidget(area, 1);
    outer->addWidget(lots, 1);
    auto* below = new QHBoxLayout;
    below->setSpacing(8);
    auto* packs = new Panel(tr("Packs that went out"), this);
    packs_ = sentence({}, packs);
    packs->body()->addWidget(packs_);
    packs->body()->addStretch(1);
    below->addWidget(packs, 1);
    auto* said = new Panel(tr("How sure Ingot was, and how often it was right"), this);
    stated_ = new StatedPicture(said);
    said->body()->addWidget(stated_);
    below->addWidget(said, 1);
    outer->addLayout(below);
    connect(bars_, &YieldBars::chosen_changed, this, &Page::evidence_changed);
}

void BookPage::refresh() {
    book_ = shop_book(workshop());
    std::vector<YieldBar> bars;
    int fit = 0;
    int judged = 0;
    for (const BookLot& lot : book_.lots) {
        fit += lot.fit();
        judged += lot.fit() + lot.lost;
        YieldBar bar;
        bar.name = lot.label.empty() ? tr("of no lot") : QString::fromStdString(lot.label);
        bar.below = QString::fromStdString(lot.source);
        bar.drive = lot.drive;
        bar.store = lot.store;
        bar.light = lot.light;
        bar.waiting = lot.waiting;
        bar.lost = lot.lost;
        bar.yield = lot.yield() ? figures::percent(*lot.yield(), 0) : QString(QChar(0x2013));
        bar.kept = watt_hours(lot.kept_wh);
        bars.push_back(std::move(bar));
    }
    bars_->set(std::move(bars));
    none_->setVisible(judged == 0);
    kept_->set(judged > 0 ? figures::percent(static_cast<double>(fit) / judged, 0) : QString(QChar(0x2013)),
               tr("%1 of %2 units").arg(fit).arg(judged));
    stock_->set(watt_hours(book_.stock_wh));
    out_->set(watt_hours(book_.out_wh), tr("%n packs", nullptr, static_cast<int>(book_.packs.size())));
    int gone = 0;
    QStringList chemistries;
    for (const BookRecycled& one : book_.recycled) {
        gone += one.units;
        const Chemistry* chemistry = workshop().library().chemistry(one.chemistry);
        chemistries << tr("%1 %2")
                           .arg(chemistry != nullptr ? QString::fromStdString(chemistry->name) : tr("unknown"))
                           .arg(one.units);
    }
    gone_->set(tr("%n units", nullptr, gone), chemistries.join(QStringLiteral(", ")));
    double hours = 0;
    double estimated = 0;
    int jobs = 0;
    for (const BookJobs& row : book_.jobs) {
        hours += row.hours;
        estimated += row.estimated;
        jobs += row.jobs;
    }
    hours_->set(jobs > 0 ? tr("%1 h").arg(figures::plain(hours, 1)) : QString(QChar(0x2013)),
                jobs > 0 ? tr("%n jobs, estimated %1 h", nullptr, jobs).arg(figures::plain(estimated, 1))
                         : tr("none noted at Worth"));
    QStringList lines;
    constexpr std::size_t most_shown = 6;
    for (std::size_t i = 0; i < std::min(most_shown, book_.packs.size()); ++i) {
        const BookPack& pack = book_.packs[i];
        lines << tr("%1 %2: %3, %4 units, %5")
                     .arg(QString::fromStdString(pack.label), QString::fromStdString(pack.purpose),
                          wording::assembly_state(pack.state))
                     .arg(pack.units)
                     .arg(pack.wh > 0 ? watt_hours(pack.wh) : tr("not measured throughout"));
    }
    packs_->setText(lines.isEmpty() ? tr("None yet: a pack counts from the day its last step is ticked.")
                                    : lines.join(QLatin1Char('\n')));
    stated_->set(stated_bins(workshop().triage().outcomes()));
    emit evidence_changed();
}

bool BookPage::take_line(const QString& line) {
    for (std::size_t i = 0; i < book_.lots.size(); ++i)
        if (line.compare(QString::fromStdString(book_.lots[i].label), Qt::CaseInsensitive) == 0) {
            bars_->choose(static_cast<int>(i));
            return true;
        }
    return false;
}

EvidenceContent BookPage::evidence() const {
    EvidenceContent content;
    content.subject = tr("The shop's book");
    content.line = tr("Counted from what stands in the workshop. A unit without a measured capacity adds no energy.");
    if (const auto outcomes = workshop().triage().outcomes(); !outcomes.empty()) {
        int off = 0;
        for (const StatedBin& bin : stated_bins(outcomes))
            off += bin.off() ? 1 : 0;
        content.notes << tr("Of %n packs it is known what they turned out to be.", nullptr,
                            static_cast<int>(outcomes.size()))
                      << (off > 0 ? tr("Where the packs say otherwise, take the per cents for words.")
                                  : tr("What was stated holds as far as so few packs can tell."));
    } else
        content.notes << tr("Record at Triage what a pack turned out to be: then it stands here how far Ingot's "
                            "chances hold in this shop.");
    content.notes << said_of_jobs();
    const int at = bars_->chosen();
    if (at < 0 || at >= static_cast<int>(book_.lots.size()))
        return content;
    const BookLot& lot = book_.lots[static_cast<std::size_t>(at)];
    content.subject = lot.label.empty() ? tr("Units of no lot") : QString::fromStdString(lot.label);
    content.verdict = lot.yield() ? tr("%1 fit").arg(figures::percent(*lot.yield(), 0)) : tr("No verdict yet");
    content.line =
        lot.source.empty()
            ? QString()
            : tr("%1, received %2").arg(QString::fromStdString(lot.source), QString::fromStdString(lot.received));
    content.notes << tr("%n packs", nullptr, lot.packs) + (lot.units > 0
                                                               ? tr(", %1 units: %2 fit, %3 waiting, %4 lost.")
                                                                     .arg(lot.units)
                                                                     .arg(lot.fit())
                                                                     .arg(lot.waiting)
                                                                     .arg(lot.lost)
                                                               : tr(", none opened yet."));
    content.notes << tr("Kept: %1.").arg(watt_hours(lot.kept_wh));
    if (lot.cost)
        content.notes << (lot.cost_per_wh()
                              ? tr("It cost %1: %2 a kept Wh.")
                                    .arg(figures::plain(*lot.cost, 2), figures::plain(*lot.cost_per_wh(), 3))
                              : tr("It cost %1.").arg(figures::plain(*lot.cost, 2)));
    else
        content.notes << tr("What it cost is not entered.");
    content.notes << tr("Fit: Drive, Store or Light, in stock or built in. Lost: scrap, quarantined, or recycled.");
    return content;
}

// What each kind of job took against what Worth had said, and what Worth makes of it.
QStringList BookPage::said_of_jobs() const {
    QStringList out;
    for (const BookJobs& row : book_.jobs) {
        QString said =
            tr("%1: %n jobs took %2 h, estimated %3 h", nullptr, row.jobs)
                .arg(wording::route(row.route), figures::plain(row.hours, 1), figures::plain(row.estimated, 1));
        if (row.money && row.estimated_money)
            said += tr(" (%1 against %2 of money)")
                        .arg(figures::plain(*row.money, 2), figures::plain(*row.estimated_money, 2));
        out << said + (row.factor ? tr("; Worth reckons with %1 times by now.").arg(figures::plain(*row.factor, 2))
                                  : tr("; too few for Worth to learn from."));
    }
    return out;
}

bool BookPage::write_pdf_to(const QString& path) const {
    std::vector<QStringList> rows{{tr("lot"), tr("source"), tr("packs"), tr("units"), tr("fit"), tr("lost"),
                                   tr("yield"), tr("kept"), tr("cost a Wh")}};
    for (const BookLot& lot : book_.lots)
        rows.push_back({lot.label.empty() ? tr("of no lot") : QString::fromStdString(lot.label),
                        QString::fromStdString(lot.source), QString::number(lot.packs), QString::number(lot.units),
                        QString::number(lot.fit()), QString::number(lot.lost),
                        lot.yield() ? figures::percent(*lot.yield(), 0) : QString(QChar(0x2013)),
                        watt_hours(lot.kept_wh),
                        lot.cost_per_wh() ? figures::plain(*lot.cost_per_wh(), 3) : QString(QChar(0x2013))});
    QStringList notes;
    notes << tr("In packs that were joined: %1; fit and in stock: %2.")
                 .arg(watt_hours(book_.out_wh), watt_hours(book_.stock_wh));
    for (const BookPack& pack : book_.packs)
        notes << tr("%1 %2: %3, %4 units, %5.")
                     .arg(QString::fromStdString(pack.label), QString::fromStdString(pack.purpose),
                          wording::assembly_state(pack.state))
                     .arg(pack.units)
                     .arg(pack.wh > 0 ? watt_hours(pack.wh) : tr("not measured throughout"));
    for (const BookRecycled& gone : book_.recycled)
        notes << tr("To recycling: %1, %2 units, %3 kg of %4 that could be weighed.")
                     .arg(QString::fromStdString(gone.chemistry))
                     .arg(gone.units)
                     .arg(figures::plain(gone.mass_kg, 2))
                     .arg(gone.weighed);
    notes << said_of_jobs();
    return write_record_sheet(path, tr("The shop's book"), QString::fromStdString(workshop().name()), rows, notes);
}

void BookPage::write_pdf() {
    const QString path =
        QFileDialog::getSaveFileName(this, tr("The shop's book"), QStringLiteral("book.pdf"), tr("PDF (*.pdf)"));
    if (path.isEmpty())
        return;
    const bool written = write_pdf_to(path);
    emit told(written ? tr("The book was written to %1.").arg(path)
                      : tr("%1 could not be written. Choose another place.").arg(path),
              !written);
}

void BookPage::write_csv() {
    const QString path =
        QFileDialog::getSaveFileName(this, tr("The shop's book"), QStringLiteral("book.csv"), tr("CSV (*.csv)"));
    if (path.isEmpty())
        return;
    if (fine(exchange::write_text(path.toStdString(), book_csv(book_))))
        emit told(tr("The book was written to %1.").arg(path), false);
}

} // namespace ingot::app
