#include "app/shell/file_commands.h"

#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/shell/main_window.h"
#include "exchange/pool_csv.h"
#include "exchange/text_file.h"
#include "workshop/job.h"
#include "workshop/wording.h"

#include <QApplication>
#include <QDate>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QMenu>
#include <QSettings>
#include <QStandardPaths>

#include <filesystem>

namespace ingot::app {

namespace {
constexpr int most_recent = 6;
} // namespace

FileCommands::FileCommands(MainWindow& window, QMenu* menu) : QObject(&window), window_(window) {
    menu->addAction(tr("&New workshop…"), QKeySequence::New, this, &FileCommands::ask_new);
    menu->addAction(tr("&Open workshop…"), QKeySequence::Open, this, &FileCommands::ask_open);
    recent_menu_ = menu->addMenu(tr("Open &recent"));
    menu->addSeparator();
    back_up_ = menu->addAction(QString(), this, &FileCommands::back_up);
    back_up_->setObjectName(QStringLiteral("back_up"));
    copying_ = new Job(this);
    connect(copying_, &Job::failed, this, [this](const Problem& problem) {
        show_copying();
        emit told(wording::problem(problem), true);
    });
    show_copying();
    menu->addAction(tr("Bring in a &folder of open files…"), this, &FileCommands::ask_folder);
    menu->addAction(tr("&Export the pool as CSV…"), this, &FileCommands::export_pool);
    menu->addSeparator();
    menu->addAction(tr("&Quit"), QKeySequence::Quit, &window, &QWidget::close);
    fill_recent();
}

Workshop* FileCommands::workshop() {
    if (window_.workshop() == nullptr)
        emit told(tr("No workshop is open. Make or open one first."), true);
    return window_.workshop();
}

QStringList FileCommands::recent() const {
    QStringList existing;
    for (const QString& path : QSettings().value(QStringLiteral("recent")).toStringList())
        if (QFileInfo::exists(path))
            existing << path;
    return existing;
}

void FileCommands::show_copying() {
    back_up_->setText(copying_->busy() ? tr("Stop &backing up") : tr("&Back the workshop up…"));
}

// A whole copy of the file as it is now, while it is open and worked in.
void FileCommands::back_up() {
    if (copying_->busy()) {
        copying_->stop();
        return;
    }
    Workshop* shop = workshop();
    if (shop == nullptr)
        return;
    const QFileInfo file(QString::fromStdString(shop->path()));
    const QString path = QFileDialog::getSaveFileName(
        &window_, tr("Back the workshop up"),
        file.absolutePath() +
            QStringLiteral("/%1 %2.ingot").arg(file.completeBaseName(), QDate::currentDate().toString(Qt::ISODate)),
        tr("Workshops (*.ingot)"));
    if (path.isEmpty())
        return;
    copying_->begin<Result<bool>>(
        [from = shop->path(), to = path.toStdString()](const Job::Token& token) {
            return Workshop::copy(from, to, [&token] { return token.wanted(); });
        },
        [this, path](const Result<bool>& done) {
            show_copying();
            if (!done)
                emit told(wording::problem(done.problem()), true);
            else
                emit told(tr("Backed up to %1. To go back to it, open that file; this one stays as it is.").arg(path),
                          false);
        });
    emit told(tr("Backing up to %1 …").arg(path), false);
    show_copying();
}

// Name and place in one form; the place follows the name until somebody chooses another (N50).
void FileCommands::ask_new() {
    const QString documents = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation);
    const QString ending = QStringLiteral(".ingot");
    const auto whole = [ending](const QString& path) { return path.endsWith(ending) ? path : path + ending; };
    QuestionBox box(&window_, tr("New workshop"));
    QLineEdit* name = box.add_line(tr("What the workshop is called"));
    QLineEdit* place =
        box.add_line(tr("File that keeps it"), documents + QLatin1Char('/'), [whole](const QString& path) {
            const QFileInfo file(whole(path));
            if (file.exists())
                return tr("%1 is there already. Choose another name, or open it.").arg(file.fileName());
            return file.absoluteDir().exists() ? QString() : tr("There is no folder %1.").arg(file.absolutePath());
        });
    name->setObjectName(QStringLiteral("new_name"));
    place->setObjectName(QStringLiteral("new_place"));
    connect(name, &QLineEdit::textEdited, place, [=](const QString& text) {
        if (!place->isModified())
            place->setText(documents + QLatin1Char('/') + text.trimmed().replace(QLatin1Char('/'), QLatin1Char('-')) +
                           ending);
    });
    auto* browse = new PressButton(tr("&Choose the place…"), &box);
    connect(browse, &PressButton::clicked, place, [&box, place, whole] {
        const QString path =
            QFileDialog::getSaveFileName(&box, tr("New workshop"), place->text(), tr("Workshops (*.ingot)"), nullptr,
                                         QFileDialog::DontConfirmOverwrite);
        if (path.isEmpty())
            return;
        place->setText(whole(path));
        place->setModified(true);
    });
    box.add_row({}, browse);
    if (box.ask())
        window_.make_file(whole(place->text().trimmed()), name->text().trimmed());
}

