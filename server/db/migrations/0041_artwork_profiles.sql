-- Tickets that were made before: profiles that files bring are used. Neither figures nor the search know of them.
DROP TRIGGER `fact_of_job`;
--> statement-breakpoint
DROP TRIGGER `job_search_update`;
--> statement-breakpoint
UPDATE `jobs` SET `ticket` = json_set(`ticket`, '$.values.artwork', json('{"embedded":true,"rgb":null,"cmyk":null}'), '$.origins.artwork', 'printer');
--> statement-breakpoint
UPDATE `ticket_changes` SET `ticket` = json_set(`ticket`, '$.values.artwork', json('{"embedded":true,"rgb":null,"cmyk":null}'), '$.origins.artwork', 'printer');
--> statement-breakpoint
UPDATE `runs` SET `ticket` = json_set(`ticket`, '$.artwork', json('{"embedded":true,"rgb":null,"cmyk":null}'));
--> statement-breakpoint
CREATE TRIGGER `fact_of_job` AFTER UPDATE OF `state`, `ticket` ON `jobs` WHEN NEW.`past_seq` IS NOT NULL OR OLD.`past_seq` IS NOT NULL BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('job', NEW.`id`);
END;
--> statement-breakpoint
CREATE TRIGGER `job_search_update` AFTER UPDATE OF `source_name`, `queue_id`, `width_mm`, `height_mm`, `ticket`, `findings` ON `jobs` BEGIN
  INSERT OR REPLACE INTO `job_search` (`rowid`, `name`, `customer`, `orderno`, `size`, `stock`, `queue`, `preset`, `finding`) SELECT * FROM `job_search_text` WHERE `seq` = new.`seq`;
END;
