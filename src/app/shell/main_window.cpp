#include "app/shell/main_window.h"

#include "app/parts/bench_clock.h"
#include "app/parts/marks.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/shell/application.h"
#include "app/shell/bench_call.h"
#include "app/shell/event_log.h"
#include "app/shell/evidence_panel.h"
#include "app/shell/file_commands.h"
#include "app/shell/message_bar.h"
#include "app/shell/meter_hand.h"
#include "app/shell/overdue_watch.h"
#include "app/shell/pages.h"
#include "app/shell/route.h"
#include "app/shell/scan_field.h"
#include "app/shell/scan_sense.h"
#include "app/shell/shelf_watch.h"
#include "app/shell/sleep_block.h"
#include "app/shell/start_page.h"
#include "app/stations/test/bench_view.h"
#include "app/stations/test/test_station.h"
#include "app/theme/theme.h"
#include "workshop/job.h"
#include "workshop/wording.h"

#include <QAbstractSpinBox>
#include <QApplication>
#include <QCloseEvent>
#include <QComboBox>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QPainter>
#include <QPlainTextEdit>
#include <QSettings>
#include <QStackedWidget>
#include <QTextEdit>
#include <QTimer>
#include <QUndoStack>
#include <QUrl>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

// The mark and the name at the top left.
class Sign : public QWidget {
public:
    explicit Sign(QWidget* parent) : QWidget(parent) { setFixedSize(scaled(176), scaled(46)); }

protected:
    void paintEvent(QPaintEvent* /*event*/) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing, true);
        painter.fillPath(trapezoid({static_cast<double>(scaled(28)), static_cast<double>(scaled(23))}, scaled(26)),
                         colours().ink);
        painter.setPen(colours().ink);
        painter.setFont(type(20, true));
        painter.drawText(QRect(scaled(52), 0, scaled(120), scaled(46)), Qt::AlignVCenter, QStringLiteral("Ingot"));
    }
};

} // namespace

MainWindow::MainWindow(QWidget* parent) : QMainWindow(parent) {
    setWindowTitle(tr("Ingot"));
    setAcceptDrops(true);
    resize(1280, 800);
    restoreGeometry(QSettings().value(QStringLiteral("window")).toByteArray());
    undo_ = new QUndoStack(this);
    refresh_timer_ = new QTimer(this);
    refresh_timer_->setSingleShot(true);
    connect(refresh_timer_, &QTimer::timeout, this, &MainWindow::refresh);

    auto* central = new QWidget(this);
    auto* outer = new QVBoxLayout(central);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(0);
    build_top_bar(outer);
    auto* middle = new QHBoxLayout;
    middle->setContentsMargins(0, 0, 0, 0);
    middle->setSpacing(0);
    route_ = new Route(central);
    middle->addWidget(route_);
    auto* pages = new Pages(central);
    stack_ = pages;
    stack_->setContentsMargins(12, 10, 12, 10);
    start_ = new StartPage(stack_);
    opening_ = new Job(this);
    opening_->setObjectName(QStringLiteral("explaining")); // what is shown follows it
    connect(opening_, &Job::failed, this, [this](const Problem& problem) {
        start_->set_busy({});
        tell(wording::problem(problem), true);
    });
    connect(start_, &StartPage::stop_wanted, opening_, &Job::stop);
    stack_->addWidget(start_);
    middle->addWidget(new PagesInRoom(pages, central), 1);
    evidence_ = new EvidencePanel(central);
    middle->addWidget(evidence_);
    outer->addLayout(middle, 1);
    clock_ = new BenchClock(central);
    clock_->hide(); // until a tester is on the bench, or a shelf is to be read
    outer->addWidget(clock_);
    connect(clock_, &BenchClock::pressed, this, [this] {
        go_to(Station::test);
        if (BenchView* b = bench())
            b->show_page(BenchView::Page::plan);
    });
    connect(clock_, &BenchClock::field_pressed, this, [this] { go_to(Station::prove); });
    connect(clock_, &BenchClock::shelf_pressed, this, [this] { go_to(Station::rest); });
    setCentralWidget(central);
    build_menus();

    connect(route_, &Route::chosen, this, [this](Station station) { go_to(station); });
    connect(route_, &Route::room_chosen, this, [this](Room room) { go_to(room); });
    connect(scan_, &ScanField::entered, this, &MainWindow::take_line);
    auto* completer = new WordCompleter(scan_, [this](const QString& typed) { return offer(typed); });
    connect(completer, &WordCompleter::wanted, this, &MainWindow::take_line);
    sense_ = new ScanSense(this);
    sleep_ = new SleepBlock(this);
    connect(sleep_, &SleepBlock::refused, this,
            [] { event_log::note(QStringLiteral("nobody keeps this computer awake while bays run")); });
    connect(sense_, &ScanSense::scanned, this, &MainWindow::take_line);
    connect(scan_, &ScanField::textEdited, this, [this](const QString& text) {
        if (Page* v = current_view())
            v->echo(text);
    });
    connect(scan_, &ScanField::stepped_back, this, [this] {
        if (Page* v = current_view())
            v->step_back();
    });
    connect(start_, &StartPage::new_wanted, file_, &FileCommands::ask_new);
    connect(start_, &StartPage::open_wanted, file_, &FileCommands::ask_open);
    connect(start_, &StartPage::demo_wanted, file_, &FileCommands::open_demo);
    connect(start_, &StartPage::file_wanted, this, [this](const QString& path) { open_beside(path); });
    connect(evidence_, &EvidencePanel::overrule_wanted, this, &MainWindow::overrule);
    connect(&Theme::instance(), &Theme::changed, this, [this] {
        refresh_soon();
        for (QWidget* widget : findChildren<QWidget*>())
            widget->update();
    });
    if (auto* application = qobject_cast<Application*>(qApp))
        connect(application, &Application::went_wrong, this, &MainWindow::alarm);
    start_->set_recent(file_->recent());
    route_->setEnabled(false);
    scan_->setFocus();
    qApp->installEventFilter(this);
}

