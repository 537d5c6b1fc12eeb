CREATE TABLE `rules` (
	`id` text PRIMARY KEY NOT NULL,
	`position` integer NOT NULL,
	`name` text NOT NULL,
	`when` text NOT NULL,
	`printer_ids` text NOT NULL,
	`on` integer DEFAULT true NOT NULL
);
--> statement-breakpoint
ALTER TABLE `printers` ADD `measured` text;--> statement-breakpoint
ALTER TABLE `queues` ADD `for_pool` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `queues` ADD `routing` text DEFAULT 'stays' NOT NULL;--> statement-breakpoint
ALTER TABLE `runs` ADD `fixed_start_ms` integer;--> statement-breakpoint
ALTER TABLE `runs` ADD `paused_ms` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `runs` ADD `paused_since_ms` integer;--> statement-breakpoint
ALTER TABLE `runs` ADD `booked_mm` real DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `runs` ADD `pdf_key` text;--> statement-breakpoint
ALTER TABLE `spool_ledger` ADD `reason` text;--> statement-breakpoint
ALTER TABLE `spools` ADD `kind` text DEFAULT 'roll' NOT NULL;--> statement-breakpoint
ALTER TABLE `spools` ADD `width_mm` real;--> statement-breakpoint
ALTER TABLE `spools` ADD `place` text DEFAULT 'rack' NOT NULL;--> statement-breakpoint
ALTER TABLE `spools` ADD `take_up` text;--> statement-breakpoint
ALTER TABLE `spools` ADD `gone` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `stocks` ADD `form` text DEFAULT 'roll' NOT NULL;--> statement-breakpoint
ALTER TABLE `stocks` ADD `sheet_mm` real;--> statement-breakpoint
ALTER TABLE `stocks` ADD `suits` text;
--> statement-breakpoint
UPDATE `printers` SET `config` = json_set(`config`,
  '$.head', 'carriage',
  '$.narrowestMediaMm', 0,
  '$.beds', json('[]'),
  '$.colourWithWhite', json('true'),
  '$.finishing', json_object(
    'fullCut', json(CASE WHEN coalesce(json_extract(`config`, '$.machine.fullCutS'), 0) > 0 THEN 'true' ELSE 'false' END),
    'perforate', json('false'),
    'contourCut', json(CASE WHEN json_extract(`config`, '$.form') = 'print and cut' THEN 'true' ELSE 'false' END)),
  '$.takeUp', json('true'),
  '$.collectsMm', json('null'),
  '$.changeOver', json('{"stockMin":10,"modeMin":2}'),
  '$.unattended', json('true'),
  '$.pool', json('null'),
  '$.machine.backFeedMmPerS', coalesce(json_extract(`config`, '$.machine.feedMmPerS'), 50),
  '$.machine.perforateS', 0,
  '$.machine.loadS', 0,
  '$.machine.handS', 0,
  '$.machine.cutter', json(CASE WHEN json_extract(`config`, '$.form') = 'print and cut'
    THEN '{"markReadS":20,"cutMmPerS":250,"travelMmPerS":500,"liftS":0.2}' ELSE 'null' END),
  '$.sources', (SELECT json_group_array(json_set(value, '$.kind', 'roll', '$.holds', 1)) FROM json_each(`config`, '$.sources')),
  '$.channels', (SELECT json_group_array(json_set(value, '$.idleLimitH', 96)) FROM json_each(`config`, '$.channels')),
  '$.modes', (SELECT json_group_array(json_set(value, '$.whiteOneDirectional', json('true'), '$.inkLimit', 2.4, '$.lineMmPerS', json('null'),
    '$.oneDirectional', json(CASE WHEN json_extract(value, '$.oneDirectional') THEN 'true' ELSE 'false' END))) FROM json_each(`config`, '$.modes')))
WHERE json_extract(`config`, '$.sources') IS NOT NULL;
--> statement-breakpoint
UPDATE `jobs` SET `ticket` = json_set(`ticket`, '$.values.latePerHMinor', 1500, '$.values.unattended', json('true'), '$.values.keep', json('{"kind":"job only"}'), '$.origins.latePerHMinor', 'printer', '$.origins.unattended', 'printer', '$.origins.keep', 'printer');
--> statement-breakpoint
UPDATE `ticket_changes` SET `ticket` = json_set(`ticket`, '$.values.latePerHMinor', 1500, '$.values.unattended', json('true'), '$.values.keep', json('{"kind":"job only"}'), '$.origins.latePerHMinor', 'printer', '$.origins.unattended', 'printer', '$.origins.keep', 'printer');
--> statement-breakpoint
UPDATE `runs` SET `ticket` = json_set(`ticket`, '$.latePerHMinor', 1500, '$.unattended', json('true'), '$.keep', json('{"kind":"job only"}'));
