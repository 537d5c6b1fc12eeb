-- Tickets that were made before: they dry for no time, and nothing is said of heater and ink limit.
UPDATE `jobs` SET `ticket` = json_set(`ticket`, '$.values.dryMin', 0, '$.values.heaterC', json('null'), '$.values.inkLimit', json('null'), '$.origins.dryMin', 'printer', '$.origins.heaterC', 'printer', '$.origins.inkLimit', 'printer');--> statement-breakpoint
UPDATE `ticket_changes` SET `ticket` = json_set(`ticket`, '$.values.dryMin', 0, '$.values.heaterC', json('null'), '$.values.inkLimit', json('null'), '$.origins.dryMin', 'printer', '$.origins.heaterC', 'printer', '$.origins.inkLimit', 'printer');--> statement-breakpoint
UPDATE `runs` SET `ticket` = json_set(`ticket`, '$.dryMin', 0, '$.heaterC', json('null'), '$.inkLimit', json('null'));