MainWindow::~MainWindow() {
    qApp->removeEventFilter(this);
    opening_->drop(); // its work hands what it opened to this window
    drop_pages();     // before the workshop, which they write to
}

void MainWindow::build_top_bar(QBoxLayout* outer) {
    auto* top = new QWidget(this);
    top->setFixedHeight(scaled(46));
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(0, 0, 16, 0);
    row->setSpacing(12);
    row->addWidget(new Sign(top));
    scan_ = new ScanField(top);
    scan_->setMaximumWidth(560);
    row->addWidget(scan_, 2);
    name_ = new QLabel(top);
    name_->setFont(type(14));
    name_->setMinimumWidth(80);
    row->addWidget(name_, 1);
    meter_live_ = new QLabel(top);
    meter_live_->setObjectName(QStringLiteral("meter_live"));
    meter_live_->setAccessibleName(tr("Bench meter"));
    meter_live_->hide();
    row->addWidget(meter_live_);
    hazards_ = new PressButton(QString(), top);
    hazards_->setObjectName(QStringLiteral("hazards"));
    hazards_->set_hazard(true);
    hazards_->setToolTip(tr("Quarantined packs and units, each with its caution  (Ctrl+H)"));
    hazards_->hide();
    connect(hazards_, &PressButton::clicked, this, [this] { go_to(Room::hazards); });
    row->addWidget(hazards_);
    outer->addWidget(top);
    messages_ = new MessageBar(this);
    connect(messages_, &MessageBar::dismissed, this, [this] { scan_->setFocus(); });
    build_bench_call();
    outer->addWidget(messages_);
}

void MainWindow::build_menus() {
    file_ = new FileCommands(*this, menuBar()->addMenu(tr("&File")));
    connect(file_, &FileCommands::told, this, &MainWindow::tell);
    connect(file_, &FileCommands::recent_changed, start_, &StartPage::set_recent);
    QMenu* edit = menuBar()->addMenu(tr("&Edit"));
    QAction* undo = undo_->createUndoAction(this, tr("&Undo"));
    undo->setShortcut(QKeySequence::Undo);
    QAction* redo = undo_->createRedoAction(this, tr("&Redo"));
    redo->setShortcuts({QKeySequence(tr("Ctrl+Shift+Z")), QKeySequence(tr("Ctrl+Y"))}); // both are usual
    edit->addAction(undo);
    edit->addAction(redo);
    QMenu* go = menuBar()->addMenu(tr("&Go"));
    for (int i = 0; i < station_count; ++i) {
        const auto station = static_cast<Station>(i);
        go->addAction(station_name(station), QKeySequence(QStringLiteral("Ctrl+%1").arg(i + 1)), this,
                      [this, station] { go_to(station); });
    }
    go->addSeparator();
    go->addAction(tr("&Ledger"), QKeySequence(tr("Ctrl+0")), this, [this] { go_to(Room::ledger); });
    go->addAction(tr("L&ibrary"), QKeySequence(tr("Ctrl+Shift+L")), this, [this] { go_to(Room::library); });
    go->addAction(tr("The shop's boo&k"), QKeySequence(tr("Ctrl+Shift+B")), this, [this] { go_to(Room::book); });
    go->addAction(tr("S&tock"), this, [this] { go_to(Room::stock); });
    go->addAction(tr("Bench &meter"), this, [this] { go_to(Room::meter); });
    go->addAction(tr("T&esters"), this, [this] { go_to(Room::testers); });
    go->addAction(tr("P&opulations"), this, [this] { go_to(Room::populations); });
    go->addAction(tr("&Practice bench"), QKeySequence(tr("Ctrl+Shift+P")), this, [this] { go_to(Room::practice); });
    go->addAction(tr("&Hazards open"), QKeySequence(tr("Ctrl+H")), this, [this] { go_to(Room::hazards); });
    go->addAction(tr("To the &scan field"), QKeySequence(tr("F2")), this, [this] { scan_->setFocus(); });
    work_menu_ = menuBar()->addMenu(tr("&Work"));
    build_view_menu();
}

