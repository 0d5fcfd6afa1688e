// The real window on a fresh copy of the demo workshop, driven with mouse and keys.
#pragma once

#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/shell/main_window.h"
#include "app/shell/route.h"
#include "app/shell/scan_field.h"
#include "app/shell/scan_sense.h"
#include "sanitized.h"
#include "temporary.h"
#include "workshop/job.h"

#include <catch2/catch.hpp>

#include <QApplication>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QSettings>
#include <QTest>
#include <QTimer>

#include <algorithm>
#include <functional>

namespace ingot::tests {

inline std::string demo_file() {
    static const Temporary folder;
    static const std::string path = [] {
        std::string made = folder.file("demo.ingot");
        auto shop = Workshop::create(made, "Fellside Hut & Trail Trust").value();
        REQUIRE(shop->import_folder(Workshop::shipped_folder("demo")).ok());
        return made;
    }();
    return path;
}

class Window {
public:
    explicit Window(const std::string& workshop = demo_file()) {
        std::filesystem::copy_file(workshop, path(), std::filesystem::copy_options::overwrite_existing);
        window.scan_sense()->set_fastest_key_ms(0);                  // these tests type faster than people do
        QSettings().setValue(QStringLiteral("match_patience"), 0.5); // and wait for less
        window.resize(1280, 800);
        window.show();
        REQUIRE(window.open_file(QString::fromStdString(path())));
        settle();
    }
    [[nodiscard]] std::string path() const { return folder_.file("shop.ingot"); }
    [[nodiscard]] std::string file(const std::string& name) const { return folder_.file(name); }
    // Until what was asked for shows, explanations that are weighed beside the window among it.
    void settle() const {
        constexpr int longest_ms = sanitized ? 120'000 : 20'000;
        QElapsedTimer timer;
        timer.start();
        const auto explaining = [this] {
            const auto jobs = window.findChildren<Job*>(QStringLiteral("explaining"));
            return std::any_of(jobs.begin(), jobs.end(), [](const Job* job) { return job->busy(); });
        };
        do {
            for (int i = 0; i < 4; ++i)
                QApplication::processEvents(QEventLoop::AllEvents, 10);
        } while (explaining() && timer.elapsed() < longest_ms);
    }
    static constexpr int patience_ms = sanitized ? 180'000 : 40'000;
    bool wait_for(const std::function<bool()>& done, int longest_ms = patience_ms) const {
        QElapsedTimer timer;
        timer.start();
        while (!done() && timer.elapsed() < longest_ms)
            QApplication::processEvents(QEventLoop::AllEvents, 10);
        settle();
        return done();
    }
    void go(Station station) {
        QTest::keyClick(window.scan_field(), static_cast<Qt::Key>(Qt::Key_1 + static_cast<int>(station)),
                        Qt::ControlModifier);
        settle();
    }
    // As a scanner does: types and ends with Enter, wherever the focus is.
    void scan(const QString& text) {
        QWidget* focus = QApplication::focusWidget() != nullptr ? QApplication::focusWidget() : window.scan_field();
        for (const QChar c : text) {
            QTest::keyClick(focus, c.toLatin1());
            focus = QApplication::focusWidget() != nullptr ? QApplication::focusWidget() : window.scan_field();
        }
        QTest::keyClick(focus, Qt::Key_Return);
        settle();
    }
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QTest::keyClick(QApplication::focusWidget() != nullptr ? QApplication::focusWidget() : window.scan_field(), key,
                        modifiers);
        settle();
    }
    template <class T> T* view(Station station) { return qobject_cast<T*>(window.view(station)); }
    template <class T> T* find(const char* name) const { return window.findChild<T*>(QString::fromLatin1(name)); }
    void press(const QString& text) {
        for (auto* button : window.findChildren<app::PressButton*>())
            if (button->isVisible() && button->text().remove(QLatin1Char('&')) == text) {
                QTest::mouseClick(button, Qt::LeftButton);
                settle();
                return;
            }
        FAIL("no button " << text.toStdString());
    }
    // A command of the page in sight, by the begin of its words.
    void command(const QString& words) {
        for (QAction* action : window.current_view()->commands())
            if (action->text().remove(QLatin1Char('&')).startsWith(words)) {
                REQUIRE(action->isEnabled());
                action->trigger();
                settle();
                return;
            }
        FAIL("no command " << words.toStdString());
    }
    // Answers the next dialog when it opens.
    static void answer(const std::function<void(QWidget*)>& how) {
        auto* timer = new QTimer;
        QObject::connect(timer, &QTimer::timeout, timer, [timer, how] {
            if (QWidget* dialog = QApplication::activeModalWidget()) {
                timer->deleteLater();
                how(dialog);
            }
        });
        timer->start(20);
    }
    // Chooses that file in the next file dialog.
    static void answer_file(const std::string& path) {
        answer([path](QWidget* dialog) {
            auto* files = qobject_cast<QFileDialog*>(dialog);
            REQUIRE(files != nullptr);
            files->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"))->setText(QString::fromStdString(path));
            static_cast<QDialog*>(files)->accept();
        });
    }
    // Types into the next question's field and accepts. Where the box objects, it stays open: what it said is kept in
    // `objected`, and the box is cancelled.
    static void answer_line(const QString& text, QString* objected = nullptr) {
        answer([text, objected](QWidget* dialog) {
            auto* box = qobject_cast<app::QuestionBox*>(dialog);
            REQUIRE(box != nullptr);
            box->findChild<QLineEdit*>()->setText(text);
            box->accept();
            if (!box->isVisible())
                return;
            if (objected != nullptr)
                *objected = box->findChild<QLabel*>(QStringLiteral("objection"))->text();
            box->reject();
        });
    }
    [[nodiscard]] Workshop& shop() const { return *window.workshop(); }

    app::MainWindow window;

private:
    Temporary folder_;
};

} // namespace ingot::tests
