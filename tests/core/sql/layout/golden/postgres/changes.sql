insert into warden (warden_id, name) values (1, 'Anna'), (2, 'Bert') on conflict (warden_id) do update set name = excluded.name where warden.name is distinct from excluded.name returning warden_id, name;
insert into treatment (plot_id, product, dose_ml, given_on) select plot_id, 'sulphur', 40, current_date from plot where hectares > 1;
update plot p set hectares = s.n, name = upper(p.name) from (select plot_id, count(*) as n from tree group by plot_id) s where s.plot_id = p.plot_id and p.warden_id is null returning p.*;
delete from treatment where given_on < '2020-01-01';
delete from treatment t using plot p where p.plot_id = t.plot_id and p.name like 'North%' returning t.treatment_id;
merge into stock s using delivery d on s.item = d.item when matched and d.amount = 0 then delete when matched then update set amount = s.amount + d.amount when not matched then insert (item, amount) values (d.item, d.amount);
with moved as (delete from reading where taken_at < '2020-01-01' returning *) insert into old_reading select * from moved;
