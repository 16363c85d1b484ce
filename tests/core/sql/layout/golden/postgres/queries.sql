-- Two clauses stay on one line when they fit.
select name from plot;
-- With more clauses each has a line of its own, and joins stand at the depth of FROM.
select p.name, count(*) as trees from plot p join tree t on t.plot_id = p.plot_id where t.is_alive group by p.name order by trees desc limit 10;
-- A list that does not fit takes a line an item.
select p.plot_id, p.name as plot, w.name as warden, round(p.hectares * 2.47, 1) as acres, count(t.tree_id) as trees, max(t.planted_on) as youngest from plot p left join warden w on w.warden_id = p.warden_id left join tree t on t.plot_id = p.plot_id and t.is_alive group by p.plot_id, w.name;
-- Conditions break before AND and OR; what belongs together stays together.
select tree_id from tree where (variety = 'Larkspur Red' or variety = 'Vale Russet' and planted_on < date '2015-01-01') and is_alive and plot_id in (select plot_id from plot where hectares > 1.5) and not exists (select 1 from inspection i where i.tree_id = tree.tree_id and i.scab_score > 4);
-- Long lists fill their lines.
select tree_id from tree where tree_id in (101, 102, 103, 104, 105, 106, 107, 108, 109, 110, 111, 112, 113, 114, 115, 116, 117, 118, 119, 120, 121, 122);
-- Common tables first, each in its parentheses.
with visits as (select tree_id, count(*) as n from inspection group by tree_id), bad(tree_id) as materialized (select tree_id from inspection where scab_score > 4) select v.tree_id, v.n from visits v join bad using (tree_id);
-- CASE, window functions, FILTER, arrays and JSON.
select case when max(i.scab_score) >= 7 then 'spray at once' when max(i.scab_score) >= 3 then 'watch every week' else 'fine' end as advice, row_number() over (partition by t.plot_id order by i.visited_on desc, i.inspection_id) as r, sum(i.scab_score) over (order by i.visited_on rows between 6 preceding and current row) as week, count(*) filter (where i.scab_score > 4) as bad, (array_agg(i.remark order by i.visited_on))[1:3] as remarks, e.payload -> 'kettle' ->> 'name' as kettle from inspection i join tree t using (tree_id), gateway_event e group by t.plot_id, i.visited_on, i.inspection_id, e.payload;
-- Set operations.
(select name from plot where hectares > 2 order by name limit 3) union all select name from warden where since < '2020-01-01' except select 'nobody';
select distinct on (plot_id) plot_id, variety from tree t, lateral (select max(visited_on) as latest from inspection i where i.tree_id = t.tree_id) l where l.latest > now() - interval '30 days' order by plot_id, planted_on desc nulls last fetch first 5 rows with ties for update of t skip locked;