void MainWindow::build_view_menu() {
    QMenu* look = menuBar()->addMenu(tr("&View"));
    look->addAction(tr("&Light, for a bright bench"), this, [] {
        Theme::instance().apply(Theme::Appearance::light);
        QSettings().setValue(QStringLiteral("dark"), false);
    });
    look->addAction(tr("D&ark, for the evening"), this, [] {
        Theme::instance().apply(Theme::Appearance::dark);
        QSettings().setValue(QStringLiteral("dark"), true);
    });
    look->addAction(tr("As the &desktop has it"), this, [] {
        QSettings().remove(QStringLiteral("dark"));
        Theme::instance().apply(Theme::of_desktop());
    });
    look->addSeparator();
    QAction* shown = look->addAction(tr("&Evidence beside the work"), QKeySequence(tr("F12")));
    shown->setCheckable(true);
    shown->setChecked(true);
    const auto show = [this, shown] { // without a workshop there is nothing to give reasons for
        evidence_->setVisible(shown->isChecked() && stack_->currentWidget() != start_);
    };
    connect(shown, &QAction::toggled, this, show);
    connect(stack_, &QStackedWidget::currentChanged, this, show);
    show();
    QAction* sound = look->addAction(tr("&Sound with every alarm"));
    sound->setCheckable(true);
    sound->setChecked(BenchCall::sounds());
    connect(sound, &QAction::toggled, this, [](bool on) { BenchCall::set_sounds(on); });
    QMenu* help = menuBar()->addMenu(tr("&Help"));
    help->addAction(tr("&About Ingot"), this, [this] {
        QMessageBox::about(this, tr("About Ingot"),
                           tr("Ingot %1\nFor cell reclamation technicians. GPL-3.0-or-later.\n\nLimits are defaults of "
                              "common practice; a "
                              "maker's data sheet and local codes come first.")
                               .arg(QApplication::applicationVersion()));
    });
}

QString MainWindow::told() const {
    return messages_->shown();
}

BenchView* MainWindow::bench() const {
    auto* test = qobject_cast<TestStation*>(views_[static_cast<std::size_t>(Station::test)]);
    return test == nullptr ? nullptr : test->bench();
}

// The foot of the window and the tag on the route follow the bench.
void MainWindow::show_bench() {
    BenchView* b = bench();
    if (b == nullptr) { // not looked at yet
        clock_->setVisible(!clock_->shelf().empty());
        clock_->set_slim(true);
        return;
    }
    clock_->setVisible(!b->bays().bays().empty() || !clock_->shelf().empty());
    clock_->set_slim(current_page_ !=
                     views_[static_cast<std::size_t>(Station::test)]); // the other stations need the height
    b->fill_clock(*clock_);
    sleep_->hold(b->running() > 0, tr("Cells are being charged or discharged."));
    const int hands = b->wanting_hand();
    route_->set_hand(Station::test, hands > 0 ? tr("%1 now").arg(hands) : QString());
}

void MainWindow::call_back(const QString& words) {
    QApplication::alert(this);
    call_->visit(words);
}

void MainWindow::build_bench_call() {
    call_ = new BenchCall(this);
    connect(call_, &BenchCall::followed, this, [this] {
        setWindowState(windowState() & ~Qt::WindowMinimized);
        raise();
        activateWindow();
        go_to(Station::test);
    });
    connect(messages_, &MessageBar::dismissed, this, [this] {
        if (messages_->alarms().isEmpty())
            call_->read();
    });
}

void MainWindow::refresh_soon() {
    if (!refresh_timer_->isActive())
        refresh_timer_->start(0);
}

void MainWindow::refresh() {
    if (!workshop_)
        return;
    route_->set_waiting(workshop_->waiting());
    QString to_take;
    for (const auto& build : workshop_->builds())
        if (build.state == AssemblyState::planned && !workshop_->inventory().wants_units(build))
            to_take = tr("take units");
        else if (build.state == AssemblyState::taken && to_take.isEmpty())
            to_take = tr("join");
    route_->set_hand(Station::build, to_take);
    show_bench();
    name_->setText(QString::fromStdString(workshop_->name()) +
                   (workshop_->writable() ? QString() : tr(" (reading only)")));
    const auto open = workshop_->receive().open_quarantines().size();
    hazards_->setText(open == 1 ? tr("1 hazard open") : tr("%1 hazards open").arg(open));
    hazards_->setVisible(open > 0);
    if (Page* v = current_view()) {
        v->refresh();
        scan_->set_hint(v->scan_hint());
    }
    refresh_evidence();
}

