CREATE TABLE `kettle` (
    `kettle_id` int(11) unsigned        NOT NULL AUTO_INCREMENT,
    `label`     varchar(40) character set utf8mb4 COLLATE utf8mb4_bin DEFAULT NULL
        COMMENT 'what people call it',
    kind        enum('copper', 'steel') NOT NULL DEFAULT 'steel',
    made        timestamp               NOT NULL
        DEFAULT current_timestamp ON UPDATE current_timestamp,
    PRIMARY KEY (`kettle_id`),
    UNIQUE KEY `label_key` (`label`(10)),
    KEY `by_kind` (`kind`, `made` DESC) USING btree
) ENGINE = InnoDB AUTO_INCREMENT = 100 DEFAULT CHARSET = utf8mb4
    COMMENT = 'Kettles of the kitchen' /*!50100 partition by hash (kettle_id) partitions 4 */;
ALTER TABLE kettle
    ADD COLUMN size int NOT NULL DEFAULT 3 AFTER label,
    ADD INDEX by_size (size),
    DROP INDEX by_kind,
    ENGINE = InnoDB;
INSERT INTO kettle (label, kind)
VALUES ('Big one', 'copper')
ON DUPLICATE KEY UPDATE label = values(label), made = now();
SELECT SQL_CALC_FOUND_ROWS
    kind,
    group_concat(DISTINCT label ORDER BY label SEPARATOR ', ') AS labels,
    if(count(*) > 1, 'many', 'one') AS how_many
FROM kettle USE INDEX (by_size)
WHERE match(label) AGAINST ('+big' IN BOOLEAN MODE) AND made > now() - interval 1 month
GROUP BY kind WITH ROLLUP
LIMIT 5, 10;
UPDATE kettle k
JOIN batch b ON b.kettle_id = k.kettle_id
SET k.size = 5, b.note = concat(b.note, ' moved')
WHERE b.done = 0;
DELETE k FROM kettle k
LEFT JOIN batch b ON b.kettle_id = k.kettle_id
WHERE b.batch_id IS NULL;
SET @limit := 10, SESSION sql_mode = 'ANSI';
SHOW TABLES LIKE 'ke%';
GRANT SELECT ON kitchen.* TO 'anna'@'%';
