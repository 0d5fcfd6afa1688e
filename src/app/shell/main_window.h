// The window, the same at every station: Route, scan field, work surface, Evidence. A page is made when it is first
// seen; its commands and their keys are there while it is on screen.
#pragma once

#include "app/shell/route.h"
#include "app/shell/word_completer.h"
#include "app/stations/station.h"

#include <QMainWindow>

#include <functional>

class QBoxLayout;
class QLabel;
class QMenu;
class QStackedWidget;
class QTimer;
class QUndoStack;

namespace ingot {
class Job;
} // namespace ingot

namespace ingot::app {

class BenchCall;
class BenchClock;
class BenchView;
class EvidencePanel;
class PressButton;
class FileCommands;
class MessageBar;
class MeterHand;
class OverdueWatch;
class ShelfWatch;
class ScanField;
class ScanSense;
class SleepBlock;
class StartPage;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    // Opens a workshop; an objection is shown and leaves what was open.
    bool open_file(const QString& path);
    // The same beside the window, which is there meanwhile; `then`: how it went.
    // `make`: makes the file first, beside the window too; an objection leaves what was open.
    using Make = std::function<Result<bool>(const std::string& path)>;
    void open_beside(const QString& path, const std::function<void(bool opened)>& then = {}, const Make& make = {});
    bool make_file(const QString& path, const QString& name);
    // A folder of open files into the workshop that is open, beside the window: it is put away meanwhile, so that
    // nobody writes between the rows, and opened again with what came in, or as it was.
    void bring_in(const QString& folder);
    // The workshop of the last time, where it is still there; a list of one or none.
    [[nodiscard]] QStringList last_opened() const;
    [[nodiscard]] Workshop* workshop() const { return workshop_.get(); }
    void go_to(Station station);
    // `pack`: what the room is about, for those that are about one.
    void go_to(Room room, Id pack = 0);
    // Made where they have not been seen yet; nothing while no workshop is open.
    [[nodiscard]] StationView* view(Station station);
    [[nodiscard]] Page* view(Room room);
    [[nodiscard]] Page* current_view() const { return current_page_; }
    [[nodiscard]] ScanField* scan_field() const { return scan_; }
    [[nodiscard]] Route* route() const { return route_; }
    [[nodiscard]] QString told() const; // what the message bar says
    [[nodiscard]] QUndoStack* undo_stack() const { return undo_; }
    [[nodiscard]] BenchView* bench() const;
    [[nodiscard]] BenchClock* bench_clock() const { return clock_; }
    [[nodiscard]] SleepBlock* sleep_block() const { return sleep_; }
    [[nodiscard]] ScanSense* scan_sense() const { return sense_; }
    // A file or folder that was dropped: a workshop is opened, a log goes to Test, a folder is brought in.
    void take_file(const QString& path);
    // A line as if it had been scanned.
    void take_line(const QString& line);

signals:
    void acknowledged(const QString& what);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void build_top_bar(QBoxLayout* outer);
    void build_menus();
    void build_view_menu();
    [[nodiscard]] bool is_open(const QString& path) const;
    void leave_opening();
    // No workshop is open any more.
    void put_away();
    void leave_pages();
    bool take_opened(const QString& path, Result<std::unique_ptr<Workshop>> opened);
    void adopt(std::unique_ptr<Workshop> workshop);
    void drop_pages();
    // False: runs go on, and the person wants to stay.
    bool may_leave_runs();
    StationView* make_view(Station station);
    Page* make_room(Room room);
    void listen_to(Page* page);
    void enter(Page* page);
    void show_bench();
    void build_bench_call();
    void call_back(const QString& words);
    void refresh_soon();
    void refresh();
    void refresh_evidence();
    void tell(const QString& sentence, bool objection);
    void alarm(const QString& sentence);
    void show_unit(Id unit);
    void show_pack(Id pack);
    void run_command(const QString& words);
    [[nodiscard]] std::vector<Completion> offer(const QString& typed);
    void overrule(Id unit);

    std::unique_ptr<Workshop> workshop_;
    std::unique_ptr<OverdueWatch> overdue_; // of the chargers run by hand
    std::unique_ptr<ShelfWatch> shelf_;
    std::unique_ptr<MeterHand> meter_;
    QLabel* meter_live_ = nullptr; // what is touched while the meter is followed
    Route* route_ = nullptr;
    ScanField* scan_ = nullptr;
    EvidencePanel* evidence_ = nullptr;
    StartPage* start_ = nullptr;
    Job* opening_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    MessageBar* messages_ = nullptr;
    QLabel* name_ = nullptr;
    PressButton* hazards_ = nullptr;
    BenchClock* clock_ = nullptr;
    BenchCall* call_ = nullptr;
    QMenu* work_menu_ = nullptr; // the commands of the page on screen
    FileCommands* file_ = nullptr;
    ScanSense* sense_ = nullptr;
    SleepBlock* sleep_ = nullptr;
    QTimer* refresh_timer_ = nullptr;
    QUndoStack* undo_ = nullptr;
    std::array<StationView*, station_count> views_{};
    std::array<Page*, room_count> rooms_{};
    Page* current_page_ = nullptr;
    Station current_ = Station::receive;
};

} // namespace ingot::app
