CREATE TABLE `channel_firings` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`printer_id` text NOT NULL,
	`channel_id` text NOT NULL,
	`ink_set` text DEFAULT 'fitted' NOT NULL,
	`purpose` text NOT NULL,
	`run_id` text,
	`attempt` integer,
	`coat` integer DEFAULT 1 NOT NULL,
	`from_ms` integer NOT NULL,
	`to_ms` integer NOT NULL,
	`ml` real NOT NULL
);
--> statement-breakpoint
CREATE INDEX `firing_channel` ON `channel_firings` (`printer_id`,`channel_id`,`to_ms`);--> statement-breakpoint
CREATE UNIQUE INDEX `firing_run` ON `channel_firings` (`printer_id`,`channel_id`,`run_id`,`attempt`,`coat`);--> statement-breakpoint
CREATE TABLE `piece_outcomes` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`piece_id` text NOT NULL,
	`job_id` text NOT NULL,
	`run_id` text NOT NULL,
	`attempt` integer NOT NULL,
	`outcome` text NOT NULL,
	`at_ms` integer NOT NULL,
	`cause` text
);
--> statement-breakpoint
CREATE INDEX `outcome_piece` ON `piece_outcomes` (`piece_id`);--> statement-breakpoint
CREATE INDEX `outcome_run` ON `piece_outcomes` (`run_id`,`attempt`);--> statement-breakpoint
CREATE INDEX `outcome_job` ON `piece_outcomes` (`job_id`,`at_ms`);--> statement-breakpoint
CREATE INDEX `outcome_at` ON `piece_outcomes` (`outcome`,`at_ms`);--> statement-breakpoint
CREATE TABLE `printer_spells` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`printer_id` text NOT NULL,
	`state` text NOT NULL,
	`cause` text,
	`from_ms` integer NOT NULL,
	`to_ms` integer
);
--> statement-breakpoint
CREATE INDEX `spell_printer` ON `printer_spells` (`printer_id`,`from_ms`);--> statement-breakpoint
CREATE UNIQUE INDEX `spell_open` ON `printer_spells` (`printer_id`) WHERE to_ms IS NULL;--> statement-breakpoint
CREATE TABLE `run_attempts` (
	`run_id` text NOT NULL,
	`attempt` integer NOT NULL,
	`coat` integer DEFAULT 1 NOT NULL,
	`ink_set` text DEFAULT 'fitted' NOT NULL,
	`printer_id` text NOT NULL,
	`mode_id` text NOT NULL,
	`stock_id` text NOT NULL,
	`spool_id` text,
	`outcome` text NOT NULL,
	`cause` text,
	`estimate_ms` real NOT NULL,
	`sent_ms` integer,
	`started_ms` integer,
	`ended_ms` integer,
	`paused_ms` integer DEFAULT 0 NOT NULL,
	`length_mm` real DEFAULT 0 NOT NULL,
	`fed_mm` real DEFAULT 0 NOT NULL,
	PRIMARY KEY(`run_id`, `attempt`, `coat`),
	FOREIGN KEY (`run_id`) REFERENCES `runs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `attempt_printer` ON `run_attempts` (`printer_id`,`ended_ms`);--> statement-breakpoint
CREATE INDEX `attempt_stock` ON `run_attempts` (`stock_id`,`ended_ms`);--> statement-breakpoint
CREATE TABLE `spool_sums` (
	`spool_id` text PRIMARY KEY NOT NULL,
	`mm` real NOT NULL
);
--> statement-breakpoint
DROP INDEX `ink_run`;--> statement-breakpoint
ALTER TABLE `ink_ledger` ADD `purpose` text DEFAULT 'run' NOT NULL;--> statement-breakpoint
ALTER TABLE `ink_ledger` ADD `coat` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `ink_ledger` ADD `ink_set` text DEFAULT 'fitted' NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX `ink_run` ON `ink_ledger` (`printer_id`,`channel_id`,`run_id`,`attempt`,`coat`);--> statement-breakpoint
DROP INDEX `ledger_run`;--> statement-breakpoint
ALTER TABLE `spool_ledger` ADD `coat` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX `ledger_run` ON `spool_ledger` (`run_id`,`attempt`,`coat`);--> statement-breakpoint
ALTER TABLE `events` ADD `actor_kind` text DEFAULT 'program' NOT NULL;--> statement-breakpoint
ALTER TABLE `events` ADD `actor_id` text;--> statement-breakpoint
ALTER TABLE `events` ADD `data` text;--> statement-breakpoint
ALTER TABLE `runs` ADD `from_run_id` text;--> statement-breakpoint
ALTER TABLE `runs` ADD `made_by` text DEFAULT 'from jobs' NOT NULL;--> statement-breakpoint
-- What is known of the past, in figures. Attempts before the last one of a run were not kept.
INSERT INTO `run_attempts` (`run_id`, `attempt`, `printer_id`, `mode_id`, `stock_id`, `spool_id`, `outcome`, `cause`, `estimate_ms`, `started_ms`, `ended_ms`, `paused_ms`, `length_mm`, `fed_mm`)
  SELECT `id`, `attempt`, `printer_id`, json_extract(`ticket`, '$.modeId'), json_extract(`ticket`, '$.stockId'), `spool_id`,
    CASE WHEN `state` IN ('printed', 'failed', 'cancelled') THEN `state` ELSE 'on the printer' END,
    `reason`, `estimate_ms`, `started_ms`, CASE WHEN `state` IN ('printed', 'failed', 'cancelled') THEN `ended_ms` END,
    `paused_ms`, coalesce(`reached_mm`, 0), coalesce(`fed_mm`, 0)
  FROM `runs` WHERE `attempt` > 0;--> statement-breakpoint
INSERT INTO `piece_outcomes` (`piece_id`, `job_id`, `run_id`, `attempt`, `outcome`, `at_ms`)
  SELECT `pieces`.`id`, `job_id`, `run_id`, `runs`.`attempt`, `pieces`.`state`, coalesce(`ended_ms`, `created_ms`)
  FROM `pieces` JOIN `runs` ON `runs`.`id` = `run_id` WHERE `pieces`.`state` IN ('printed', 'spoiled');--> statement-breakpoint
INSERT INTO `channel_firings` (`printer_id`, `channel_id`, `purpose`, `run_id`, `attempt`, `from_ms`, `to_ms`, `ml`)
  SELECT `ink_ledger`.`printer_id`, `channel_id`, 'run', `run_id`, `ink_ledger`.`attempt`, coalesce(`started_ms`, `at_ms`), `at_ms`, -`ml`
  FROM `ink_ledger` JOIN `runs` ON `runs`.`id` = `run_id` WHERE `ml` < 0;--> statement-breakpoint
UPDATE `ink_ledger` SET `purpose` = 'fill' WHERE `run_id` IS NULL;--> statement-breakpoint
UPDATE `events` SET `actor_kind` = 'person', `actor_id` = `who` WHERE `who` <> 'system';--> statement-breakpoint
INSERT INTO `spool_sums` SELECT `spool_id`, sum(`mm`) FROM `spool_ledger` GROUP BY `spool_id`;--> statement-breakpoint
CREATE TRIGGER `spool_ledger_sum` AFTER INSERT ON `spool_ledger` BEGIN
  INSERT INTO `spool_sums` VALUES (new.`spool_id`, new.`mm`)
  ON CONFLICT (`spool_id`) DO UPDATE SET `mm` = `mm` + new.`mm`;
END;
