ALTER TABLE `fact_parts` ADD `actions` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `facts` ADD `actions` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE INDEX `event_person` ON `events` (`at_ms`,`subject_type`,`subject_id`) WHERE actor_kind = 'person';--> statement-breakpoint
CREATE INDEX `ink_time` ON `ink_ledger` (`at_ms`,`printer_id`,`channel_id`,`purpose`,`ml`);--> statement-breakpoint
CREATE TRIGGER `fact_of_action` AFTER INSERT ON `events` WHEN NEW.`actor_kind` = 'person' BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('actions', NEW.`at_ms` / 3600000);
END;
--> statement-breakpoint
INSERT OR IGNORE INTO `facts_due` SELECT DISTINCT 'actions', `at_ms` / 3600000 FROM `events` WHERE `actor_kind` = 'person';
