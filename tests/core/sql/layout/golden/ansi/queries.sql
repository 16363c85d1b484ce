select [Plot Name], "hectares", cast(opened as date) from plot where opened >= {d '2020-01-01'} and name <> N'none'
GO
select p.name, t.variety from plot p cross apply (select top 1 variety from tree where plot_id = p.plot_id order by planted_on) t
GO
