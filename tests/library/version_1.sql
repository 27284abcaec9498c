CREATE TABLE processors (
    number INTEGER PRIMARY KEY, id TEXT NOT NULL UNIQUE, name TEXT NOT NULL, maker TEXT NOT NULL, kind TEXT NOT NULL,
    format TEXT NOT NULL, version TEXT NOT NULL, bundle TEXT NOT NULL, audio_in INTEGER NOT NULL,
    audio_out INTEGER NOT NULL, key_in INTEGER NOT NULL, description TEXT NOT NULL,
    present INTEGER NOT NULL DEFAULT 1, quarantined INTEGER NOT NULL DEFAULT 0, alias TEXT NOT NULL DEFAULT '',
    note TEXT NOT NULL DEFAULT '', rating INTEGER NOT NULL DEFAULT 0, favourite INTEGER NOT NULL DEFAULT 0,
    hidden INTEGER NOT NULL DEFAULT 0, tags TEXT NOT NULL DEFAULT '[]');
CREATE TABLE bundles (path TEXT PRIMARY KEY, signature TEXT NOT NULL);
CREATE TABLE faults (
    number INTEGER PRIMARY KEY, processor TEXT NOT NULL, bundle TEXT NOT NULL, stage TEXT NOT NULL,
    cause TEXT NOT NULL, detail TEXT NOT NULL, at TEXT NOT NULL);
CREATE TABLE readings (
    number INTEGER PRIMARY KEY, processor TEXT NOT NULL, test TEXT NOT NULL, settings TEXT NOT NULL,
    conditions TEXT NOT NULL, reading TEXT NOT NULL, taken TEXT NOT NULL);
CREATE INDEX readings_of ON readings (processor, test);
CREATE TABLE collections (number INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE);
CREATE TABLE collection_items (
    number INTEGER PRIMARY KEY, collection INTEGER NOT NULL REFERENCES collections ON DELETE CASCADE,
    kind TEXT NOT NULL, reference TEXT NOT NULL, settings TEXT NOT NULL, position INTEGER NOT NULL);
CREATE TABLE settings (key TEXT PRIMARY KEY, value TEXT NOT NULL);
CREATE VIRTUAL TABLE search USING fts5 (
    name, alias, maker, kind, tags, note, documentation,
    tokenize = 'unicode61 remove_diacritics 2', prefix = '1 2 3');
INSERT INTO processors (id, name, maker, kind, format, version, bundle, audio_in, audio_out, key_in, description, note)
    VALUES ('reference:gain', 'Gain', '', 'gain', 'reference', '1', '', 2, 2, 0, '{}', 'kept');
INSERT INTO bundles VALUES ('/b', 'seen');
INSERT INTO readings (processor, test, settings, conditions, reading, taken)
    VALUES ('reference:gain', 'response', '{"gain_db":0}', '{"sample_rate":48000}', '{"gain_1k_db":0}',
            '2026-01-31T12:00:00Z');
INSERT INTO collections (name) VALUES ('Old ones');
INSERT INTO collection_items (collection, kind, reference, settings, position)
    VALUES (1, 'processor', 'reference:gain', '[]', 0);
PRAGMA user_version = 1;
