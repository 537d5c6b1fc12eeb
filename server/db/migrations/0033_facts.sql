CREATE TABLE `fact_parts` (
	`grain` text NOT NULL,
	`from_ms` integer NOT NULL,
	`printer_id` text NOT NULL,
	`stock_id` text NOT NULL,
	`queue_id` text NOT NULL,
	`mode_id` text NOT NULL,
	`customer` text NOT NULL,
	`run_ms` integer DEFAULT 0 NOT NULL,
	`run_alone_ms` integer DEFAULT 0 NOT NULL,
	`caring_ms` integer DEFAULT 0 NOT NULL,
	`waiting_ms` integer DEFAULT 0 NOT NULL,
	`idle_ms` integer DEFAULT 0 NOT NULL,
	`down_ms` integer DEFAULT 0 NOT NULL,
	`off_ms` integer DEFAULT 0 NOT NULL,
	`lost_ms` integer DEFAULT 0 NOT NULL,
	`estimate_ms` integer DEFAULT 0 NOT NULL,
	`actual_ms` integer DEFAULT 0 NOT NULL,
	`good_mm2` integer DEFAULT 0 NOT NULL,
	`whole_mm2` integer DEFAULT 0 NOT NULL,
	`fed_mm2` integer DEFAULT 0 NOT NULL,
	`lead_mm2` integer DEFAULT 0 NOT NULL,
	`nest_mm2` integer DEFAULT 0 NOT NULL,
	`purge_mm2` integer DEFAULT 0 NOT NULL,
	`check_mm2` integer DEFAULT 0 NOT NULL,
	`fault_mm2` integer DEFAULT 0 NOT NULL,
	`spoiled_mm2` integer DEFAULT 0 NOT NULL,
	`stub_mm2` integer DEFAULT 0 NOT NULL,
	`work_nl` integer DEFAULT 0 NOT NULL,
	`purge_nl` integer DEFAULT 0 NOT NULL,
	`clean_nl` integer DEFAULT 0 NOT NULL,
	`check_nl` integer DEFAULT 0 NOT NULL,
	`lost_nl` integer DEFAULT 0 NOT NULL,
	`cost_micro` integer DEFAULT 0 NOT NULL,
	`priced_cost_micro` integer DEFAULT 0 NOT NULL,
	`price_micro` integer DEFAULT 0 NOT NULL,
	`pieces` integer DEFAULT 0 NOT NULL,
	`runs` integer DEFAULT 0 NOT NULL,
	`failed_runs` integer DEFAULT 0 NOT NULL,
	`change_overs` integer DEFAULT 0 NOT NULL,
	`faults` integer DEFAULT 0 NOT NULL,
	`jobs_due` integer DEFAULT 0 NOT NULL,
	`jobs_late` integer DEFAULT 0 NOT NULL,
	`late_ms` integer DEFAULT 0 NOT NULL,
	PRIMARY KEY(`grain`, `from_ms`, `printer_id`, `stock_id`, `queue_id`, `mode_id`, `customer`)
);
--> statement-breakpoint
CREATE TABLE `facts` (
	`id` text PRIMARY KEY NOT NULL,
	`source` text NOT NULL,
	`kind` text NOT NULL,
	`from_ms` integer NOT NULL,
	`to_ms` integer NOT NULL,
	`printer_id` text NOT NULL,
	`stock_id` text NOT NULL,
	`queue_id` text NOT NULL,
	`mode_id` text NOT NULL,
	`customer` text NOT NULL,
	`run_id` text NOT NULL,
	`job_id` text NOT NULL,
	`run_ms` integer DEFAULT 0 NOT NULL,
	`run_alone_ms` integer DEFAULT 0 NOT NULL,
	`caring_ms` integer DEFAULT 0 NOT NULL,
	`waiting_ms` integer DEFAULT 0 NOT NULL,
	`idle_ms` integer DEFAULT 0 NOT NULL,
	`down_ms` integer DEFAULT 0 NOT NULL,
	`off_ms` integer DEFAULT 0 NOT NULL,
	`lost_ms` integer DEFAULT 0 NOT NULL,
	`estimate_ms` integer DEFAULT 0 NOT NULL,
	`actual_ms` integer DEFAULT 0 NOT NULL,
	`good_mm2` integer DEFAULT 0 NOT NULL,
	`whole_mm2` integer DEFAULT 0 NOT NULL,
	`fed_mm2` integer DEFAULT 0 NOT NULL,
	`lead_mm2` integer DEFAULT 0 NOT NULL,
	`nest_mm2` integer DEFAULT 0 NOT NULL,
	`purge_mm2` integer DEFAULT 0 NOT NULL,
	`check_mm2` integer DEFAULT 0 NOT NULL,
	`fault_mm2` integer DEFAULT 0 NOT NULL,
	`spoiled_mm2` integer DEFAULT 0 NOT NULL,
	`stub_mm2` integer DEFAULT 0 NOT NULL,
	`work_nl` integer DEFAULT 0 NOT NULL,
	`purge_nl` integer DEFAULT 0 NOT NULL,
	`clean_nl` integer DEFAULT 0 NOT NULL,
	`check_nl` integer DEFAULT 0 NOT NULL,
	`lost_nl` integer DEFAULT 0 NOT NULL,
	`cost_micro` integer DEFAULT 0 NOT NULL,
	`priced_cost_micro` integer DEFAULT 0 NOT NULL,
	`price_micro` integer DEFAULT 0 NOT NULL,
	`pieces` integer DEFAULT 0 NOT NULL,
	`runs` integer DEFAULT 0 NOT NULL,
	`failed_runs` integer DEFAULT 0 NOT NULL,
	`change_overs` integer DEFAULT 0 NOT NULL,
	`faults` integer DEFAULT 0 NOT NULL,
	`jobs_due` integer DEFAULT 0 NOT NULL,
	`jobs_late` integer DEFAULT 0 NOT NULL,
	`late_ms` integer DEFAULT 0 NOT NULL
);
--> statement-breakpoint
CREATE INDEX `fact_source` ON `facts` (`source`);--> statement-breakpoint
CREATE INDEX `fact_time` ON `facts` (`kind`,`to_ms`);--> statement-breakpoint
CREATE TABLE `facts_due` (
	`kind` text NOT NULL,
	`key` text NOT NULL,
	PRIMARY KEY(`kind`, `key`)
);
--> statement-breakpoint
CREATE TABLE `hours_history` (
	`from_ms` integer PRIMARY KEY NOT NULL,
	`zone` text NOT NULL,
	`days` text NOT NULL,
	`holidays` text NOT NULL
);
--> statement-breakpoint
ALTER TABLE `run_attempts` ADD `terms` text;--> statement-breakpoint
CREATE INDEX `attempt_started` ON `run_attempts` (`printer_id`,`started_ms`);--> statement-breakpoint
CREATE TRIGGER `fact_of_attempt` AFTER UPDATE OF `ended_ms` ON `run_attempts` WHEN NEW.`ended_ms` IS NOT NULL BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('attempt', NEW.`run_id` || '/' || NEW.`attempt` || '/' || NEW.`coat`);
END;
--> statement-breakpoint
CREATE TRIGGER `fact_of_ended_attempt` AFTER INSERT ON `run_attempts` WHEN NEW.`ended_ms` IS NOT NULL BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('attempt', NEW.`run_id` || '/' || NEW.`attempt` || '/' || NEW.`coat`);
END;
--> statement-breakpoint
CREATE TRIGGER `fact_of_spoiled` AFTER INSERT ON `piece_outcomes` WHEN NEW.`outcome` = 'spoiled' BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('attempt', NEW.`run_id` || '/' || NEW.`attempt` || '/1');
END;
--> statement-breakpoint
CREATE TRIGGER `fact_of_price` AFTER UPDATE OF `price_minor` ON `jobs` WHEN NEW.`price_minor` IS NOT OLD.`price_minor` BEGIN
  INSERT OR IGNORE INTO `facts_due`
    SELECT DISTINCT 'attempt', `run_id` || '/' || `attempt` || '/1' FROM `piece_outcomes` WHERE `job_id` = NEW.`id`;
