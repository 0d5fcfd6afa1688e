#include "app/shell/main_window.h"

#include "app/parts/bench_clock.h"
#include "app/parts/marks.h"
#include "app/parts/panel.h"
#include "app/shell/application.h"
#include "app/shell/dialogs.h"
#include "app/shell/evidence_panel.h"
#include "app/shell/library_dialog.h"
#include "app/shell/message_bar.h"
#include "app/shell/pages.h"
#include "app/shell/route.h"
#include "app/shell/scan_field.h"
#include "app/shell/start_page.h"
#include "app/stations/build/build_station.h"
#include "app/stations/match/match_station.h"
#include "app/stations/open/open_station.h"
#include "app/stations/receive/receive_station.h"
#include "app/stations/sort/sort_station.h"
#include "app/stations/test/bench_view.h"
#include "app/stations/test/test_station.h"
#include "app/stations/triage/triage_station.h"
#include "app/theme/theme.h"
#include "exchange/pool_csv.h"
#include "exchange/text_file.h"

#include <QAbstractSpinBox>
#include <QApplication>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMenuBar>
#include <QMessageBox>
#include <QPainter>
#include <QSettings>
#include <QStackedWidget>
#include <QStandardPaths>
#include <QSystemTrayIcon>
#include <QTextEdit>
#include <QTimer>
#include <QUndoStack>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

constexpr int most_recent = 6;

// The mark and the name at the top left.
class Sign : public QWidget {
public:
    explicit Sign(QWidget* parent) : QWidget(parent) { setFixedSize(176, 46); }

protected:
    void paintEvent(QPaintEvent* /*event*/) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing, true);
        painter.fillPath(trapezoid({28, 23}, 26), colours().ink);
        painter.setPen(colours().ink);
        painter.setFont(type(20, true));
        painter.drawText(QRect(52, 0, 120, 46), Qt::AlignVCenter, QStringLiteral("Ingot"));
    }
};

} // namespace

MainWindow::MainWindow(QWidget* parent) : QMainWindow(parent) {
    setWindowTitle(tr("Ingot"));
    resize(1280, 800);
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
    stack_->addWidget(start_);
    middle->addWidget(new PagesInRoom(pages, central), 1);
    evidence_ = new EvidencePanel(central);
    middle->addWidget(evidence_);
    outer->addLayout(middle, 1);
    clock_ = new BenchClock(central);
    clock_->hide(); // until a tester is on the bench
    outer->addWidget(clock_);
    connect(clock_, &BenchClock::pressed, this, [this] {
        go_to(Station::test);
        if (BenchView* b = bench())
            b->show_page(BenchView::Page::plan);
    });
    setCentralWidget(central);
    build_menus();

    connect(route_, &Route::chosen, this, &MainWindow::go_to);
    connect(scan_, &ScanField::entered, this, &MainWindow::take_line);
    connect(scan_, &ScanField::textEdited, this, [this](const QString& text) {
        if (StationView* v = current_view())
            v->echo(text);
    });
    connect(scan_, &ScanField::stepped_back, this, [this] {
        if (StationView* v = current_view())
            v->step_back();
    });
    connect(start_, &StartPage::new_wanted, this, &MainWindow::ask_new);
    connect(start_, &StartPage::open_wanted, this, &MainWindow::ask_open);
    connect(start_, &StartPage::demo_wanted, this, &MainWindow::open_demo);
    connect(start_, &StartPage::file_wanted, this, &MainWindow::open_file);
    connect(evidence_, &EvidencePanel::overrule_wanted, this, &MainWindow::overrule);
    connect(&Theme::instance(), &Theme::changed, this, [this] {
        refresh_soon();
        for (QWidget* widget : findChildren<QWidget*>())
            widget->update();
    });
    if (auto* application = qobject_cast<Application*>(qApp))
        connect(application, &Application::went_wrong, this, &MainWindow::alarm);
    fill_recent();
    route_->setEnabled(false);
    scan_->setFocus();
    qApp->installEventFilter(this);
}

