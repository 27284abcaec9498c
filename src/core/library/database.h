// SPDX-License-Identifier: GPL-3.0-or-later
//
// The one truth on disk: an SQLite file in the data directory, with write-ahead log. A connection
// belongs to the thread that opened it; several threads or applications open one each, and writes
// wait for each other. What a call has returned from survives `kill -9`.
#pragma once

#include "signal/result.h"

#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QString>
#include <QVariant>
#include <filesystem>
#include <functional>
#include <memory>

namespace hr::library {

/// $HONEST_RACK_DATA, else $XDG_DATA_HOME/honest-rack, else ~/.local/share/honest-rack.
std::filesystem::path defaultDataDirectory();

class Database {
public:
    /// Opens or makes catalogue.sqlite in `directory` and brings it to the current version. A file that is
    /// proven to be damaged, or is not what its version says, is kept aside under another name and a new one
    /// made; notice() then says so. One that is busy or cannot be read is left alone.
    static Result<std::unique_ptr<Database>> open(const std::filesystem::path& directory);

    /// Reads the whole file: for now and then, beside everything else, on any thread. Where it is damaged, the
    /// next open() knows it and puts it aside. @return whether it is whole.
    static Result<bool> check(const std::filesystem::path& directory);
    /// Whether it has turned out to be damaged since it was opened.
    static bool isSuspect(const std::filesystem::path& directory);

    ~Database();
    Database(const Database&) = delete;
    Database& operator=(const Database&) = delete;

    const std::filesystem::path& directory() const { return m_directory; }
    /// What the user should know about how it was opened; empty where there is nothing.
    const QString& notice() const { return m_notice; }

    /// Runs one statement with its values; the query is on its first row only after next().
    Result<QSqlQuery> run(const QString& statement, const QVariantList& values = {}) const;

    /// The first column of all its rows.
    Result<QStringList> strings(const QString& statement, const QVariantList& values = {}) const;

    /// The same for one that answers nothing.
    Result<void> change(const QString& statement, const QVariantList& values = {}) const;

    /// `work` in one transaction: all of it is kept, or, where it returns an error, none.
    Result<void> transaction(const std::function<Result<void>()>& work) const;

private:
    explicit Database(std::filesystem::path directory) : m_directory(std::move(directory)) {}
    Result<void> connect();
    // False only where the file itself proves that it is damaged, or not what its version says.
    Result<bool> migrate() const;
    Result<bool> isSound() const;    ///< reads all of it
    Result<bool> isReadable() const; ///< reads what it needs to be opened
    tl::unexpected<Error> failed(const QSqlError& error) const;
    void markSuspect() const; ///< so that the next open() reads all of it
    Result<void> putAside();

    std::filesystem::path m_directory;
    QString m_connection; // name in Qt's registry, which only this class touches
    QString m_notice;
};

} // namespace hr::library
