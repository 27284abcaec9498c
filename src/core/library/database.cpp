// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/database.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QFile>
#include <QSqlError>
#include <QUuid>
#include <cstdlib>
#include <fstream>

namespace hr::library {

namespace fs = std::filesystem;

namespace {

constexpr int schema_version = 9;

/// Lies beside a catalogue that was found damaged while it was open.
constexpr const char* suspect_name = "catalogue.suspect";

/// What made version 1, and what each later one changed.
const std::vector<const char*> steps[schema_version] = {
    {// Facts of the processor, then what the user wrote about it: a rescan touches only the former.
     R"(CREATE TABLE processors (
        number INTEGER PRIMARY KEY, id TEXT NOT NULL UNIQUE, name TEXT NOT NULL, maker TEXT NOT NULL, kind TEXT NOT NULL, format TEXT NOT NULL,
        version TEXT NOT NULL, bundle TEXT NOT NULL, audio_in INTEGER NOT NULL, audio_out INTEGER NOT NULL,
        key_in INTEGER NOT NULL, description TEXT NOT NULL, present INTEGER NOT NULL DEFAULT 1,
        quarantined INTEGER NOT NULL DEFAULT 0,
        alias TEXT NOT NULL DEFAULT '', note TEXT NOT NULL DEFAULT '', rating INTEGER NOT NULL DEFAULT 0,
        favourite INTEGER NOT NULL DEFAULT 0, hidden INTEGER NOT NULL DEFAULT 0, tags TEXT NOT NULL DEFAULT '[]'))",
     "CREATE TABLE bundles (path TEXT PRIMARY KEY, signature TEXT NOT NULL)",
     R"(CREATE TABLE faults (
        number INTEGER PRIMARY KEY, processor TEXT NOT NULL, bundle TEXT NOT NULL, stage TEXT NOT NULL,
        cause TEXT NOT NULL, detail TEXT NOT NULL, at TEXT NOT NULL))",
     R"(CREATE TABLE readings (
        number INTEGER PRIMARY KEY, processor TEXT NOT NULL, test TEXT NOT NULL, settings TEXT NOT NULL,
        conditions TEXT NOT NULL, reading TEXT NOT NULL, taken TEXT NOT NULL))",
     "CREATE INDEX readings_of ON readings (processor, test)",
     "CREATE TABLE collections (number INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE)",
     R"(CREATE TABLE collection_items (
        number INTEGER PRIMARY KEY, collection INTEGER NOT NULL REFERENCES collections ON DELETE CASCADE,
        kind TEXT NOT NULL, reference TEXT NOT NULL, settings TEXT NOT NULL, position INTEGER NOT NULL))",
     "CREATE TABLE settings (key TEXT PRIMARY KEY, value TEXT NOT NULL)",
     R"(CREATE VIRTUAL TABLE search USING fts5 (
        name, alias, maker, kind, tags, note, documentation,
        tokenize = 'unicode61 remove_diacritics 2', prefix = '1 2 3'))"},
    // The search moved into memory; small pictures of the readings came.
    {"DROP TABLE search",
     "CREATE TABLE pictures (processor TEXT PRIMARY KEY, response BLOB NOT NULL, in_out BLOB NOT NULL, "
     "harmonics BLOB NOT NULL)"},
    // Where to look, what is offered, what belongs together, presets of one's own, and figures to sort by.
    {"CREATE TABLE folders (path TEXT PRIMARY KEY, own INTEGER NOT NULL, used INTEGER NOT NULL)",
     "CREATE TABLE working_sets (number INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE, rule TEXT NOT NULL)",
     "ALTER TABLE collections ADD COLUMN rule TEXT NOT NULL DEFAULT ''",
     "ALTER TABLE processors ADD COLUMN own_kind TEXT NOT NULL DEFAULT ''",
     "CREATE TABLE builds (id TEXT PRIMARY KEY, under TEXT NOT NULL)",
     R"(CREATE TABLE presets (
        number INTEGER PRIMARY KEY, processor TEXT NOT NULL, name TEXT NOT NULL, bank TEXT NOT NULL,
        settings TEXT NOT NULL, UNIQUE (processor, name)))",
     R"(CREATE TABLE preset_favourites (
        processor TEXT NOT NULL, preset TEXT NOT NULL, PRIMARY KEY (processor, preset)))",
     R"(CREATE TABLE figures (
        processor TEXT PRIMARY KEY, thd_percent REAL, realtime_factor REAL, latency_samples REAL, shift_lu REAL,
        idle_dbfs REAL, behaves_like TEXT NOT NULL, fingerprint BLOB NOT NULL))"},
    // Whole descriptions apart: the list is read at every start, they are not. Presets for processors of other
    // bundles, and chains among what is kept.
    {"CREATE TABLE descriptions (id TEXT PRIMARY KEY, description TEXT NOT NULL)",
     "INSERT INTO descriptions SELECT id, description FROM processors",
     "ALTER TABLE processors ADD COLUMN documentation TEXT NOT NULL DEFAULT ''",
     R"(UPDATE processors SET documentation = coalesce(json_extract(description, '$.documentation'), '')
        WHERE json_valid(description))",
     "ALTER TABLE processors DROP COLUMN description",
     R"(CREATE TABLE presets_apart (
        number INTEGER PRIMARY KEY, bundle TEXT NOT NULL, processor TEXT NOT NULL, preset TEXT NOT NULL))",
     "CREATE INDEX presets_apart_of ON presets_apart (processor)",
     "ALTER TABLE collection_items ADD COLUMN chain TEXT NOT NULL DEFAULT ''",
     "UPDATE bundles SET signature = ''"}, // so that the next scan finds the presets in them
    // Readings belong to runs, whose set-up says what exactly was measured; their figures can be sorted by.
    // What
    // third-party code was refused and may do. What is installed but not hosted.
    {"ALTER TABLE collections RENAME COLUMN number TO row_id",
     "ALTER TABLE collection_items RENAME COLUMN number TO row_id",
     "ALTER TABLE working_sets RENAME COLUMN number TO row_id",
     "ALTER TABLE presets RENAME COLUMN number TO row_id", "ALTER TABLE faults RENAME COLUMN number TO row_id",
     "ALTER TABLE processors RENAME COLUMN number TO row_id",
     "ALTER TABLE presets_apart RENAME COLUMN number TO row_id",
     R"(CREATE TABLE runs (
        row_id INTEGER PRIMARY KEY, processor TEXT NOT NULL, set_up TEXT NOT NULL, build TEXT NOT NULL,
        preset TEXT NOT NULL, settings TEXT NOT NULL, title TEXT NOT NULL, conditions TEXT NOT NULL,
        alike TEXT NOT NULL, bench_version TEXT NOT NULL, started TEXT NOT NULL, outcome TEXT NOT NULL,
        failure TEXT NOT NULL))",
     "CREATE INDEX runs_of ON runs (processor)", "CREATE INDEX runs_of_set_up ON runs (set_up, alike)",
     // Of which build they were is not known: they are nobody's set-up.
     R"(INSERT INTO runs (processor, set_up, build, preset, settings, title, conditions, alike, bench_version, started,
        outcome, failure) SELECT processor, '', '', '', settings, processor, conditions, '', '', taken, 'complete', ''
        FROM readings GROUP BY processor, settings, conditions, taken)",
     "ALTER TABLE readings RENAME TO readings_4", "DROP INDEX readings_of",
     R"(CREATE TABLE readings (
        row_id INTEGER PRIMARY KEY, run INTEGER NOT NULL REFERENCES runs ON DELETE CASCADE, test TEXT NOT NULL,
        reading TEXT NOT NULL))",
     R"(INSERT INTO readings (run, test, reading) SELECT runs.row_id, test, reading FROM readings_4 JOIN runs
        ON runs.processor = readings_4.processor AND runs.settings = readings_4.settings
        AND runs.conditions = readings_4.conditions AND started = taken
        WHERE number IN (SELECT max(number) FROM readings_4 GROUP BY processor, settings, conditions, taken, test))",
     "DROP TABLE readings_4", "CREATE INDEX readings_of ON readings (run, test)", "DROP TABLE figures",
     R"(CREATE TABLE figures (
        run INTEGER NOT NULL REFERENCES runs ON DELETE CASCADE, test TEXT NOT NULL, key TEXT NOT NULL,
        value REAL NOT NULL, PRIMARY KEY (run, test, key)) WITHOUT ROWID)",
     "CREATE INDEX figures_by_value ON figures (test, key, value)",
     // Which run stands for a processor in lists, test by test: at its defaults, of the build that is
     // installed.
     R"(CREATE TABLE standing (
        processor TEXT NOT NULL, test TEXT NOT NULL, run INTEGER NOT NULL REFERENCES runs ON DELETE CASCADE,
        PRIMARY KEY (processor, test)) WITHOUT ROWID)",
     "CREATE INDEX standing_of_run ON standing (run)",
     R"(CREATE TABLE behaviours (
        processor TEXT PRIMARY KEY, behaves_like TEXT NOT NULL, fingerprint BLOB NOT NULL))",
     "DELETE FROM pictures", "ALTER TABLE bundles ADD COLUMN build TEXT NOT NULL DEFAULT ''",
     "ALTER TABLE processors ADD COLUMN kind_proposed INTEGER NOT NULL DEFAULT 0",
     "ALTER TABLE processors ADD COLUMN refusals TEXT NOT NULL DEFAULT ''",
     "ALTER TABLE processors ADD COLUMN may_use_network INTEGER NOT NULL DEFAULT 0",
     "ALTER TABLE processors ADD COLUMN may_write_to TEXT NOT NULL DEFAULT ''",
     R"(CREATE TABLE left_out (
        bundle TEXT NOT NULL, id TEXT NOT NULL, name TEXT NOT NULL, reason TEXT NOT NULL,
        PRIMARY KEY (bundle, id)) WITHOUT ROWID)",
     "UPDATE bundles SET signature = ''"}, // so that the next scan tells builds, refusals and what is left out
    // Blind trials.
    {R"(CREATE TABLE trials (
        row_id INTEGER PRIMARY KEY, first TEXT NOT NULL, second TEXT NOT NULL, document TEXT NOT NULL))"},
    // Saved line-ups.
    {R"(CREATE TABLE line_ups (
        row_id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE, changed TEXT NOT NULL, document TEXT NOT NULL))"},
    // The notebook: pages, and what was done when.
    {R"(CREATE TABLE pages (
        row_id INTEGER PRIMARY KEY, title TEXT NOT NULL, changed TEXT NOT NULL, document TEXT NOT NULL))",
     R"(CREATE TABLE journal (
        row_id INTEGER PRIMARY KEY, at TEXT NOT NULL, kind TEXT NOT NULL, text TEXT NOT NULL))",
     "CREATE INDEX journal_by_time ON journal (at)"},
    // What processors keep beside their parameters; what third-party code may read.
    {"ALTER TABLE processors ADD COLUMN may_read_from TEXT NOT NULL DEFAULT ''",
     "ALTER TABLE collection_items ADD COLUMN imported TEXT NOT NULL DEFAULT ''",
     "ALTER TABLE presets ADD COLUMN state BLOB NOT NULL DEFAULT ''",
     "ALTER TABLE runs ADD COLUMN state BLOB NOT NULL DEFAULT ''",
     "UPDATE bundles SET signature = ''"}, // so that the next scan finds the states of presets
};

