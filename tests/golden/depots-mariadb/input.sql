-- Depots as MariaDB dumps them.
/*!40101 SET NAMES utf8 */;
CREATE TABLE `depot` (
  `id` bigint unsigned NOT NULL AUTO_INCREMENT,
  `code` varchar(12) CHARACTER SET 'utf8mb4' COLLATE utf8mb4_bin NOT NULL,
  `opened` date NOT NULL DEFAULT curdate(),
  PRIMARY KEY (`id`),
  UNIQUE KEY `code` (`code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COMMENT='Where crates stand.';
CREATE TABLE `bay` (
  `depot_id` bigint unsigned NOT NULL,
  `number` smallint NOT NULL,
  `width` decimal(6,2) DEFAULT NULL CHECK (`width` > 0),
  PRIMARY KEY (`depot_id`,`number`),
  CONSTRAINT `bay_ibfk_1` FOREIGN KEY (`depot_id`) REFERENCES `depot` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB;
CREATE TABLE `crate` (
  `id` int NOT NULL AUTO_INCREMENT,
  `depot_id` bigint unsigned NOT NULL,
  `bay_number` smallint DEFAULT NULL,
  `state` enum('empty','packed','gone') NOT NULL DEFAULT 'empty',
  `is_sealed` tinyint(1) NOT NULL DEFAULT '0',
  `inside_id` int DEFAULT NULL,
  `extra` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin DEFAULT NULL CHECK (json_valid(`extra`)),
  `changed_at` timestamp NOT NULL DEFAULT current_timestamp() ON UPDATE current_timestamp(),
  PRIMARY KEY (`id`),
  KEY `place` (`depot_id`,`bay_number`),
  KEY `inside_id` (`inside_id`),
  CONSTRAINT `crate_ibfk_1` FOREIGN KEY (`depot_id`, `bay_number`) REFERENCES `bay` (`depot_id`, `number`),
  CONSTRAINT `crate_ibfk_2` FOREIGN KEY (`inside_id`) REFERENCES `crate` (`id`)
) ENGINE=InnoDB;
CREATE TABLE `label` (`id` int NOT NULL, `text` varchar(40) NOT NULL, PRIMARY KEY (`id`)) ENGINE=InnoDB;
CREATE TABLE `crate_label` (
  `crate_id` int NOT NULL,
  `label_id` int NOT NULL,
  PRIMARY KEY (`crate_id`,`label_id`)
) ENGINE=MyISAM;
CREATE TABLE `keeper` (`id` int NOT NULL PRIMARY KEY, `first_name` text, `last_name` text);
CREATE TABLE `seal` (`crate_id` int NOT NULL PRIMARY KEY, `number` varchar(20) NOT NULL, `keeper_id` int DEFAULT NULL, CONSTRAINT FOREIGN KEY (`crate_id`) REFERENCES `crate` (`id`));
CREATE VIEW `packed_crate` AS select `c`.`id` AS `id`,`d`.`code` AS `code` from (`crate` `c` join `depot` `d` on((`d`.`id` = `c`.`depot_id`))) where (`c`.`state` = 'packed');
