#include "bench/line.h"

#include <QLocalSocket>
#include <QSerialPort>
#include <QTimer>

#include <algorithm>
#include <cctype>
#include <utility>

namespace ingot::bench {

namespace {

constexpr int try_again_ms = 1000;
constexpr int ticks_of_patience = 5;
constexpr std::size_t most_pending = 4U << 20U;
constexpr std::size_t most_waiting = 1000;
constexpr int late_ms = 5000; // an answer that was given up may still come

// IEEE 488.2: maker, model, serial number, version.
bool is_identity(const std::string& line) {
    return std::count(line.begin(), line.end(), ',') == 3 && std::isalpha(static_cast<unsigned char>(line.front()));
}

} // namespace

Line::InStep Line::by_echo() {
    return {[](int number) { return "SYST:ECHO? " + std::to_string(number); },
            [](const std::string& line, int number) { return line == std::to_string(number); }, 0};
}

Line::InStep Line::by_identity() {
    return {[](int) { return std::string("*IDN?"); }, [](const std::string& line, int) { return is_identity(line); },
            2};
}

Line::Line(QObject* parent, InStep in_step)
    : QObject(parent), patience_(new QTimer(this)), again_(new QTimer(this)), in_step_(std::move(in_step)) {
    patience_->setSingleShot(true);
    again_->setSingleShot(true);
    connect(patience_, &QTimer::timeout, this, &Line::tick);
    connect(again_, &QTimer::timeout, this, &Line::connect_device);
}

Line::~Line() {
    if (device_)
        device_->disconnect(this);
}

void Line::open(const std::string& address) {
    close();
    address_ = address;
    connect_device();
}

void Line::close() {
    again_->stop();
    address_.clear();
    if (device_) {
        device_->disconnect(this);
        device_->close();
        device_.release()->deleteLater();
    }
    device_gone({});
    again_->stop();
}

void Line::connect_device() {
    if (address_.empty() || open_)
        return;
    const auto address = parse_address(address_);
    if (!address) {
        device_gone(QString::fromStdString(address.problem().sentence.english()));
        again_->stop();
        return;
    }
    if (device_) {
        device_->disconnect(this);
        device_.release()->deleteLater();
    }
    if (address.value().kind == DeviceAddress::Kind::socket)
        connect_socket(address.value().place);
    else
        connect_port(address.value());
}

void Line::connect_socket(const std::string& path) {
    auto socket = std::make_unique<QLocalSocket>();
    QLocalSocket* raw = socket.get();
    device_ = std::move(socket);
    connect(raw, &QLocalSocket::connected, this, &Line::device_opened);
    connect(raw, &QLocalSocket::disconnected, this, [this] { device_gone(tr("the connection was closed")); });
    connect(raw, &QLocalSocket::errorOccurred, this, [this, raw] {
        if (raw->state() != QLocalSocket::ConnectedState)
            device_gone(raw->errorString());
    });
    connect(raw, &QIODevice::readyRead, this, &Line::read);
    raw->connectToServer(QString::fromStdString(path));
}

void Line::connect_port(const DeviceAddress& address) {
    auto serial = std::make_unique<QSerialPort>();
    QSerialPort* raw = serial.get();
    device_ = std::move(serial);
    raw->setPortName(QString::fromStdString(address.place));
    raw->setBaudRate(address.speed);
    raw->setDataBits(address.data_bits == 7 ? QSerialPort::Data7 : QSerialPort::Data8);
    raw->setParity(address.parity == DeviceAddress::Parity::even  ? QSerialPort::EvenParity
                   : address.parity == DeviceAddress::Parity::odd ? QSerialPort::OddParity
                                                                  : QSerialPort::NoParity);
    raw->setStopBits(address.stop_bits == 2 ? QSerialPort::TwoStop : QSerialPort::OneStop);
    raw->setFlowControl(address.flow == DeviceAddress::Flow::rts   ? QSerialPort::HardwareControl
                        : address.flow == DeviceAddress::Flow::xon ? QSerialPort::SoftwareControl
                                                                   : QSerialPort::NoFlowControl);
    connect(raw, &QSerialPort::errorOccurred, this, [this, raw](QSerialPort::SerialPortError error) {
        if (error == QSerialPort::ResourceError || error == QSerialPort::DeviceNotFoundError ||
            error == QSerialPort::PermissionError)
            device_gone(raw->errorString());
    });
    connect(raw, &QIODevice::readyRead, this, &Line::read);
    if (raw->open(QIODevice::ReadWrite))
        device_opened();
    else
        device_gone(raw->errorString());
}

void Line::device_opened() {
    open_ = true;
    silent_ = false;
    pending_.clear();
    out_of_step_ = false;
    tries_ = 0;
    emit opened();
    next();
}

void Line::device_gone(const QString& why) {
    const bool was_open = open_;
    open_ = false;
    patience_->stop();
    std::deque<Question> lost;
    lost.swap(questions_);
    const bool was_asked = asked_ != nullptr;
    if (asked_)
        lost.push_front(std::move(*asked_));
    asked_.reset();
    for (const Question& question : lost)
        question.answer(Problem{"", 0, said("The device is gone.")}, was_asked && &question == &lost.front());
    if (!address_.empty()) {
        again_->start(try_again_ms);
        if (was_open || !why.isEmpty())
            emit gone(why);
    }
}

void Line::ask(const std::string& question, Answer answer) {
    put({question, [answer = std::move(answer)](const Result<std::string>& line, bool) { answer(line); }, false});
}

void Line::command(const std::string& text, CommandAnswer answer) {
    put({text, std::move(answer), true});
}

void Line::put(Question question) {
    const bool silent = question.now_or_never && out_of_step_;
    if (!open_ || silent || questions_.size() >= most_waiting) {
        // Not from inside the caller: it may not expect the answer yet.
        QTimer::singleShot(0, this, [answer = std::move(question.answer), silent] {
            answer(Problem{"", 0, silent ? said("The device does not answer.") : said("The device is not there.")},
                   false);
        });
        return;
    }
    questions_.push_back(std::move(question));
    next();
}

void Line::next() {
    if (!open_ || asked_ || out_of_step_ || questions_.empty())
        return;
    asked_ = std::make_unique<Question>(std::move(questions_.front()));
    questions_.pop_front();
    send(asked_->text);
    wait_for_answer();
}

void Line::send(const std::string& text) {
    device_->write(text.data(), static_cast<qint64>(text.size()));
    device_->write("\n", 1);
}

void Line::read() {
    const QByteArray bytes = device_->readAll();
    pending_.append(bytes.constData(), static_cast<std::size_t>(bytes.size()));
    std::size_t from = 0;
    std::size_t end = 0;
    while (open_ && (end = pending_.find('\n', from)) != std::string::npos) {
        std::string line = pending_.substr(from, end - from);
        if (!line.empty() && line.back() == '\r')
            line.pop_back();
        from = end + 1;
        take(line);
    }
    pending_.erase(0, std::min(from, pending_.size()));
    if (pending_.size() > most_pending) // it sends without an end
        pending_.clear();
}

void Line::take(const std::string& line) {
    if (out_of_step_) {
        if (!in_step_.answers(line, number_))
            return; // what was asked before comes late
        out_of_step_ = false;
        tries_ = 0;
        patience_->stop();
        silent_ = false;
        emit answered();
        next();
        return;
    }
    if (!asked_) {
        if (!given_up_.isValid() || given_up_.elapsed() > late_ms)
            emit unasked(QString::fromStdString(line));
        return;
    }
    patience_->stop();
    const CommandAnswer answer = std::move(asked_->answer);
    asked_.reset();
    answer(line, true);
    next();
}

void Line::wait_for_answer() {
    ticks_ = 0;
    patience_->start(patience_ms_ / ticks_of_patience);
}

// A thread that was busy for a second finds its timer due before it has read what came meanwhile: that second counts
// as one tick.
void Line::tick() {
    if (++ticks_ < ticks_of_patience)
        patience_->start(patience_ms_ / ticks_of_patience);
    else
        gave_up();
}

void Line::gave_up() {
    given_up_.start();
    std::vector<Question> unanswered;
    const bool was_asked = asked_ != nullptr;
    if (was_asked)
        unanswered.push_back(std::move(*asked_));
    asked_.reset();
    // What waits behind it and was meant for now is not sent when the device comes back.
    for (auto question = questions_.begin(); question != questions_.end();)
        if (question->now_or_never) {
            unanswered.push_back(std::move(*question));
            question = questions_.erase(question);
        } else {
            ++question;
        }
    // Out of step before anybody is told: what they would ask at once is not for now.
    if (open_)
        ask_to_be_in_step();
    if (!silent_) {
        silent_ = true;
        emit silent();
    }
    for (const Question& question : unanswered)
        question.answer(Problem{"", 0, said("The device does not answer.")},
                        was_asked && &question == &unanswered.front());
}

void Line::ask_to_be_in_step() {
    if (in_step_.most_tries > 0 && tries_++ == in_step_.most_tries) {
        tries_ = 0;
        out_of_step_ = false;
        return;
    }
    constexpr int first_number = 70'000;
    number_ = first_number + (number_ + 1) % first_number;
    out_of_step_ = true;
    send(in_step_.question(number_));
    wait_for_answer();
}

} // namespace ingot::bench
