-- Two clauses stay on one line when they fit.
SELECT name FROM plot;
-- With more clauses each has a line of its own, and joins stand at the depth of FROM.
SELECT p.name, count(*) AS trees
FROM plot p
JOIN tree t ON t.plot_id = p.plot_id
WHERE t.is_alive
GROUP BY p.name
ORDER BY trees DESC
LIMIT 10;
-- A list that does not fit takes a line an item.
SELECT
    p.plot_id,
    p.name AS plot,
    w.name AS warden,
    round(p.hectares * 2.47, 1) AS acres,
    count(t.tree_id) AS trees,
    max(t.planted_on) AS youngest
FROM plot p
LEFT JOIN warden w ON w.warden_id = p.warden_id
LEFT JOIN tree t ON t.plot_id = p.plot_id AND t.is_alive
GROUP BY p.plot_id, w.name;
-- Conditions break before AND and OR; what belongs together stays together.
SELECT tree_id
FROM tree
WHERE (
        variety = 'Larkspur Red'
        OR variety = 'Vale Russet' AND planted_on < date '2015-01-01'
    )
    AND is_alive
    AND plot_id IN (SELECT plot_id FROM plot WHERE hectares > 1.5)
    AND NOT EXISTS (
        SELECT 1
        FROM inspection i
        WHERE i.tree_id = tree.tree_id AND i.scab_score > 4
    );
-- Long lists fill their lines.
SELECT tree_id
FROM tree
WHERE tree_id IN (
    101, 102, 103, 104, 105, 106, 107, 108, 109, 110, 111, 112, 113, 114, 115, 116, 117,
    118, 119, 120, 121, 122
);
-- Common tables first, each in its parentheses.
WITH visits AS (
    SELECT tree_id, count(*) AS n
    FROM inspection
    GROUP BY tree_id
),
bad (tree_id) AS MATERIALIZED (
    SELECT tree_id
    FROM inspection
    WHERE scab_score > 4
)
SELECT v.tree_id, v.n
FROM visits v
JOIN bad USING (tree_id);
-- CASE, window functions, FILTER, arrays and JSON.
SELECT
    CASE
        WHEN max(i.scab_score) >= 7 THEN 'spray at once'
        WHEN max(i.scab_score) >= 3 THEN 'watch every week'
        ELSE 'fine'
    END AS advice,
    row_number() OVER (
        PARTITION BY t.plot_id
        ORDER BY i.visited_on DESC, i.inspection_id
    ) AS r,
    sum(i.scab_score) OVER (
        ORDER BY i.visited_on
        ROWS BETWEEN 6 PRECEDING AND CURRENT ROW
    ) AS week,
    count(*) FILTER (WHERE i.scab_score > 4) AS bad,
    (array_agg(i.remark ORDER BY i.visited_on))[1:3] AS remarks,
    e.payload -> 'kettle' ->> 'name' AS kettle
FROM inspection i
    JOIN tree t USING (tree_id),
    gateway_event e
GROUP BY t.plot_id, i.visited_on, i.inspection_id, e.payload;
-- Set operations.
(SELECT name FROM plot WHERE hectares > 2 ORDER BY name LIMIT 3)
UNION ALL
SELECT name
FROM warden
WHERE since < '2020-01-01'
EXCEPT
SELECT 'nobody';
SELECT DISTINCT ON (plot_id) plot_id, variety
FROM tree t,
    LATERAL (
        SELECT max(visited_on) AS latest
        FROM inspection i
        WHERE i.tree_id = t.tree_id
    ) l
WHERE l.latest > now() - interval '30 days'
ORDER BY plot_id, planted_on DESC NULLS LAST
FETCH FIRST 5 ROWS WITH TIES
FOR UPDATE OF t SKIP LOCKED;
