/* A comment over a statement
   keeps its lines. */
select plot_id, -- which plot
  name /* its name */, hectares -- how large
  -- the warden, if it has one
  , warden_id
from plot -- all of them
where hectares > 1 -- not the small ones
  and /* alive */ is_open; -- behind the end


-- Blank lines between statements stay, at most one.
select 1; -- beside it
select 2;
\set nothing
select /*+ a hint belongs to its verb */ name from plot;