/// What has happened and what can be done, by the code that SQLite gives (sqlite.org/rescode.html).
std::string causeOf(const QSqlError& error)
{
    constexpr int primary = 0xff; // of an extended code
    switch (error.nativeErrorCode().toInt() & primary) {
    case 5:
    case 6:
        return "another program is writing to it: try again in a moment";
    case 8:
        return "it can only be read: check the permissions of its folder, or choose another with --data";
    case 10:
        return "the disk failed: check it, and keep a copy of the folder";
    case 11:
    case 26:
        return "it is damaged: start Honest Rack again, which puts it aside and begins a new one";
    case 13:
        return "the disk is full: make room there";
    case 14:
        return "it cannot be opened: check the permissions of its folder, or choose another with --data";
    default:
        return error.text().toStdString();
    }
}

bool provesDamage(const QSqlError& error)
{
    constexpr int primary = 0xff;
    const int code = error.nativeErrorCode().toInt() & primary;
    return code == 11 || code == 26; // SQLITE_CORRUPT, SQLITE_NOTADB
}

} // namespace

fs::path defaultDataDirectory()
{
    if (const char* named = std::getenv("HONEST_RACK_DATA"); named && *named)
        return named;
    if (const char* xdg = std::getenv("XDG_DATA_HOME"); xdg && *xdg)
        return fs::path(xdg) / "honest-rack";
    const char* home = std::getenv("HOME");
    return fs::path(home ? home : "/tmp") / ".local" / "share" / "honest-rack";
}

