// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/folders.h"

#include "hosting/bundles.h"

#include <algorithm>

namespace hr::library {

namespace {

namespace fs = std::filesystem;

bool canBeRead(const QString& path)
{
    std::error_code failed;
    const fs::directory_iterator walk(path.toStdString(), failed);
    return !failed;
}

} // namespace

Result<std::vector<Folder>> Folders::all() const
{
    std::vector<Folder> folders;
    for (const fs::path& standard : hosting::searchFolders()) {
        const QString path = QString::fromStdString(standard.string());
        folders.push_back({path, false, true, canBeRead(path)});
    }
    auto rows = m_database.run(QStringLiteral("SELECT path, own, used FROM folders ORDER BY path"));
    if (!rows)
        return tl::make_unexpected(rows.error());
    while (rows->next()) {
        const QString path = rows->value(0).toString();
        const bool own = rows->value(1).toBool();
        const bool used = rows->value(2).toBool();
        const auto known = std::ranges::find(folders, path, &Folder::path);
        if (known != folders.end())
            known->used = used;
        else if (own)
            folders.push_back({path, true, used, canBeRead(path)});
    }
    return folders;
}

Result<std::vector<fs::path>> Folders::used() const
{
    auto folders = all();
    if (!folders)
        return tl::make_unexpected(folders.error());
    std::vector<fs::path> paths;
    for (const Folder& folder : *folders)
        if (folder.used)
            paths.emplace_back(folder.path.toStdString());
    return paths;
}

Result<void> Folders::add(const QString& path)
{
    QString clean = QString::fromStdString(fs::path(path.trimmed().toStdString()).lexically_normal().string());
    while (clean.size() > 1 && clean.endsWith(QLatin1Char('/')))
        clean.chop(1);
    if (!clean.startsWith(QLatin1Char('/')))
        return wrongRequest("\"" + path.toStdString() + "\" is not a folder: give its whole path, from / on.");
    if (!canBeRead(clean))
        return wrongRequest("The folder " + clean.toStdString() + " cannot be read: is it there, and yours?");
    auto known = all();
    if (!known)
        return tl::make_unexpected(known.error());
    if (std::ranges::find(*known, clean, &Folder::path) != known->end())
        return wrongRequest("The folder " + clean.toStdString() + " is looked in already.");
    return m_database.change(QStringLiteral("INSERT INTO folders VALUES (?, 1, 1)"), {clean});
}

Result<void> Folders::remove(const QString& path)
{
    return m_database.change(QStringLiteral("DELETE FROM folders WHERE path = ? AND own"), {path});
}

Result<void> Folders::setUsed(const QString& path, bool used)
{
    return m_database.change(QStringLiteral("INSERT INTO folders VALUES (?, 0, ?) "
                                            "ON CONFLICT (path) DO UPDATE SET used = excluded.used"),
                             {path, used});
}

} // namespace hr::library
