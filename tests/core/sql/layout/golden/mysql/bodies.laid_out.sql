delimiter //
CREATE PROCEDURE water(IN plot int, OUT litres decimal(8, 2))
READS SQL DATA COMMENT 'How much a plot needs'
BEGIN
    DECLARE done bool DEFAULT FALSE;
    DECLARE need decimal(8, 2) DEFAULT 0;
    DECLARE trees CURSOR FOR
        SELECT litres_a_day
        FROM tree
        WHERE plot_id = plot AND is_alive;
    DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
    SET litres = 0;

    OPEN trees;
    each_tree: LOOP
        FETCH trees INTO need;
        IF done THEN
            LEAVE each_tree;
        ELSEIF need IS NULL THEN
            ITERATE each_tree;
        END IF;
        SET litres = litres + need;
    END LOOP each_tree;
    CLOSE trees;
    CASE
    WHEN litres > 1000 THEN
        INSERT INTO alert (plot_id, text) VALUES (plot, 'dry');
    ELSE
        BEGIN
        END;
    END CASE;
    WHILE litres < 0 DO
        SET litres = litres + 1;
    END WHILE;
END//
CREATE TRIGGER tree_default
    BEFORE INSERT ON tree
    FOR EACH ROW
    SET new.variety = ifnull(new.variety, 'unknown')//
CREATE EVENT nightly
    ON SCHEDULE EVERY 1 DAY STARTS '2026-01-01 03:00:00'
    DO DELETE FROM reading WHERE taken_at < now() - interval 90 day//
delimiter ;
