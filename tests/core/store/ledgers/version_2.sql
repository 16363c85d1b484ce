-- A ledger as the first version wrote it. It stays as it is: ledgers of every version are about.
CREATE TABLE run (
    run_id        INTEGER PRIMARY KEY AUTOINCREMENT,
    started_at    INTEGER NOT NULL,  -- microseconds since 1970, UTC
    connection_id TEXT NOT NULL,
    connection    TEXT NOT NULL,
    environment   TEXT NOT NULL,
    engine        TEXT NOT NULL,
    database      TEXT NOT NULL,
    user          TEXT NOT NULL,
    sheet         TEXT NOT NULL,
    statement     TEXT NOT NULL,
    status        TEXT NOT NULL,
    duration      INTEGER NOT NULL DEFAULT 0,  -- microseconds
    row_count     INTEGER,
    affected      INTEGER,
    is_partial    INTEGER NOT NULL DEFAULT 0,
    error         TEXT NOT NULL DEFAULT '',
    process       TEXT NOT NULL
);
CREATE INDEX run_by_connection ON run (connection_id, run_id);
CREATE VIRTUAL TABLE run_text USING fts5 (statement, error, sheet, connection, content = 'run',
                                          content_rowid = 'run_id', tokenize = 'trigram');
CREATE TRIGGER run_inserted AFTER INSERT ON run BEGIN
    INSERT INTO run_text (rowid, statement, error, sheet, connection)
    VALUES (new.run_id, new.statement, new.error, new.sheet, new.connection);
END;
CREATE TRIGGER run_deleted AFTER DELETE ON run BEGIN
    INSERT INTO run_text (run_text, rowid, statement, error, sheet, connection)
    VALUES ('delete', old.run_id, old.statement, old.error, old.sheet, old.connection);
END;
CREATE TRIGGER run_updated AFTER UPDATE OF statement, error, sheet, connection ON run BEGIN
    INSERT INTO run_text (run_text, rowid, statement, error, sheet, connection)
    VALUES ('delete', old.run_id, old.statement, old.error, old.sheet, old.connection);
    INSERT INTO run_text (rowid, statement, error, sheet, connection)
    VALUES (new.run_id, new.statement, new.error, new.sheet, new.connection);
END;
ALTER TABLE run ADD COLUMN parameters TEXT NOT NULL DEFAULT '';
PRAGMA user_version = 2;
INSERT INTO run (started_at, connection_id, connection, environment, engine, database, user, sheet, statement, status, duration, row_count, error, process, parameters)
VALUES (1764331200000000, 'c1', 'Kitchen', 'local', 'sqlite', 'kitchen', '', 'Jars', 'SELECT * FROM batch', 'ok', 5000, 24, '', '1', 'least = 200'),
       (1764331260000000, 'c1', 'Kitchen', 'local', 'sqlite', 'kitchen', '', 'Jars', 'SELECT jasr FROM batch', 'failed', 900, NULL, 'No such column: jasr', '1', '');