MainWindow::~MainWindow() {
    qApp->removeEventFilter(this);
    for (StationView* v : views_) // before the workshop, which they write to
        delete v;
}

void MainWindow::build_top_bar(QBoxLayout* outer) {
    auto* top = new QWidget(this);
    top->setFixedHeight(46);
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
    hazards_ = new PressButton(QString(), top);
    hazards_->setObjectName(QStringLiteral("hazards"));
    hazards_->set_hazard(true);
    hazards_->setToolTip(tr("Quarantined packs and units, each with its caution  (Ctrl+H)"));
    hazards_->hide();
    connect(hazards_, &PressButton::clicked, this, [this] {
        if (workshop_)
            show_quarantines(this, *workshop_);
    });
    row->addWidget(hazards_);
    outer->addWidget(top);
    messages_ = new MessageBar(this);
    connect(messages_, &MessageBar::dismissed, this, [this] { scan_->setFocus(); });
    outer->addWidget(messages_);
}

void MainWindow::build_menus() {
    QMenu* file = menuBar()->addMenu(tr("&File"));
    file->addAction(tr("&New workshop…"), QKeySequence::New, this, &MainWindow::ask_new);
    file->addAction(tr("&Open workshop…"), QKeySequence::Open, this, &MainWindow::ask_open);
    recent_menu_ = file->addMenu(tr("Open &recent"));
    file->addSeparator();
    file->addAction(tr("&Bring in a folder of open files…"), QKeySequence(tr("Ctrl+Shift+I")), this,
                    &MainWindow::import_folder);
    file->addAction(tr("&Export the pool as CSV…"), QKeySequence(tr("Ctrl+Shift+E")), this, &MainWindow::export_pool);
    file->addSeparator();
    file->addAction(tr("&Quit"), QKeySequence::Quit, this, &QWidget::close);
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
    go->addAction(tr("&Hazards open…"), QKeySequence(tr("Ctrl+H")), this, [this] { hazards_->click(); });
    go->addAction(tr("&Library: protocols, teardown plans…"), QKeySequence(tr("Ctrl+Shift+A")), this, [this] {
        if (workshop_) {
            LibraryDialog dialog(this, *workshop_);
            dialog.exec();
        }
    });
    go->addAction(tr("To the &scan field"), QKeySequence(tr("F2")), this, [this] { scan_->setFocus(); });
    station_menu_ = menuBar()->addMenu(tr("&Work"));
    QMenu* look = menuBar()->addMenu(tr("&View"));
    look->addAction(tr("&Light, for a bright bench"), QKeySequence(tr("Ctrl+Shift+L")), this, [] {
        Theme::instance().apply(Theme::Appearance::light);
        QSettings().setValue(QStringLiteral("dark"), false);
    });
    look->addAction(tr("&Dark, for the evening"), QKeySequence(tr("Ctrl+Shift+D")), this, [] {
        Theme::instance().apply(Theme::Appearance::dark);
        QSettings().setValue(QStringLiteral("dark"), true);
    });
    QMenu* help = menuBar()->addMenu(tr("&Help"));
    help->addAction(tr("&About Ingot"), this, [this] {
        QMessageBox::about(this, tr("About Ingot"),
                           tr("Ingot %1\nFor cell reclamation technicians. GPL-3.0-or-later.\n\nLimits are defaults of "
                              "common practice; a "
                              "maker's data sheet and local codes come first.")
                               .arg(QApplication::applicationVersion()));
    });
}

StationView* MainWindow::current_view() const {
    return workshop_ ? views_[static_cast<std::size_t>(current_)] : nullptr;
}

QString MainWindow::told() const {
    return messages_->shown();
}

bool MainWindow::open_file(const QString& path) {
    auto opened = Workshop::open(path.toStdString());
    if (!opened) {
        tell(QString::fromStdString(opened.problem().text()), true);
        return false;
    }
    adopt(std::move(opened).value());
    remember(path);
    return true;
}

