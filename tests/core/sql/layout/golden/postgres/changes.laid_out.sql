INSERT INTO warden (warden_id, name)
VALUES
    (1, 'Anna'),
    (2, 'Bert')
ON CONFLICT (warden_id) DO UPDATE
    SET name = excluded.name
    WHERE warden.name IS DISTINCT FROM excluded.name
RETURNING warden_id, name;
INSERT INTO treatment (plot_id, product, dose_ml, given_on)
SELECT plot_id, 'sulphur', 40, current_date
FROM plot
WHERE hectares > 1;
UPDATE plot p
SET hectares = s.n, name = upper(p.name)
FROM (SELECT plot_id, count(*) AS n FROM tree GROUP BY plot_id) s
WHERE s.plot_id = p.plot_id AND p.warden_id IS NULL
RETURNING p.*;
DELETE FROM treatment WHERE given_on < '2020-01-01';
DELETE FROM treatment t
USING plot p
WHERE p.plot_id = t.plot_id AND p.name LIKE 'North%'
RETURNING t.treatment_id;
MERGE INTO stock s
USING delivery d ON s.item = d.item
WHEN MATCHED AND d.amount = 0 THEN
    DELETE
WHEN MATCHED THEN
    UPDATE SET amount = s.amount + d.amount
WHEN NOT MATCHED THEN
    INSERT (item, amount)
    VALUES (d.item, d.amount);
WITH moved AS (
    DELETE FROM reading
    WHERE taken_at < '2020-01-01'
    RETURNING *
)
INSERT INTO old_reading SELECT * FROM moved;