Result<std::unique_ptr<Database>> Database::open(const fs::path& directory)
{
    std::error_code failed;
    fs::create_directories(directory, failed);
    if (failed)
        return machineFailed("The data directory " + directory.string() + " cannot be made (" +
                             failed.message() + "): choose another with --data.");
    std::unique_ptr<Database> database(new Database(directory));
    if (auto connected = database->connect(); !connected)
        return tl::make_unexpected(connected.error());
    const fs::path suspect = directory / suspect_name;
    auto sound = fs::exists(suspect, failed) ? database->isSound() : database->isReadable();
    if (sound && *sound)
        sound = database->migrate();
    if (!sound && fs::exists(suspect, failed)) // it has turned out to be damaged meanwhile
        sound = database->isSound();
    if (!sound) // busy, unreadable, of a newer version: no reason to put it aside
        return tl::make_unexpected(sound.error());
    if (!*sound) {
        if (auto aside = database->putAside(); !aside)
            return tl::make_unexpected(aside.error());
        if (auto connected = database->connect(); !connected)
            return tl::make_unexpected(connected.error());
        if (auto migrated = database->migrate(); !migrated)
            return tl::make_unexpected(migrated.error());
    }
    fs::remove(suspect, failed);
    return database;
}

Result<bool> Database::check(const fs::path& directory)
{
    Database database(directory);
    if (auto connected = database.connect(); !connected)
        return tl::make_unexpected(connected.error());
    auto sound = database.isSound();
    if (sound && !*sound)
        database.markSuspect();
    return sound;
}