bool MainWindow::make_file(const QString& path, const QString& name) {
    auto made = Workshop::create(path.toStdString(), name.toStdString());
    if (!made) {
        tell(QString::fromStdString(made.problem().text()), true);
        return false;
    }
    adopt(std::move(made).value());
    remember(path);
    return true;
}

void MainWindow::adopt(std::unique_ptr<Workshop> workshop) {
    for (StationView*& v : views_) {
        if (v != nullptr)
            stack_->removeWidget(v);
        delete v;
        v = nullptr;
    }
    undo_->clear();
    station_menu_->clear();
    workshop_ = std::move(workshop);
    messages_->clear();
    connect(workshop_.get(), &Workshop::changed, this, &MainWindow::refresh_soon);
    make_views();
    route_->setEnabled(true);
    setWindowTitle(QStringLiteral("%1 – %2").arg(QString::fromStdString(workshop_->name()), tr("Ingot")));
    if (workshop_->access() == Access::reading_other_window)
        tell(tr("This workshop is open in another window. Here it can be read, not changed."), false);
    else if (workshop_->access() == Access::reading_only_file)
        tell(tr("This workshop's file is read-only. It can be read, not changed; copy it to a place where you may "
                "write."),
             false);
    // The first station where something waits.
    const auto waiting = workshop_->waiting();
    Station first = Station::receive;
    for (int i = 0; i < station_count; ++i)
        if (waiting[static_cast<std::size_t>(i)] > 0) {
            first = static_cast<Station>(i);
            break;
        }
    current_ = first;
    route_->set_current(first);
    stack_->setCurrentWidget(view(first));
    refresh();
    scan_->setFocus();
}

void MainWindow::make_views() {
    views_ = {new ReceiveStation(*workshop_, stack_), new TriageStation(*workshop_, stack_),
              new OpenStation(*workshop_, stack_),    new TestStation(*workshop_, stack_),
              new SortStation(*workshop_, stack_),    new MatchStation(*workshop_, stack_),
              new BuildStation(*workshop_, stack_)};
    for (StationView* v : views_) {
        stack_->addWidget(v);
        QMenu* menu = station_menu_->addMenu(station_name(v->station()));
        menu->addActions(v->commands());
        addActions(v->commands());
        connect(v, &StationView::evidence_changed, this, [this, v] {
            if (v == current_view())
                refresh_evidence();
        });
        connect(v, &StationView::hint_changed, this, [this] {
            if (StationView* now = current_view())
                scan_->set_hint(now->scan_hint());
        });
        connect(v, &StationView::told, this, &MainWindow::tell);
        connect(v, &StationView::alarmed, this, &MainWindow::alarm);
        connect(v, &StationView::acknowledged, this, &MainWindow::acknowledged);
        connect(v, &StationView::go_to, this, &MainWindow::go_to);
        connect(v, &StationView::undo_pushed, undo_, &QUndoStack::push);
    }
    connect(bench(), &BenchView::changed, this, &MainWindow::show_bench);
    connect(bench(), &BenchView::come_back, this, &MainWindow::call_back);
}

BenchView* MainWindow::bench() const {
    if (!workshop_)
        return nullptr;
    auto* test = qobject_cast<TestStation*>(view(Station::test));
    return test == nullptr ? nullptr : test->bench();
}

// The foot of the window and the tag on the route follow the bench.
void MainWindow::show_bench() {
    BenchView* b = bench();
    if (b == nullptr)
        return;
    clock_->setVisible(!b->bays().bays().empty());
    clock_->set_slim(current_ != Station::test); // the other stations need the height
    b->fill_clock(*clock_);
    const int hands = b->wanting_hand();
    route_->set_hand(Station::test, hands > 0 ? tr("%1 now").arg(hands) : QString());
}

