// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/document.h"

#include <QFile>
#include <QSaveFile>

namespace hr::exchange {

using nlohmann::ordered_json;

namespace {

constexpr qint64 most_bytes = 256LL << 20;

} // namespace

Result<ordered_json> readDocument(const std::filesystem::path& file)
{
    QFile in(QString::fromStdString(file.string()));
    if (!in.open(QIODevice::ReadOnly))
        return wrongRequest("Cannot read " + file.string() + " (" + in.errorString().toStdString() +
                            "): check the path.");
    if (in.size() > most_bytes)
        return wrongRequest(file.string() + " is too large: a document has at most 256 MiB.");
    ordered_json document = ordered_json::parse(in.readAll().toStdString(), nullptr, false);
    if (document.is_discarded())
        return wrongRequest(file.string() + " is not a JSON document: choose a file that Honest Rack wrote.");
    return document;
}

Result<void> writeText(const std::filesystem::path& file, const std::string& text)
{
    const QString path = QString::fromStdString(file.string());
    const auto bytes = static_cast<qint64>(text.size());
    // On a full disk write() is content with a part of it, and commit() with what was written.
    const auto wrote = [&](QFileDevice& out) {
        return out.open(QIODevice::WriteOnly) && out.write(text.data(), bytes) == bytes && out.flush();
    };
    const auto failed = [&](const QFileDevice& out) {
        const std::string why = out.error() == QFileDevice::NoError ? "there is no room for all of it"
                                                                    : out.errorString().toStdString();
        return machineFailed("Cannot write " + file.string() + " (" + why + "): choose another place.");
    };
    std::error_code ignored;
    if (std::filesystem::exists(file, ignored) && !std::filesystem::is_regular_file(file, ignored)) {
        QFile out(path); // into a pipe or a device, not in its place
        return wrote(out) ? Result<void>() : failed(out);
    }
    QSaveFile out(path);
    return wrote(out) && out.commit() ? Result<void>() : failed(out);
}

Result<void> writeDocument(const std::filesystem::path& file, const ordered_json& document)
{
    return writeText(file, document.dump(2, ' ', false, ordered_json::error_handler_t::replace) + "\n");
}

} // namespace hr::exchange