bool Database::isSuspect(const fs::path& directory)
{
    std::error_code ignored;
    return fs::exists(directory / suspect_name, ignored);
}

void Database::markSuspect() const
{
    std::ofstream(m_directory / suspect_name) << "to be checked when it is opened next\n";
}

Database::~Database()
{
    QSqlDatabase::removeDatabase(m_connection);
}

Result<void> Database::connect()
{
    m_connection = QUuid::createUuid().toString();
    auto connection = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), m_connection);
    connection.setDatabaseName(QFile::decodeName((m_directory / "catalogue.sqlite").c_str()));
    connection.setConnectOptions(QStringLiteral("QSQLITE_BUSY_TIMEOUT=10000"));
    if (!connection.open())
        return failed(connection.lastError());
    return {};
}

Result<bool> Database::isSound() const
{
    QSqlQuery query(QSqlDatabase::database(m_connection, false));
    if (query.exec(QStringLiteral("PRAGMA quick_check(1)")) && query.next())
        return query.value(0).toString() == QStringLiteral("ok");
    if (provesDamage(query.lastError()))
        return false;
    return failed(query.lastError());
}

Result<bool> Database::isReadable() const
{
    QSqlQuery query(QSqlDatabase::database(m_connection, false));
    if (query.exec(QStringLiteral("SELECT count(*) FROM sqlite_schema")) && query.next())
        return true;
    if (provesDamage(query.lastError()))
        return false;
    return failed(query.lastError());
}

tl::unexpected<Error> Database::failed(const QSqlError& error) const
{
    if (provesDamage(error))
        markSuspect();
    return machineFailed("The catalogue in " + m_directory.string() + " failed: " + causeOf(error) + ".");
}

