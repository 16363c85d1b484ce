/* A comment over a statement
   keeps its lines. */
SELECT
    plot_id, -- which plot
    name /* its name */,
    hectares, -- how large
    -- the warden, if it has one
    warden_id
FROM plot -- all of them
WHERE hectares > 1 -- not the small ones
    AND /* alive */ is_open; -- behind the end

-- Blank lines between statements stay, at most one.
SELECT 1; -- beside it
SELECT 2;
\set nothing
SELECT /*+ a hint belongs to its verb */ name FROM plot;