void MainWindow::call_back(const QString& words) {
    QApplication::alert(this);
    if (!QSystemTrayIcon::isSystemTrayAvailable())
        return;
    if (tray_ == nullptr) {
        tray_ = new QSystemTrayIcon(windowIcon(), this);
        tray_->show();
    }
    tray_->showMessage(tr("Ingot"), words);
}

void MainWindow::go_to(Station station) {
    if (!workshop_)
        return;
    const bool moved = current_ != station || stack_->currentWidget() != view(station);
    current_ = station;
    route_->set_current(station);
    stack_->setCurrentWidget(view(station));
    stack_->updateGeometry();
    show_bench();
    if (moved) {
        view(station)->refresh();
        refresh_evidence();
        scan_->set_hint(view(station)->scan_hint());
    }
    scan_->setFocus();
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
        if (build.state == AssemblyState::planned)
            to_take = tr("take units");
    route_->set_hand(Station::build, to_take);
    show_bench();
    name_->setText(QString::fromStdString(workshop_->name()) +
                   (workshop_->writable() ? QString() : tr(" (reading only)")));
    const auto open = workshop_->receive().open_quarantines().size();
    hazards_->setText(open == 1 ? tr("1 hazard open") : tr("%1 hazards open").arg(open));
    hazards_->setVisible(open > 0);
    if (StationView* v = current_view()) {
        v->refresh();
        scan_->set_hint(v->scan_hint());
    }
    refresh_evidence();
}

void MainWindow::refresh_evidence() {
    if (StationView* v = current_view())
        evidence_->show_content(v->evidence(), workshop_->library(), workshop_->writable());
}

void MainWindow::tell(const QString& sentence_text, bool objection) {
    messages_->add(objection ? Severity::objection : Severity::note, sentence_text);
}

void MainWindow::alarm(const QString& sentence_text) {
    messages_->add(Severity::alarm, sentence_text);
}

void MainWindow::take_line(const QString& line) {
    StationView* v = current_view();
    if (v == nullptr)
        return;
    if (line.isEmpty()) {
        v->take_line(line);
        return;
    }
    if (v->take_line(line)) {
        scan_->set_hint(v->scan_hint());
        return;
    }
    const std::string text = line.toStdString();
    if (looks_like_unit_code(text)) {
        const auto found = workshop_->find_unit(text);
        if (!found) {
            tell(QString::fromStdString(found.problem().sentence), true);
            return;
        }
        // A label opens its unit: here if this station shows units, else at Test.
        if (!v->show_unit(found.value())) {
            go_to(Station::test);
            view(Station::test)->show_unit(found.value());
        }
        return;
    }
    run_command(line);
}

void MainWindow::run_command(const QString& words) {
    QList<QAction*> fitting;
    const auto collect = [&](QMenu* menu, auto&& self) -> void {
        for (QAction* action : menu->actions()) {
            if (action->menu() != nullptr)
                self(action->menu(), self);
            else if (action->isEnabled() &&
                     action->text().remove(QLatin1Char('&')).startsWith(words, Qt::CaseInsensitive))
                fitting.append(action);
        }
    };
    for (QAction* action : menuBar()->actions())
        if (action->menu() != nullptr)
            collect(action->menu(), collect);
    if (fitting.size() == 1) {
        fitting.front()->trigger();
        return;
    }
    QStringList names;
    for (QAction* action : fitting)
        names << action->text().remove(QLatin1Char('&'));
    tell(fitting.isEmpty() ? tr("\"%1\" is neither a label, a reading that is wanted here, nor a command.").arg(words)
                           : tr("Which one? %1").arg(names.join(QStringLiteral(", "))),
         true);
}

