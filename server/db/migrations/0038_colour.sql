-- Tickets that were made before: colours as the mode and its profile have them. Neither figures nor the search know of them.
DROP TRIGGER `fact_of_job`;
--> statement-breakpoint
DROP TRIGGER `job_search_update`;
--> statement-breakpoint
UPDATE `jobs` SET `ticket` = json_set(`ticket`, '$.values.profile', json('null'), '$.values.intent', 'relative with black point', '$.values.screening', 'error diffusion', '$.values.tone', json('{"brightness":0,"contrast":0,"gamma":1,"saturation":0}'), '$.values.curves', json('[]'), '$.origins.profile', 'printer', '$.origins.intent', 'printer', '$.origins.screening', 'printer', '$.origins.tone', 'printer', '$.origins.curves', 'printer');
--> statement-breakpoint
UPDATE `ticket_changes` SET `ticket` = json_set(`ticket`, '$.values.profile', json('null'), '$.values.intent', 'relative with black point', '$.values.screening', 'error diffusion', '$.values.tone', json('{"brightness":0,"contrast":0,"gamma":1,"saturation":0}'), '$.values.curves', json('[]'), '$.origins.profile', 'printer', '$.origins.intent', 'printer', '$.origins.screening', 'printer', '$.origins.tone', 'printer', '$.origins.curves', 'printer');
--> statement-breakpoint
UPDATE `runs` SET `ticket` = json_set(`ticket`, '$.profile', json('null'), '$.intent', 'relative with black point', '$.screening', 'error diffusion', '$.tone', json('{"brightness":0,"contrast":0,"gamma":1,"saturation":0}'), '$.curves', json('[]'));
--> statement-breakpoint
CREATE TRIGGER `fact_of_job` AFTER UPDATE OF `state`, `ticket` ON `jobs` WHEN NEW.`past_seq` IS NOT NULL OR OLD.`past_seq` IS NOT NULL BEGIN
  INSERT OR IGNORE INTO `facts_due` VALUES ('job', NEW.`id`);
END;
--> statement-breakpoint
CREATE TRIGGER `job_search_update` AFTER UPDATE OF `source_name`, `queue_id`, `width_mm`, `height_mm`, `ticket`, `findings` ON `jobs` BEGIN
  INSERT OR REPLACE INTO `job_search` (`rowid`, `name`, `customer`, `orderno`, `size`, `stock`, `queue`, `preset`, `finding`) SELECT * FROM `job_search_text` WHERE `seq` = new.`seq`;
END;
