ALTER TABLE `fact_parts` ADD `actions` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `facts` ADD `actions` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE INDEX `event_person` ON `events` (`at_ms`,`subject_type`,`subject_id`) WHERE actor_kind = 'person';--> statement-breakpoint
CREATE INDEX `ink_time` ON `ink_ledger` (`at_ms`,`printer_id`,`channel_id`,`purpose`,`ml`);--> statement-breakpoint
CREATE TRIGGER `fact_of_action` AFTER INSERT ON `events` WHEN NEW.`actor_kind` = 'person' BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('actions', NEW.`at_ms` / 3600000);
END;
--> statement-breakpoint
INSERT OR IGNORE INTO `facts_due` SELECT DISTINCT 'actions', `at_ms` / 3600000 FROM `events` WHERE `actor_kind` = 'person';
--> statement-breakpoint
DROP TRIGGER `fact_of_job`;
--> statement-breakpoint
DROP TRIGGER `job_search_update`;
--> statement-breakpoint
UPDATE `jobs` SET `ticket` = json_set(`ticket`, '$.values.oneLot', json('false'), '$.origins.oneLot', 'printer');
--> statement-breakpoint
UPDATE `ticket_changes` SET `ticket` = json_set(`ticket`, '$.values.oneLot', json('false'), '$.origins.oneLot', 'printer');
--> statement-breakpoint
UPDATE `runs` SET `ticket` = json_set(`ticket`, '$.oneLot', json('false'));
--> statement-breakpoint
CREATE TRIGGER `fact_of_job` AFTER UPDATE OF `state`, `ticket` ON `jobs` WHEN NEW.`past_seq` IS NOT NULL OR OLD.`past_seq` IS NOT NULL BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('job', NEW.`id`);
END;
--> statement-breakpoint
CREATE TRIGGER `job_search_update` AFTER UPDATE OF `source_name`, `queue_id`, `width_mm`, `height_mm`, `ticket`, `findings` ON `jobs` BEGIN
  INSERT OR REPLACE INTO `job_search` (`rowid`, `name`, `customer`, `orderno`, `size`, `stock`, `queue`, `preset`, `finding`) SELECT * FROM `job_search_text` WHERE `seq` = new.`seq`;
END;
--> statement-breakpoint
CREATE INDEX `job_asks_one_lot` ON `jobs` (`state`) WHERE json_extract(`ticket`, '$.values.oneLot');
--> statement-breakpoint
CREATE INDEX `job_one_lot` ON `jobs` (json_extract(`ticket`, '$.values.orderNo')) WHERE json_extract(`ticket`, '$.values.oneLot');