void MainWindow::refresh_evidence() {
    if (Page* v = current_view())
        evidence_->show_content(v->evidence(), workshop_->library(), workshop_->writable());
}

void MainWindow::tell(const QString& sentence_text, bool objection) {
    (objection ? event_log::objection : event_log::note)(sentence_text);
    messages_->add(objection ? Severity::objection : Severity::note, sentence_text);
}

void MainWindow::alarm(const QString& sentence_text) {
    event_log::alarm(sentence_text);
    const bool fresh = !messages_->alarms().contains(sentence_text);
    messages_->add(Severity::alarm, sentence_text);
    if (!fresh)
        return;
    QApplication::alert(this);
    call_->alarm(sentence_text);
}

void MainWindow::overrule(Id unit) {
    const UnitState* state = workshop_ ? workshop_->unit(unit) : nullptr;
    if (state == nullptr)
        return;
    const auto answer = ask_overrule(this, *state);
    if (!answer)
        return;
    const auto refused = [this](const Problem& problem) { tell(wording::problem(problem), true); };
    const bool first = !state->verdict.overruled_from.has_value();
    const QString name = tr("overrule %1").arg(QString::fromStdString(state->code()));
    const Act overrule = [this, unit, duty = answer->duty, reason = answer->reason.toStdString()] {
        return workshop_->sort().overrule(unit, duty, reason);
    };
    if (const auto done = overrule(); !done)
        refused(done.problem());
    else if (first) // over an earlier overrule there is no one way back
        undo_->push(new StepCommand(
            name, overrule, [this, unit] { return workshop_->sort().withdraw_overrule(unit); }, refused));
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!may_leave_runs()) {
        event->ignore();
        return;
    }
    QSettings().setValue(QStringLiteral("window"), saveGeometry());
    QMainWindow::closeEvent(event);
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile())
            take_file(url.toLocalFile());
    event->acceptProposedAction();
}

void MainWindow::take_file(const QString& path) {
    const QFileInfo file(path);
    if (file.suffix() == QStringLiteral("ingot")) {
        open_beside(path);
        return;
    }
    if (!workshop_) {
        tell(tr("No workshop is open. Make or open one first."), true);
        return;
    }
    if (file.isDir()) {
        bring_in(path);
        return;
    }
    go_to(Station::test);
    qobject_cast<TestStation*>(view(Station::test))->import_file(path);
}

// A narrow window leaves the work surface its share.
void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    constexpr double share = 0.245;
    constexpr int least = EvidencePanel::least_width;
    evidence_->setFixedWidth(std::clamp(static_cast<int>(width() * share), least, scaled(312)));
}

// A scanner types wherever the focus is: what it types in a form, or what nothing else wants, goes to the scan field's
// business.
bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Wheel &&
        (qobject_cast<QComboBox*>(watched) != nullptr || qobject_cast<QAbstractSpinBox*>(watched) != nullptr) &&
        !qobject_cast<QWidget*>(watched)->hasFocus()) {
        event->ignore(); // a wheel that passes over a choice does not change it
        return true;
    }
    if (event->type() == QEvent::KeyPress && isActiveWindow() && QApplication::activeModalWidget() == nullptr &&
        QApplication::activePopupWidget() == nullptr) {
        auto* key = static_cast<QKeyEvent*>(event);
        QWidget* focus = QApplication::focusWidget();
        const bool wants_text =
            qobject_cast<QLineEdit*>(focus) != nullptr || qobject_cast<QAbstractSpinBox*>(focus) != nullptr ||
            qobject_cast<QComboBox*>(focus) != nullptr || qobject_cast<QTextEdit*>(focus) != nullptr ||
            qobject_cast<QPlainTextEdit*>(focus) != nullptr;
        if (watched == focus && wants_text && focus != scan_ && sense_->take(focus, *key))
            return true;
        if (watched == focus && focus != nullptr && focus->property(single_letters).toBool() &&
            !key->text().isEmpty() && (key->text()[0].isLetter() || sense_->busy()))
            return sense_->take(focus, *key); // a letter acts on what is chosen there, unless a scanner types it
        const bool plain = !(key->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
        const QString text = key->text();
        if (watched == focus && !wants_text && plain && !text.isEmpty() && text[0].isPrint() &&
            text != QStringLiteral(" ")) {
            scan_->setFocus();
            QApplication::sendEvent(scan_, event);
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

} // namespace ingot::app
