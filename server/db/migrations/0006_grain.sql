UPDATE `jobs` SET `ticket` = json_set(`ticket`, '$.values.grain', 'free', '$.values.together', json('false'), '$.origins.grain', 'printer', '$.origins.together', 'printer');--> statement-breakpoint
UPDATE `ticket_changes` SET `ticket` = json_set(`ticket`, '$.values.grain', 'free', '$.values.together', json('false'), '$.origins.grain', 'printer', '$.origins.together', 'printer');--> statement-breakpoint
UPDATE `runs` SET `ticket` = json_set(`ticket`, '$.grain', 'free', '$.together', json('false'));
