CREATE TABLE IF NOT EXISTS jar (
    jar_id    integer PRIMARY KEY AUTOINCREMENT,
    label     text    NOT NULL COLLATE nocase,
    price     numeric DEFAULT (1 + 2),
    total GENERATED ALWAYS AS (price * 1.1) STORED,
    filled_on text    DEFAULT current_timestamp,
    UNIQUE (label) ON CONFLICT IGNORE
) STRICT, WITHOUT ROWID;
CREATE TRIGGER IF NOT EXISTS jar_log
    AFTER UPDATE OF price ON jar
    FOR EACH ROW
    WHEN new.price <> old.price
BEGIN
    INSERT INTO price_log (jar_id, price) VALUES (new.jar_id, new.price);
    SELECT CASE WHEN new.price < 0 THEN raise(abort, 'a price cannot be negative') END;
END;
INSERT OR REPLACE INTO jar (label, price)
VALUES
    ('Plum', 3.5),
    ('Quince', 4)
ON CONFLICT (label) DO UPDATE
    SET price = excluded.price
    WHERE excluded.price > jar.price
RETURNING jar_id;
CREATE VIRTUAL TABLE words USING fts5(title, body, tokenize = 'trigram');
PRAGMA journal_mode = wal;
ATTACH 'kitchen.db' AS kitchen;
SELECT iif(price > 3, 'dear', 'cheap') AS band, [label], label GLOB 'P*'
FROM jar INDEXED BY jar_label
WHERE label NOT NULL AND price BETWEEN :low AND :high
ORDER BY label COLLATE nocase DESC NULLS LAST
LIMIT 10
OFFSET ?1;
