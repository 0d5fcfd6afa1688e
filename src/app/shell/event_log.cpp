#include "app/shell/event_log.h"

#include <spdlog/sinks/rotating_file_sink.h>
#include <spdlog/spdlog.h>

#include <QFileInfo>

namespace ingot::app::event_log {

namespace {

std::shared_ptr<spdlog::logger>& kept() {
    static std::shared_ptr<spdlog::logger> logger;
    return logger;
}

void write(spdlog::level::level_enum level, const QString& words) {
    if (kept() != nullptr)
        kept()->log(level, words.toStdString());
}

void take_message(QtMsgType type, const QMessageLogContext& /*context*/, const QString& words) {
    write(type == QtDebugMsg || type == QtInfoMsg ? spdlog::level::info : spdlog::level::warn, words);
    if (type == QtFatalMsg || type == QtCriticalMsg)
        std::fprintf(stderr, "ingot: %s\n", qPrintable(words));
}

} // namespace

void begin(const QString& path) {
    try {
        kept() = std::make_shared<spdlog::logger>("ingot", std::make_shared<spdlog::sinks::rotating_file_sink_mt>(
                                                               path.toStdString(), largest_bytes, most_files - 1));
        kept()->flush_on(spdlog::level::info);
        qInstallMessageHandler(take_message);
    } catch (const spdlog::spdlog_ex&) {
        kept().reset(); // a full or read-only disk: the work goes on without a log
    }
}

void note(const QString& words) {
    write(spdlog::level::info, words);
}

void objection(const QString& words) {
    write(spdlog::level::warn, words);
}

void alarm(const QString& words) {
    write(spdlog::level::err, words);
}

} // namespace ingot::app::event_log
