CREATE TABLE IF NOT EXISTS picking (
    picking_id bigint        GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    tree_id    integer       NOT NULL REFERENCES tree (tree_id) ON DELETE CASCADE,
    picked_on  date          NOT NULL DEFAULT current_date,
    weight_kg  numeric(6, 2) CHECK (weight_kg > 0),
    picker     text          COLLATE "C",
    note       text,
    CONSTRAINT picking_once UNIQUE (tree_id, picked_on),
    FOREIGN KEY (tree_id, picked_on)
        REFERENCES visit (tree_id, visited_on) DEFERRABLE INITIALLY DEFERRED
)
PARTITION BY RANGE (picked_on);
CREATE TABLE small (id integer);
CREATE TABLE crop AS
SELECT variety, sum(weight_kg) AS kg
FROM picking
JOIN tree USING (tree_id)
GROUP BY variety
    WITH NO DATA;
CREATE OR REPLACE VIEW heavy_crop (variety, kg) AS
SELECT variety, sum(weight_kg)
FROM picking
JOIN tree USING (tree_id)
GROUP BY variety
HAVING sum(weight_kg) > 1000;
CREATE UNIQUE INDEX CONCURRENTLY IF NOT EXISTS picking_by_tree
    ON picking USING btree (tree_id, picked_on DESC NULLS LAST)
    INCLUDE (weight_kg)
    WHERE weight_kg IS NOT NULL;
ALTER TABLE picking
    ADD COLUMN quality smallint DEFAULT 1 NOT NULL,
    ALTER COLUMN note SET DATA TYPE varchar(200) USING left(note, 200),
    DROP CONSTRAINT picking_once;
ALTER TABLE picking OWNER TO orchard;
CREATE FUNCTION scab_advice(score integer, wet boolean DEFAULT FALSE)
RETURNS text
LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE
AS $$ select case when score > 4 then 'spray' else 'wait' end $$;
CREATE TRIGGER picking_log
    AFTER INSERT OR UPDATE OF weight_kg ON picking
    FOR EACH ROW
    WHEN (new.weight_kg IS DISTINCT FROM old.weight_kg)
    EXECUTE FUNCTION log_picking('weight');
CREATE TYPE ripeness AS ENUM ('green', 'ripe', 'late');
CREATE TYPE place AS (
    latitude  numeric(9, 6),
    longitude numeric(9, 6)
);
COMMENT ON COLUMN picking.weight_kg
    IS 'Without the crate; the scale of the packing house rounds to ten grams.';
GRANT SELECT, INSERT (tree_id, picked_on)
    ON TABLE picking, tree
    TO picker, "Anna Ferris"
    WITH GRANT OPTION;
EXPLAIN (ANALYZE, BUFFERS)
SELECT *
FROM picking
WHERE tree_id = 1;
PREPARE by_tree (integer) AS
SELECT *
FROM picking
WHERE tree_id = $1;
DO $$ begin perform 1; end $$;
CREATE SCHEMA annex
    CREATE TABLE shed (
        shed_id integer PRIMARY KEY,
        name    text
    )
    CREATE VIEW sheds AS
    SELECT name FROM shed;
