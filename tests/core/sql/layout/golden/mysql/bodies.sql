delimiter //
create procedure water(in plot int, out litres decimal(8,2)) reads sql data comment 'How much a plot needs' begin declare done bool default false; declare need decimal(8,2) default 0; declare trees cursor for select litres_a_day from tree where plot_id = plot and is_alive; declare continue handler for not found set done = true; set litres = 0;

 open trees; each_tree: loop fetch trees into need; if done then leave each_tree; elseif need is null then iterate each_tree; end if; set litres = litres + need; end loop each_tree; close trees; case when litres > 1000 then insert into alert (plot_id, text) values (plot, 'dry'); else begin end; end case; while litres < 0 do set litres = litres + 1; end while; end//
create trigger tree_default before insert on tree for each row set new.variety = ifnull(new.variety, 'unknown')//
create event nightly on schedule every 1 day starts '2026-01-01 03:00:00' do delete from reading where taken_at < now() - interval 90 day//
delimiter ;
