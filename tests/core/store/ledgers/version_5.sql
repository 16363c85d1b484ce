-- A ledger as the fifth version wrote it. It stays as it is: ledgers of every version are about.
CREATE TABLE statement (
    statement_id INTEGER PRIMARY KEY,
    exact        INTEGER NOT NULL,  -- fingerprint, values included
    text         TEXT NOT NULL
);
CREATE INDEX statement_by_exact ON statement (exact);
CREATE VIRTUAL TABLE statement_text USING fts5 (text, content = 'statement', content_rowid = 'statement_id',
                                                tokenize = 'trigram');
CREATE TRIGGER statement_inserted AFTER INSERT ON statement BEGIN
    INSERT INTO statement_text (rowid, text) VALUES (new.statement_id, new.text);
END;
CREATE TRIGGER statement_deleted AFTER DELETE ON statement BEGIN
    INSERT INTO statement_text (statement_text, rowid, text) VALUES ('delete', old.statement_id, old.text);
    DELETE FROM statement_relation WHERE statement_id = old.statement_id;
END;
CREATE TABLE statement_relation (
    relation     TEXT NOT NULL,  -- in small letters, without its schema
    statement_id INTEGER NOT NULL,
    PRIMARY KEY (relation, statement_id)
) WITHOUT ROWID;
CREATE INDEX relation_by_statement ON statement_relation (statement_id);
CREATE TABLE run (
    run_id        INTEGER PRIMARY KEY AUTOINCREMENT,
    started_at    INTEGER NOT NULL,  -- microseconds since 1970, UTC
    statement_id  INTEGER NOT NULL,
    form          INTEGER NOT NULL,  -- fingerprint of the statement, values apart
    changes       INTEGER NOT NULL,  -- rows or definitions, as far as the statement tells
    connection_id TEXT NOT NULL,
    connection    TEXT NOT NULL,
    environment   TEXT NOT NULL,
    engine        TEXT NOT NULL,
    server        TEXT NOT NULL,
    database      TEXT NOT NULL,
    schema        TEXT NOT NULL,
    user          TEXT NOT NULL,
    sheet         TEXT NOT NULL,
    saved         TEXT NOT NULL,     -- where on the shelf it came from
    parameters    TEXT NOT NULL,
    status        TEXT NOT NULL,
    duration      INTEGER NOT NULL,  -- microseconds, fetching included
    fetching      INTEGER NOT NULL,
    row_count     INTEGER,
    affected      INTEGER,
    is_partial    INTEGER NOT NULL,
    error         TEXT NOT NULL,
    error_code    TEXT NOT NULL,
    error_place   INTEGER,           -- byte of the statement
    note          TEXT NOT NULL,
    is_starred    INTEGER NOT NULL,
    process       TEXT NOT NULL
);
CREATE INDEX run_by_time ON run (started_at);
CREATE INDEX run_by_connection ON run (connection_id, started_at);
CREATE INDEX run_by_statement ON run (statement_id, started_at);
CREATE INDEX run_by_form ON run (form, connection_id, started_at, status, duration, row_count);
CREATE INDEX run_failed ON run (started_at) WHERE status IN ('failed', 'interrupted');
CREATE INDEX run_slow ON run (started_at) WHERE duration >= 1000000;
CREATE INDEX run_starred ON run (started_at) WHERE is_starred = 1;
CREATE INDEX run_by_saved ON run (saved, started_at) WHERE saved <> '';
CREATE INDEX run_running ON run (process) WHERE status = 'running';
CREATE VIRTUAL TABLE run_words USING fts5 (words, tokenize = 'trigram');  -- of errors and notes, where there are any
CREATE TABLE fold (
    connection_id TEXT NOT NULL,
    form          INTEGER NOT NULL,
    last_at       INTEGER NOT NULL,
    last_run      INTEGER NOT NULL,
    runs          INTEGER NOT NULL,
    PRIMARY KEY (connection_id, form)
) WITHOUT ROWID;
CREATE INDEX fold_by_time ON fold (last_at);
CREATE INDEX fold_by_connection ON fold (connection_id, last_at);
CREATE TABLE run_plan (run_id INTEGER PRIMARY KEY, plan TEXT NOT NULL);
CREATE TRIGGER run_with_plan_deleted AFTER DELETE ON run BEGIN DELETE FROM run_plan WHERE run_id = old.run_id; END;
PRAGMA user_version = 5;
INSERT INTO statement (statement_id, exact, text) VALUES (1, 11, 'SELECT jars FROM batch WHERE jars > :least'), (2, 12, 'SELECT jasr FROM batch');
INSERT INTO statement_relation VALUES ('batch', 1), ('batch', 2);
INSERT INTO run (started_at, statement_id, form, changes, connection_id, connection, environment, engine, server, database, schema, user, sheet, saved, parameters, status, duration, fetching, row_count, affected, is_partial, error, error_code, error_place, note, is_starred, process)
VALUES (1795000000000000, 1, 21, 0, 'c1', 'Kitchen', 'local', 'sqlite', '', 'kitchen.db', '', '', 'Jars', '', 'least = 200', 'ok', 5000, 1000, 24, NULL, 0, '', '', NULL, '', 0, ''),
       (1795000001000000, 2, 22, 0, 'c1', 'Kitchen', 'local', 'sqlite', '', 'kitchen.db', '', '', 'Jars', '', '', 'failed', 100, 0, NULL, NULL, 0, 'No such column: jasr', '', 7, '', 0, '');
INSERT INTO run_words (rowid, words) VALUES (2, 'No such column: jasr ');
INSERT INTO fold VALUES ('c1', 21, 1795000000000000, 1, 1), ('c1', 22, 1795000001000000, 2, 1);
