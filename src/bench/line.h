// A line to a device: a local socket or a serial port (bench/device_address.h). One question at a time; each is
// answered, or given up after a time. Never waits: everything comes back as a signal or a callback.
#pragma once

#include "bench/device_address.h"

#include <QElapsedTimer>
#include <QObject>

#include <deque>
#include <functional>
#include <memory>
#include <string>
#include <vector>

class QIODevice;
class QTimer;

namespace ingot::bench {

class Line : public QObject {
    Q_OBJECT
public:
    // How a device that was silent shows that it answers what it is asked now, and not what was asked before.
    struct InStep {
        std::function<std::string(int number)> question;
        std::function<bool(const std::string& line, int number)> answers;
        int most_tries = 0; // then it is only listened to; 0: it is asked on
    };
    [[nodiscard]] static InStep by_echo();     // it repeats a number: SYST:ECHO?
    [[nodiscard]] static InStep by_identity(); // it says who it is, as any SCPI device does; a few times
    explicit Line(QObject* parent = nullptr, InStep in_step = by_echo());
    ~Line() override;

    // Opens, and opens again by itself when the device goes away and comes back.
    void open(const std::string& address);
    void close();
    [[nodiscard]] bool is_open() const { return open_; }
    [[nodiscard]] const std::string& address() const { return address_; }

    // The answer, or a problem: given up after `patience_ms` in which this thread could have heard it (a thread that
    // was busy itself has not been answered late), or the device went away. An answer that comes late is not taken for
    // the next one: the line first asks for an echo until the device is in step again.
    using Answer = std::function<void(const Result<std::string>&)>;
    void ask(const std::string& question, Answer answer);
    // A command that makes current flow, or ends it: now or not at all. While the device is silent it is not sent, and
    // never later. `sent` tells a command that never left from one whose answer is missing: then the device may have
    // obeyed.
    using CommandAnswer = std::function<void(const Result<std::string>&, bool sent)>;
    void command(const std::string& text, CommandAnswer answer);
    [[nodiscard]] bool in_step() const { return open_ && !out_of_step_; } // it answered what it was asked last
    [[nodiscard]] std::size_t waiting() const { return questions_.size() + (asked_ ? 1 : 0); }
    void set_patience(int ms) { patience_ms_ = ms; }

signals:
    void opened();
    void gone(const QString& why);
    void silent();                     // no answer in time
    void answered();                   // it speaks again
    void unasked(const QString& line); // it spoke by itself; never what is only late

private:
    struct Question {
        std::string text;
        CommandAnswer answer;
        bool now_or_never = false;
    };
    void put(Question question);
    void connect_device();
    void connect_socket(const std::string& path);
    void connect_port(const DeviceAddress& address);
    void device_opened();
    void device_gone(const QString& why);
    void read();
    void take(const std::string& line);
    void next();
    void wait_for_answer();
    void tick();
    void gave_up();
    void ask_to_be_in_step();
    void send(const std::string& text);

    std::string address_;
    std::unique_ptr<QIODevice> device_;
    QTimer* patience_;
    QTimer* again_;
    int patience_ms_ = 1500;
    int ticks_ = 0; // of the patience that are over
    std::deque<Question> questions_;
    std::unique_ptr<Question> asked_;
    std::string pending_;
    InStep in_step_;
    bool out_of_step_ = false;
    int number_ = 0;         // of the question that brings it in step again
    int tries_ = 0;          // to be in step again
    QElapsedTimer given_up_; // since an answer was given up
    bool open_ = false;
    bool silent_ = false;
};

} // namespace ingot::bench
