// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/document.h"

#include "processors/json_text.h"
#include "signal/regular_file.h"

#include <QFile>
#include <QSaveFile>

namespace hr::exchange {

using nlohmann::ordered_json;

Result<ordered_json> readDocument(const std::filesystem::path& file)
{
    const auto text = signal::readRegularFile(file, processors::longest_json_bytes);
    if (!text)
        return tl::make_unexpected(text.error());
    if (processors::nestsDeeperThan(*text, processors::deepest_json))
        return wrongRequest(file.string() + " nests lists and objects deeper than " +
                            std::to_string(processors::deepest_json) +
                            " levels: choose a file that Honest Rack wrote.");
    ordered_json document = processors::orderedJsonFrom(*text);
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
