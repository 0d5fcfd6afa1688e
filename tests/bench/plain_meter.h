// A bench meter with plain SCPI on a socket: it knows what the standards ask of every meter and nothing of Ingot.
#pragma once

#include <catch2/catch.hpp>

#include <QLocalServer>
#include <QLocalSocket>
#include <QTimer>

#include <map>
#include <string>

namespace ingot::tests {

class PlainMeter {
public:
    explicit PlainMeter(const std::string& path) : path_(path) {
        QLocalServer::removeServer(QString::fromStdString(path));
        REQUIRE(server_.listen(QString::fromStdString(path)));
        QObject::connect(&server_, &QLocalServer::newConnection, [this] {
            peer_ = server_.nextPendingConnection();
            QObject::connect(peer_, &QLocalSocket::readyRead, [this] { read(); });
        });
    }
    [[nodiscard]] std::string address() const { return "socket:" + path_; }
    void say(const std::string& line) { peer_->write((line + "\r\n").c_str()); }
    void hang_up() {
        server_.close();
        peer_->abort();
        peer_ = nullptr;
    }

    std::string identity = "Fell,Bench meter,017,2.1"; // empty: it does not know the question
    std::string volts = "+9.9E37", ohms = "+9.9E37";
    bool mute = false;
    int late_ms = 0;
    std::map<std::string, int> asked;

private:
    void read() {
        while (peer_ != nullptr && peer_->canReadLine()) {
            const std::string line = peer_->readLine().trimmed().toStdString();
            ++asked[line];
            std::string answer;
            if (line == "*IDN?")
                answer = identity;
            else if (line == "MEAS:VOLT:DC?")
                answer = volts;
            else if (line == "MEAS:RES?")
                answer = ohms;
            if (mute || answer.empty())
                continue; // a meter says nothing to what it does not know
            QTimer::singleShot(late_ms, peer_, [this, answer] { say(answer); });
        }
    }

    std::string path_;
    QLocalServer server_;
    QLocalSocket* peer_ = nullptr;
};

} // namespace ingot::tests