void FileCommands::ask_open() {
    const QString path = QFileDialog::getOpenFileName(&window_, tr("Open workshop"), {}, tr("Workshops (*.ingot)"));
    if (!path.isEmpty())
        window_.open_beside(path);
}

namespace {

// Under another name until it is whole: one that was interrupted is made anew the next time.
Result<bool> make_demo(const std::string& path) {
    const std::string part = path + ".part";
    for (const char* of_file : {"", "-wal", "-shm"})
        std::filesystem::remove(part + of_file);
    {
        auto made = Workshop::create(part, "Fellside Hut & Trail Trust");
        if (!made)
            return made.problem();
        if (auto done = made.value()->import_folder(Workshop::shipped_folder("demo")); !done)
            return done;
    }
    std::filesystem::rename(part, path);
    return true;
}

} // namespace

void FileCommands::open_demo() {
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    QDir().mkpath(folder);
    const QString path = folder + QStringLiteral("/demo.ingot");
    if (QFileInfo::exists(path))
        window_.open_beside(path);
    else
        window_.open_beside(path, {}, make_demo);
}

void FileCommands::ask_folder() {
    if (workshop() == nullptr)
        return;
    const QString folder =
        QFileDialog::getExistingDirectory(&window_, tr("Folder with lots.csv, packs.csv, units.csv, readings.csv"));
    if (!folder.isEmpty())
        window_.bring_in(folder);
}

void FileCommands::export_pool() {
    Workshop* shop = workshop();
    if (shop == nullptr)
        return;
    const QString path =
        QFileDialog::getSaveFileName(&window_, tr("Export the pool"), QStringLiteral("pool.csv"), tr("CSV (*.csv)"));
    if (path.isEmpty())
        return;
    std::vector<Id> ids;
    for (const UnitState& unit : shop->units())
        if (unit.in_stock())
            ids.push_back(unit.record.id);
    if (const auto done =
            exchange::write_text(path.toStdString(), exchange::write_pool(shop->match().problem_for(ids).pool));
        !done)
        emit told(wording::problem(done.problem()), true);
    else
        emit told(tr("%n units written to %1.", nullptr, static_cast<int>(ids.size())).arg(path), false);
}

void FileCommands::fill_recent() {
    recent_menu_->clear();
    const QStringList existing = recent();
    for (const QString& path : existing)
        recent_menu_->addAction(QFileInfo(path).completeBaseName(), this, [this, path] { window_.open_beside(path); })
            ->setToolTip(path);
    recent_menu_->setEnabled(!existing.isEmpty());
    emit recent_changed(existing);
}

void FileCommands::remember(const QString& path) {
    QSettings settings;
    QStringList recent = settings.value(QStringLiteral("recent")).toStringList();
    const QString absolute = QFileInfo(path).absoluteFilePath();
    recent.removeAll(absolute);
    recent.prepend(absolute);
    settings.setValue(QStringLiteral("recent"), recent.mid(0, most_recent));
    fill_recent();
}

} // namespace ingot::app