void MainWindow::overrule(Id unit) {
    const UnitState* state = workshop_ ? workshop_->unit(unit) : nullptr;
    if (state == nullptr)
        return;
    const auto answer = ask_overrule(this, *state);
    if (!answer)
        return;
    const auto refused = [this](const Problem& problem) { tell(QString::fromStdString(problem.text()), true); };
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

void MainWindow::ask_new() {
    bool ok = false;
    const QString name =
        QInputDialog::getText(this, tr("New workshop"), tr("What is the workshop called?"), QLineEdit::Normal, {}, &ok);
    if (!ok || name.trimmed().isEmpty())
        return;
    QString path = QFileDialog::getSaveFileName(this, tr("New workshop"),
                                                QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation) +
                                                    QLatin1Char('/') + name.trimmed() + QStringLiteral(".ingot"),
                                                tr("Workshops (*.ingot)"));
    if (path.isEmpty())
        return;
    if (!path.endsWith(QStringLiteral(".ingot")))
        path += QStringLiteral(".ingot");
    make_file(path, name.trimmed());
}

void MainWindow::ask_open() {
    const QString path = QFileDialog::getOpenFileName(this, tr("Open workshop"), {}, tr("Workshops (*.ingot)"));
    if (!path.isEmpty())
        open_file(path);
}

void MainWindow::open_demo() {
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    QDir().mkpath(folder);
    const QString path = folder + QStringLiteral("/demo.ingot");
    if (QFileInfo::exists(path)) {
        open_file(path);
        return;
    }
    if (!make_file(path, QStringLiteral("Fellside Hut & Trail Trust")))
        return;
    if (const auto done = workshop_->import_folder(Workshop::shipped_folder("demo")); !done)
        tell(QString::fromStdString(done.problem().text()), true);
}

void MainWindow::import_folder() {
    if (!workshop_)
        return;
    const QString folder =
        QFileDialog::getExistingDirectory(this, tr("Folder with lots.csv, packs.csv, units.csv, readings.csv"));
    if (folder.isEmpty())
        return;
    if (const auto done = workshop_->import_folder(folder.toStdString()); !done)
        tell(QString::fromStdString(done.problem().text()), true);
}

void MainWindow::export_pool() {
    if (!workshop_)
        return;
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Export the pool"), QStringLiteral("pool.csv"), tr("CSV (*.csv)"));
    if (path.isEmpty())
        return;
    std::vector<Id> ids;
    for (const UnitState& unit : workshop_->units())
        if (unit.in_stock())
            ids.push_back(unit.record.id);
    if (const auto done =
            exchange::write_text(path.toStdString(), exchange::write_pool(workshop_->match().problem_for(ids).pool));
        !done)
        tell(QString::fromStdString(done.problem().text()), true);
    else
        tell(tr("%n units written to %1.", nullptr, static_cast<int>(ids.size())).arg(path), false);
}

void MainWindow::fill_recent() {
    recent_menu_->clear();
    QStringList existing;
    for (const QString& path : QSettings().value(QStringLiteral("recent")).toStringList())
        if (QFileInfo::exists(path))
            existing << path;
    for (const QString& path : existing)
        recent_menu_->addAction(QFileInfo(path).completeBaseName(), this, [this, path] { open_file(path); })
            ->setToolTip(path);
    recent_menu_->setEnabled(!existing.isEmpty());
    start_->set_recent(existing);
}

void MainWindow::remember(const QString& path) {
    QSettings settings;
    QStringList recent = settings.value(QStringLiteral("recent")).toStringList();
    const QString absolute = QFileInfo(path).absoluteFilePath();
    recent.removeAll(absolute);
    recent.prepend(absolute);
    settings.setValue(QStringLiteral("recent"), recent.mid(0, most_recent));
    fill_recent();
}

// A scanner types wherever the focus is: text that nothing else wants goes to the scan field.
bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress && isActiveWindow() && QApplication::activeModalWidget() == nullptr &&
        QApplication::activePopupWidget() == nullptr) {
        auto* key = static_cast<QKeyEvent*>(event);
        QWidget* focus = QApplication::focusWidget();
        const bool wants_text =
            qobject_cast<QLineEdit*>(focus) != nullptr || qobject_cast<QAbstractSpinBox*>(focus) != nullptr ||
            qobject_cast<QComboBox*>(focus) != nullptr || qobject_cast<QTextEdit*>(focus) != nullptr;
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