END;
--> statement-breakpoint
CREATE TRIGGER `fact_of_spell` AFTER UPDATE OF `to_ms` ON `printer_spells` WHEN NEW.`to_ms` IS NOT NULL BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('spell', NEW.`id`);
END;
--> statement-breakpoint
CREATE TRIGGER `fact_of_ended_spell` AFTER INSERT ON `printer_spells` WHEN NEW.`to_ms` IS NOT NULL BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('spell', NEW.`id`);
END;
--> statement-breakpoint
CREATE TRIGGER `fact_of_care` AFTER UPDATE OF `ended_ms` ON `care_items` WHEN NEW.`ended_ms` IS NOT NULL BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('care', NEW.`id`);
END;
--> statement-breakpoint
CREATE TRIGGER `fact_of_ended_care` AFTER INSERT ON `care_items` WHEN NEW.`ended_ms` IS NOT NULL BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('care', NEW.`id`);
END;
--> statement-breakpoint
CREATE TRIGGER `fact_of_ledger` AFTER INSERT ON `spool_ledger` WHEN NEW.`kind` = 'scrapped' BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('ledger', NEW.`id`);
END;
--> statement-breakpoint
CREATE TRIGGER `fact_of_job` AFTER UPDATE OF `state`, `ticket` ON `jobs` WHEN NEW.`past_seq` IS NOT NULL OR OLD.`past_seq` IS NOT NULL BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('job', NEW.`id`);
END;
--> statement-breakpoint
CREATE TRIGGER `fact_of_past_job` AFTER INSERT ON `jobs` WHEN NEW.`past_seq` IS NOT NULL BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('job', NEW.`id`);
END;
--> statement-breakpoint
INSERT OR IGNORE INTO `facts_due` SELECT 'attempt', `run_id` || '/' || `attempt` || '/' || `coat` FROM `run_attempts` WHERE `ended_ms` IS NOT NULL;
--> statement-breakpoint
INSERT OR IGNORE INTO `facts_due` SELECT 'spell', `id` FROM `printer_spells` WHERE `to_ms` IS NOT NULL;
--> statement-breakpoint
INSERT OR IGNORE INTO `facts_due` SELECT 'care', `id` FROM `care_items` WHERE `ended_ms` IS NOT NULL;
--> statement-breakpoint
INSERT OR IGNORE INTO `facts_due` SELECT 'job', `id` FROM `jobs` WHERE `past_seq` IS NOT NULL;
