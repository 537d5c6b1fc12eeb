ALTER TABLE `runs` ADD `even_ml` text;--> statement-breakpoint
ALTER TABLE `channel_firings` ADD `even_ml` real;--> statement-breakpoint
-- What page-wide arrays printed before counted for nothing, and goes on to.
UPDATE `runs` SET `even_ml` = '{}' WHERE `printer_id` IN (SELECT `id` FROM `printers` WHERE json_extract(`config`, '$.head') = 'page-wide');--> statement-breakpoint
UPDATE `channel_firings` SET `even_ml` = 0 WHERE `purpose` = 'run' AND `printer_id` IN (SELECT `id` FROM `printers` WHERE json_extract(`config`, '$.head') = 'page-wide');
