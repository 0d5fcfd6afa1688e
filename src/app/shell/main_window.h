// The window, the same at every station: Route, scan field, work surface, Evidence.
#pragma once

#include "app/stations/station.h"

#include <QMainWindow>

class QBoxLayout;
class QLabel;
class QMenu;
class QStackedWidget;
class QSystemTrayIcon;
class QTimer;
class QUndoStack;

namespace ingot::app {

class BenchClock;
class BenchView;
class EvidencePanel;
class PressButton;
class MessageBar;
class Route;
class ScanField;
class StartPage;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    // Opens a workshop; an objection is shown and leaves what was open.
    bool open_file(const QString& path);
    bool make_file(const QString& path, const QString& name);
    [[nodiscard]] Workshop* workshop() const { return workshop_.get(); }
    void go_to(Station station);
    [[nodiscard]] StationView* view(Station station) const { return views_[static_cast<std::size_t>(station)]; }
    [[nodiscard]] StationView* current_view() const;
    [[nodiscard]] ScanField* scan_field() const { return scan_; }
    [[nodiscard]] Route* route() const { return route_; }
    [[nodiscard]] QString told() const; // what the message bar says
    [[nodiscard]] QUndoStack* undo_stack() const { return undo_; }
    [[nodiscard]] BenchView* bench() const;
    [[nodiscard]] BenchClock* bench_clock() const { return clock_; }
    // A line as if it had been scanned.
    void take_line(const QString& line);

signals:
    void acknowledged(const QString& what);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void build_top_bar(QBoxLayout* outer);
    void build_menus();
    void fill_recent();
    void remember(const QString& path);
    void adopt(std::unique_ptr<Workshop> workshop);
    void make_views();
    void show_bench();
    void call_back(const QString& words);
    void ask_new();
    void ask_open();
    void open_demo();
    void refresh_soon();
    void refresh();
    void refresh_evidence();
    void tell(const QString& sentence, bool objection);
    void alarm(const QString& sentence);
    void run_command(const QString& words);
    void overrule(Id unit);
    void import_folder();
    void export_pool();

    std::unique_ptr<Workshop> workshop_;
    Route* route_ = nullptr;
    ScanField* scan_ = nullptr;
    EvidencePanel* evidence_ = nullptr;
    StartPage* start_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    MessageBar* messages_ = nullptr;
    QLabel* name_ = nullptr;
    PressButton* hazards_ = nullptr;
    BenchClock* clock_ = nullptr;
    QSystemTrayIcon* tray_ = nullptr;
    QMenu* recent_menu_ = nullptr;
    QMenu* station_menu_ = nullptr;
    QTimer* refresh_timer_ = nullptr;
    QUndoStack* undo_ = nullptr;
    std::array<StationView*, station_count> views_{};
    Station current_ = Station::receive;
};

} // namespace ingot::app
