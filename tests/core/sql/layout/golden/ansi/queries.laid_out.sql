SELECT [Plot Name], "hectares", cast(opened AS date)
FROM plot
WHERE opened >= {d '2020-01-01'} AND name <> N'none'
GO
SELECT p.name, t.variety
FROM plot p
CROSS APPLY (
    SELECT TOP 1 variety
    FROM tree
    WHERE plot_id = p.plot_id
    ORDER BY planted_on
) t
GO
