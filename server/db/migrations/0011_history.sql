CREATE TABLE `ink_sums` (
	`printer_id` text NOT NULL,
	`channel_id` text NOT NULL,
	`ml` real NOT NULL,
	PRIMARY KEY(`printer_id`, `channel_id`)
);
--> statement-breakpoint
DROP INDEX `job_state`;--> statement-breakpoint
ALTER TABLE `jobs` ADD `arrival_todo` text;--> statement-breakpoint
ALTER TABLE `jobs` ADD `keep_due_ms` integer;--> statement-breakpoint
ALTER TABLE `jobs` ADD `past_seq` integer GENERATED ALWAYS AS ((CASE WHEN state IN ('printed', 'shelved', 'dropped', 'cancelled') THEN seq END)) VIRTUAL;--> statement-breakpoint
ALTER TABLE `jobs` ADD `kept_seq` integer GENERATED ALWAYS AS ((CASE WHEN state IN ('printed', 'shelved') THEN seq END)) VIRTUAL;--> statement-breakpoint
CREATE INDEX `job_queue` ON `jobs` (`queue_id`);--> statement-breakpoint
CREATE INDEX `job_source` ON `jobs` (`source_name`);--> statement-breakpoint
CREATE INDEX `job_arrived` ON `jobs` (`arrived_ms`);--> statement-breakpoint
CREATE INDEX `job_keep_due` ON `jobs` (`keep_due_ms`);--> statement-breakpoint
CREATE INDEX `job_todo` ON `jobs` (`arrival_todo`);--> statement-breakpoint
CREATE INDEX `job_past` ON `jobs` (`past_seq`);--> statement-breakpoint
CREATE INDEX `job_kept` ON `jobs` (`kept_seq`);--> statement-breakpoint
CREATE INDEX `job_state` ON `jobs` (`state`,`queue_id`);--> statement-breakpoint
DROP INDEX `piece_job`;--> statement-breakpoint
CREATE INDEX `piece_job` ON `pieces` (`job_id`,`state`,`run_id`);--> statement-breakpoint
DROP INDEX `ledger_spool`;--> statement-breakpoint
CREATE INDEX `ledger_kind` ON `spool_ledger` (`kind`,`at_ms`,`spool_id`,`mm`);--> statement-breakpoint
CREATE INDEX `ledger_spool` ON `spool_ledger` (`spool_id`,`kind`,`mm`);--> statement-breakpoint
ALTER TABLE `runs` ADD `version` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `runs` ADD `report_seq` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE INDEX `run_state` ON `runs` (`state`,`position`);--> statement-breakpoint
CREATE INDEX `run_position` ON `runs` (`position`);--> statement-breakpoint
CREATE INDEX `run_spool` ON `runs` (`spool_id`,`state`);--> statement-breakpoint
CREATE INDEX `run_queue` ON `runs` (`queue_id`,`state`);--> statement-breakpoint
CREATE INDEX `run_ended` ON `runs` (`ended_ms`);--> statement-breakpoint
CREATE INDEX `run_go` ON `runs` (`go_at_ms`);--> statement-breakpoint
CREATE INDEX `run_pdf` ON `runs` (`pdf_key`);--> statement-breakpoint
CREATE INDEX `refusal_open` ON `refusals` (`dismissed`,`at_ms`);--> statement-breakpoint
CREATE INDEX `refusal_source` ON `refusals` (`source_name`);--> statement-breakpoint
CREATE INDEX `refusal_queue` ON `refusals` (`queue_id`);--> statement-breakpoint
CREATE INDEX `spool_gone` ON `spools` (`gone`);--> statement-breakpoint
CREATE INDEX `spool_label` ON `spools` (`label`);--> statement-breakpoint
-- Corrections are learned by mode from this index alone: the tickets of years are not read for them.
CREATE INDEX `run_history` ON `runs` (`printer_id`, `ended_ms`, `started_ms`, `state`, `paused_ms`, `attempt`, `estimate_ms`, json_extract(`ticket`, '$.modeId'));--> statement-breakpoint
INSERT INTO `ink_sums` SELECT `printer_id`, `channel_id`, sum(`ml`) FROM `ink_ledger` GROUP BY `printer_id`, `channel_id`;--> statement-breakpoint
CREATE TRIGGER `ink_ledger_sum` AFTER INSERT ON `ink_ledger` BEGIN
  INSERT INTO `ink_sums` VALUES (new.`printer_id`, new.`channel_id`, new.`ml`)
  ON CONFLICT (`printer_id`, `channel_id`) DO UPDATE SET `ml` = `ml` + new.`ml`;
END;--> statement-breakpoint
-- Every kept job is looked at once; from then on each has its own instant.
UPDATE `jobs` SET `keep_due_ms` = 0 WHERE `state` IN ('printed', 'shelved');--> statement-breakpoint
-- What jobs are found by, in pieces of three letters, so that any part of a word finds them. The rowid is the job's number.
CREATE VIRTUAL TABLE `job_search` USING fts5(`name`, `customer`, `orderno`, `size`, `stock`, `queue`, `preset`, `finding`, content = '', contentless_delete = 1, tokenize = 'trigram');--> statement-breakpoint
CREATE VIEW `job_search_text` AS SELECT `jobs`.`seq`, `source_name` AS `name`,
  json_extract(`ticket`, '$.values.customer') AS `customer`,
  json_extract(`ticket`, '$.values.orderNo') AS `orderno`,
  CASE WHEN `width_mm` IS NULL THEN NULL ELSE format('%gx%g', round(`width_mm`, 1), round(`height_mm`, 1)) END AS `size`,
  (SELECT `name` FROM `stocks` WHERE `id` = json_extract(`jobs`.`ticket`, '$.values.stockId')) AS `stock`,
  (SELECT `name` FROM `queues` WHERE `id` = `jobs`.`queue_id`) AS `queue`,
  json_extract(`ticket`, '$.preset.name') AS `preset`,
  (SELECT group_concat(json_extract(`value`, '$.code') || ' ' || json_extract(`value`, '$.severity') || ' ' || json_extract(`value`, '$.text'), ' ') FROM json_each(`jobs`.`findings`)) AS `finding`
FROM `jobs`;--> statement-breakpoint
INSERT INTO `job_search` (`rowid`, `name`, `customer`, `orderno`, `size`, `stock`, `queue`, `preset`, `finding`) SELECT * FROM `job_search_text`;--> statement-breakpoint
CREATE TRIGGER `job_search_insert` AFTER INSERT ON `jobs` BEGIN
  INSERT INTO `job_search` (`rowid`, `name`, `customer`, `orderno`, `size`, `stock`, `queue`, `preset`, `finding`) SELECT * FROM `job_search_text` WHERE `seq` = new.`seq`;
END;--> statement-breakpoint
CREATE TRIGGER `job_search_update` AFTER UPDATE OF `source_name`, `queue_id`, `width_mm`, `height_mm`, `ticket`, `findings` ON `jobs` BEGIN
  INSERT OR REPLACE INTO `job_search` (`rowid`, `name`, `customer`, `orderno`, `size`, `stock`, `queue`, `preset`, `finding`) SELECT * FROM `job_search_text` WHERE `seq` = new.`seq`;
END;--> statement-breakpoint
CREATE TRIGGER `job_search_delete` AFTER DELETE ON `jobs` BEGIN
  DELETE FROM `job_search` WHERE `rowid` = old.`seq`;
END;
