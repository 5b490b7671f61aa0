-- Everything the reader knows of MySQL and MariaDB, in the spellings people use.
# a comment
/*!40101 SET NAMES utf8mb4 */;
/*!99999 CREATE TABLE of_the_future (x int) */;
CREATE TABLE `bay` (
  `id` int unsigned NOT NULL AUTO_INCREMENT,
  `label` varchar(40) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL DEFAULT 'a\'b;c',
  b bool, i integer, t tinyint unsigned, s smallint(4) zerofill, m mediumint, big int8, d dec(8,2), n numeric, f float, f2 float(30), dp double precision, r real,
  c char, nv nvarchar(10), txt text, tiny text(50), mid mediumtext, bl blob, bin binary(4), e enum('x','it''s','y,z') DEFAULT 'x', st set('a','b'),
  dt datetime(3) DEFAULT current_timestamp(3) ON UPDATE current_timestamp(3), ts timestamp NULL DEFAULT NULL, tm time, y year, bt bit, j json, u uuid,
  g int GENERATED ALWAYS AS (i * 2) STORED, v int AS (i + 1) VIRTUAL, k int INVISIBLE DEFAULT 3 COMMENT 'it''s hidden',
  PRIMARY KEY (`id`), KEY (label), KEY `named` (`label`(10), b DESC), UNIQUE KEY (i, m), UNIQUE u2 (txt(20)), FULLTEXT KEY ft (mid), INDEX USING BTREE (i),
  CHECK (i > 0), CONSTRAINT chk CHECK (m < 5)
) ENGINE=InnoDB AUTO_INCREMENT=17 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_general_ci COMMENT='A place; quoted "so"';
CREATE TABLE IF NOT EXISTS bay (x int);
CREATE TABLE crate (
  id serial,
  bay_id int unsigned NOT NULL REFERENCES bay (id) ON DELETE CASCADE,
  other int unsigned, third int unsigned, code varchar(8) UNIQUE, amount int CHECK (amount > 0),
  CONSTRAINT crate_other FOREIGN KEY (other) REFERENCES bay (id) ON UPDATE SET NULL,
  FOREIGN KEY by_index (third) REFERENCES bay (id)
);
CREATE TABLE copied LIKE crate;
ALTER TABLE crate ADD COLUMN first_one int FIRST, ADD after_id int AFTER id, ADD INDEX (amount), ADD UNIQUE KEY amounts (amount, code);
ALTER TABLE crate DROP COLUMN after_id;
CREATE TABLE lane (id int PRIMARY KEY, way int, KEY way_index (way)) ENGINE=InnoDB;
ALTER TABLE crate MODIFY amount bigint NOT NULL DEFAULT 0, CHANGE COLUMN code label varchar(9), ADD CONSTRAINT FOREIGN KEY (first_one) REFERENCES lane (id) ON DELETE NO ACTION;
ALTER TABLE crate ADD FOREIGN KEY (first_one) REFERENCES lane (id) ON DELETE RESTRICT;
ALTER TABLE lane RENAME INDEX way_index TO ways, ALTER COLUMN way SET DEFAULT 4, COMMENT = 'now with a comment';
CREATE TABLE old_style (id int PRIMARY KEY, bay_id int unsigned, FOREIGN KEY (bay_id) REFERENCES bay (id)) ENGINE=MyISAM;
CREATE UNIQUE INDEX lane_way ON lane (way) USING BTREE;
CREATE INDEX bay_names ON bay (label(5));
DROP INDEX bay_names ON bay;
RENAME TABLE lane TO way_lane;
CREATE VIEW `seen` AS select `b`.`id` AS `id`,`b`.`label` AS `label` from `bay` `b`;
CREATE TABLE gone (x int);
DROP TABLE IF EXISTS gone, never_there;
CREATE TEMPORARY TABLE scratch (x int);
DELIMITER //
CREATE TRIGGER bay_before BEFORE INSERT ON bay FOR EACH ROW BEGIN
  IF NEW.i IS NULL THEN SET NEW.i = 1; END IF; -- a ; ends nothing here
END//
CREATE PROCEDURE tidy(IN n INT, OUT m INT) BEGIN SELECT n; SET m = n; END//
CREATE FUNCTION twice(n INT) RETURNS INT DETERMINISTIC RETURN n * 2//
DELIMITER ;
INSERT INTO bay (label, i) VALUES ('CREATE TABLE not_a_statement (x int);', 1), ("it's; here", 2);
ALTER ALGORITHM = MERGE DEFINER = CURRENT_USER SQL SECURITY INVOKER VIEW seen AS SELECT 1 AS only_one, label FROM bay;
