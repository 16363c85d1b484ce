CREATE TABLE warden (wrd_id INTEGER PRIMARY KEY, wrd_full_name TEXT NOT NULL, wrd_phone TEXT, wrd_since DATE);
CREATE TABLE plot (plt_id INTEGER PRIMARY KEY, plt_name TEXT NOT NULL, plt_hectares NUMERIC, plt_slope TEXT, plt_warden_id INTEGER REFERENCES warden(wrd_id));
CREATE TABLE variety (var_id INTEGER PRIMARY KEY, var_name TEXT NOT NULL, var_kind TEXT, var_blossom_week INTEGER, var_ripe_week INTEGER);
CREATE TABLE tree (tre_id INTEGER PRIMARY KEY, tre_plt_id INTEGER NOT NULL REFERENCES plot(plt_id), tre_var_id INTEGER REFERENCES variety(var_id), tre_planted_on DATE, tre_height NUMERIC, tre_state TEXT);
CREATE TABLE inspection (ins_id INTEGER PRIMARY KEY, ins_tre_id INTEGER NOT NULL REFERENCES tree(tre_id), ins_wrd_id INTEGER REFERENCES warden(wrd_id), ins_visited_on DATE, ins_scab_score INTEGER, ins_fruit_count INTEGER, ins_remark TEXT);
CREATE TABLE agent (agt_id INTEGER PRIMARY KEY, agt_name TEXT NOT NULL, agt_price NUMERIC, agt_is_organic BOOLEAN);
CREATE TABLE treatment (trt_id INTEGER PRIMARY KEY, trt_ins_id INTEGER REFERENCES inspection(ins_id), trt_agt_id INTEGER REFERENCES agent(agt_id), trt_applied_on DATE, trt_litres NUMERIC);
CREATE TABLE picking (pck_id INTEGER PRIMARY KEY, pck_tre_id INTEGER REFERENCES tree(tre_id), pck_picked_on DATE, pck_kilos NUMERIC, pck_grade TEXT);
CREATE TABLE frost_alert (frs_id INTEGER PRIMARY KEY, frs_plt_id INTEGER REFERENCES plot(plt_id), frs_raised_at TIMESTAMP, frs_degrees NUMERIC, frs_cleared_at TIMESTAMP);