Result<void> Database::putAside()
{
    QSqlDatabase::database(m_connection).close();
    QSqlDatabase::removeDatabase(m_connection);
    const std::string stamp =
        QDateTime::currentDateTimeUtc().toString(QStringLiteral("yyyyMMdd-HHmmss")).toStdString();
    const std::string kept = (m_directory / ("catalogue.damaged-" + stamp + ".sqlite")).string();
    const std::string found = (m_directory / "catalogue.sqlite").string();
    std::error_code failed;
    fs::rename(found, kept, failed);
    if (failed)
        return machineFailed("The catalogue in " + m_directory.string() +
                             " is damaged and cannot be put aside (" + failed.message() +
                             "): move it away by hand.");
    std::error_code ignored;
    fs::rename(found + "-wal", kept + "-wal", ignored); // with it, it may be mended
    fs::remove(found + "-shm", ignored);
    m_notice =
        QStringLiteral(
            "The catalogue was damaged. It is kept as %1, and a new one was begun: scan again to fill it.")
            .arg(QString::fromStdString(kept));
    return {};
}

Result<bool> Database::migrate() const
{
    for (const char* pragma :
         {"PRAGMA journal_mode = WAL", "PRAGMA synchronous = NORMAL", "PRAGMA foreign_keys = ON"})
        if (auto done = run(QLatin1String(pragma)); !done)
            return tl::make_unexpected(done.error());
    bool known = true; // whether it is what its version says
    auto done = transaction([this, &known]() -> Result<void> {
        auto version = run(QStringLiteral("PRAGMA user_version"));
        if (!version)
            return tl::make_unexpected(version.error());
        const int found = version->next() ? version->value(0).toInt() : 0;
        version->finish();
        if (found > schema_version)
            return wrongRequest(
                "The catalogue in " + m_directory.string() +
                " was written by a newer version of Honest Rack: use that one, or another --data.");
        if (found == schema_version)
            return {};
        known = found >= 0;
        for (int step = std::max(found, 0); step < schema_version && known; ++step)
            for (const char* statement : steps[step]) {
                QSqlQuery query(QSqlDatabase::database(m_connection, false));
                if (query.exec(QLatin1String(statement)))
                    continue;
                constexpr int wrong_schema = 1; // SQLITE_ERROR: a table is there that should not be, or lacks
                known = query.lastError().nativeErrorCode().toInt() != wrong_schema;
                return failed(query.lastError());
            }
        if (!known)
            return wrongRequest("The catalogue in " + m_directory.string() + " is not what its version says.");
        if (auto set = run(QStringLiteral("PRAGMA user_version = %1").arg(schema_version)); !set)
            return tl::make_unexpected(set.error());
        return {};
    });
    if (!known)
        return false;
    return done ? Result<bool>(true) : tl::make_unexpected(done.error());
}

Result<QSqlQuery> Database::run(const QString& statement, const QVariantList& values) const
{
    QSqlQuery query(QSqlDatabase::database(m_connection, false));
    query.setForwardOnly(true);
    bool good = query.prepare(statement);
    for (const QVariant& value : values)
        // A null QString would become NULL; nothing of ours is ever NULL.
        query.addBindValue(value.typeId() == QMetaType::QString && value.toString().isNull()
                               ? QVariant(QStringLiteral(""))
                               : value);
    good = good && query.exec();
    if (!good)
        return failed(query.lastError());
    return query;
}

Result<QStringList> Database::strings(const QString& statement, const QVariantList& values) const
{
    auto rows = run(statement, values);
    if (!rows)
        return tl::make_unexpected(rows.error());
    QStringList all;
    while (rows->next())
        all << rows->value(0).toString();
    return all;
}

Result<void> Database::change(const QString& statement, const QVariantList& values) const
{
    auto done = run(statement, values);
    return done ? Result<void>() : tl::make_unexpected(done.error());
}

Result<void> Database::transaction(const std::function<Result<void>()>& work) const
{
    // IMMEDIATE: a transaction that will write waits at its beginning, where it can, not in its middle.
    if (auto begun = run(QStringLiteral("BEGIN IMMEDIATE")); !begun)
        return tl::make_unexpected(begun.error());
    auto done = work();
    if (done) {
        auto kept = run(QStringLiteral("COMMIT"));
        if (kept)
            return {};
        done = tl::make_unexpected(kept.error());
    }
    (void)run(QStringLiteral("ROLLBACK"));
    return done;
}

} // namespace hr::library
