ALTER TABLE `pieces` ADD `tile` integer;--> statement-breakpoint
UPDATE `jobs` SET `ticket` = json_set(`ticket`, '$.values.tiles', json('null'), '$.origins.tiles', 'printer');--> statement-breakpoint
UPDATE `ticket_changes` SET `ticket` = json_set(`ticket`, '$.values.tiles', json('null'), '$.origins.tiles', 'printer');--> statement-breakpoint
UPDATE `runs` SET `ticket` = json_set(`ticket`, '$.tiles', json('null'));
