#include "workshop/workshop.h"

#include "store/connection.h"

#include <QCoreApplication>
#include <QFileInfo>

#include <algorithm>

namespace ingot {

namespace {

// Kinds of library files that did not exist yet when the workshop was made come from what is shipped.
std::vector<exchange::LibraryText> add_missing_kinds(std::vector<exchange::LibraryText>& texts) {
    std::vector<exchange::LibraryText> missing;
    const auto shipped = exchange::read_library_texts(Workshop::shipped_folder("data"));
    if (!shipped)
        return missing;
    for (const auto& text : shipped.value())
        if (std::none_of(texts.begin(), texts.end(), [&](const auto& t) { return t.kind == text.kind; }))
            missing.push_back(text);
    texts.insert(texts.end(), missing.begin(), missing.end());
    return missing;
}

Problem damaged(const std::string& path, const std::exception& exception) {
    return {path, 0, said("is damaged ({}). It was not changed. Open the newest backup copy.", exception.what())};
}

} // namespace

std::string Workshop::shipped_folder(const std::string& name) {
    const QString env = qEnvironmentVariable("INGOT_DATA_DIR");
    std::vector<QString> places;
    if (!env.isEmpty())
        places.push_back(env);
    if (QCoreApplication::instance() != nullptr)
        places.push_back(QCoreApplication::applicationDirPath() + QStringLiteral("/../share/ingot"));
    places.push_back(QStringLiteral(INGOT_SOURCE_DIR));
    for (const QString& place : places) {
        const QString folder = place + QLatin1Char('/') + QString::fromStdString(name);
        if (QFileInfo(folder).isDir())
            return folder.toStdString();
    }
    return (places.front() + QLatin1Char('/')).toStdString() + name;
}

Workshop::Workshop(std::unique_ptr<store::WorkshopFile> file, exchange::Library library)
    : session_(std::move(file)), inventory_(session_, std::move(library)) {
    connect(&session_, &Session::changed, this, &Workshop::changed);
}

Result<bool> Workshop::copy(const std::string& from, const std::string& to, const StillWanted& wanted) {
    return store::WorkshopFile::copy(from, to, wanted);
}

void Workshop::hand_to(const QObject& owner) {
    session_.moveToThread(owner.thread());
    moveToThread(owner.thread());
}

Result<std::unique_ptr<Workshop>> Workshop::create(const std::string& path, const std::string& name) {
    const auto texts = exchange::read_library_texts(shipped_folder("data"));
    if (!texts)
        return texts.problem();
    auto library = exchange::parse_library(texts.value());
    if (!library)
        return library.problem();
    auto file = store::WorkshopFile::create(path);
    if (!file)
        return file.problem();
    std::unique_ptr<Workshop> workshop(new Workshop(std::move(file).value(), std::move(library).value()));
    // What the workshop uses is copied into its file: later data files do not change past verdicts.
    Session& session = workshop->session_;
    const auto done = session.step(
        [&] {
            session.catalogue.set("name", name);
            session.catalogue.set("created_at", session.now());
            for (const auto& text : texts.value())
                session.catalogue.add(LibraryRow{text.kind, text.name, text.text, 1});
        },
        {});
    if (!done)
        return done.problem();
    return workshop;
}

Result<std::unique_ptr<Workshop>> Workshop::open(const std::string& path) {
    auto file = store::WorkshopFile::open(path);
    if (!file)
        return file.problem();
    try {
        store::Catalogue catalogue(file.value()->connection());
        std::vector<exchange::LibraryText> texts;
        for (const LibraryRow& row : catalogue.library())
            texts.push_back({row.kind, row.name, row.text});
        if (const auto missing = add_missing_kinds(texts);
            !missing.empty() && file.value()->access() == Access::writing)
            file.value()->connection().together([&] {
                for (const auto& text : missing)
                    catalogue.add(LibraryRow{text.kind, text.name, text.text, 1});
            });
        auto library = exchange::parse_library(texts);
        if (!library)
            return Problem{path, 0, said("its library cannot be read: {}", library.problem().text())};
        return std::unique_ptr<Workshop>(new Workshop(std::move(file).value(), std::move(library).value()));
    } catch (const std::exception& exception) {
        return damaged(path, exception);
    }
}

} // namespace ingot
