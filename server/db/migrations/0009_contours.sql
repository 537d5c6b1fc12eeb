ALTER TABLE `job_pages` ADD `cut_lines` text;--> statement-breakpoint
UPDATE `jobs` SET `ticket` = json_set(`ticket`, '$.values.contour', json('null'), '$.values.halfTurn', json('true'), '$.origins.contour', 'printer', '$.origins.halfTurn', 'printer');--> statement-breakpoint
UPDATE `ticket_changes` SET `ticket` = json_set(`ticket`, '$.values.contour', json('null'), '$.values.halfTurn', json('true'), '$.origins.contour', 'printer', '$.origins.halfTurn', 'printer');--> statement-breakpoint
UPDATE `runs` SET `ticket` = json_set(`ticket`, '$.contour', json('null'), '$.halfTurn', json('true'));
