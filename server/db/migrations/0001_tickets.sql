CREATE TABLE `presets` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`settings` text NOT NULL,
	`changed_ms` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `presets_name_unique` ON `presets` (`name`);--> statement-breakpoint
CREATE TABLE `stock_settings` (
	`printer_id` text NOT NULL,
	`stock_id` text NOT NULL,
	`settings` text NOT NULL,
	PRIMARY KEY(`printer_id`, `stock_id`),
	FOREIGN KEY (`printer_id`) REFERENCES `printers`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`stock_id`) REFERENCES `stocks`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `ticket_changes` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`change_id` text NOT NULL,
	`job_id` text NOT NULL,
	`queue_id` text NOT NULL,
	`ticket` text NOT NULL,
	`keys` text NOT NULL,
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `ticket_change` ON `ticket_changes` (`change_id`);--> statement-breakpoint
CREATE INDEX `ticket_change_job` ON `ticket_changes` (`job_id`);--> statement-breakpoint
ALTER TABLE `hot_folders` ADD `preset_id` text REFERENCES presets(id);--> statement-breakpoint
ALTER TABLE `hot_folders` ADD `arrival_rule` text;--> statement-breakpoint
ALTER TABLE `hot_folders` ADD `name_pattern` text;--> statement-breakpoint
ALTER TABLE `hot_folders` ADD `subfolders` text DEFAULT 'not looked into' NOT NULL;--> statement-breakpoint
ALTER TABLE `hot_folders` ADD `afterwards` text DEFAULT 'removed' NOT NULL;--> statement-breakpoint
ALTER TABLE `hot_folders` ADD `paused` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `hot_folders` ADD `taken` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `hot_folders` ADD `refused_count` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `hot_folders` ADD `last_file` text;--> statement-breakpoint
ALTER TABLE `hot_folders` ADD `last_ms` integer;--> statement-breakpoint
ALTER TABLE `job_pages` ADD `source_page` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `job_pages` ADD `dpi` real;--> statement-breakpoint
ALTER TABLE `job_pages` ADD `thinnest_mm` real;--> statement-breakpoint
ALTER TABLE `job_pages` ADD `finished` text;--> statement-breakpoint
ALTER TABLE `jobs` ADD `nature` text;--> statement-breakpoint
ALTER TABLE `pieces` ADD `part` text;--> statement-breakpoint
ALTER TABLE `queues` ADD `go_after_min` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `queues` ADD `checks` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `runs` ADD `go_at_ms` integer;--> statement-breakpoint
UPDATE `job_pages` SET `source_page` = `page`;--> statement-breakpoint
UPDATE `job_pages` SET `dpi` = (SELECT j.`pixels_across` / (`job_pages`.`width_mm` / 25.4) FROM `jobs` j WHERE j.`id` = `job_pages`.`job_id`);--> statement-breakpoint
UPDATE `jobs` SET `nature` = json_object('assumedDpi', `assumed_dpi`, 'hasAlpha', json(iif(`has_alpha`, 'true', 'false')), 'colourSpaces', json('[]'), 'profile', NULL, 'spots', json('[]'), 'missingFonts', json('[]')) WHERE `pages` IS NOT NULL;--> statement-breakpoint
UPDATE `queues` SET `checks` = json_object('warnBelowDpi', `warn_below_dpi`, 'noteBelowDpi', `note_below_dpi`, 'bleedMm', 0, 'thinLineMm', 0.1, 'mostPages', 500);--> statement-breakpoint
UPDATE `jobs` SET `ticket` = json_set(`ticket`, '$.preset', NULL, '$.layers', json_object(
  'queue', (SELECT json_group_object(v.key, iif(v.type IN ('true', 'false'), json(v.type), v.value)) FROM json_each(`ticket`, '$.values') v WHERE json_extract(`ticket`, '$.origins.' || v.key) <> 'set here'),
  'set here', (SELECT json_group_object(v.key, iif(v.type IN ('true', 'false'), json(v.type), v.value)) FROM json_each(`ticket`, '$.values') v WHERE json_extract(`ticket`, '$.origins.' || v.key) = 'set here')));--> statement-breakpoint
UPDATE `jobs` SET `ticket` = json_insert(`ticket`,
  '$.values.edgeToEdge', json('false'), '$.origins.edgeToEdge', 'printer',
  '$.values.priority', 'normal', '$.origins.priority', 'printer',
  '$.values.notes', NULL, '$.origins.notes', 'printer',
  '$.values.charges', json('[]'), '$.origins.charges', 'printer',
  '$.values.size', json('{"kind":"as it came"}'), '$.origins.size', 'printer',
  '$.values.crop', json('{"leftMm":0,"topMm":0,"rightMm":0,"bottomMm":0}'), '$.origins.crop', 'printer',
  '$.values.bleedMm', NULL, '$.origins.bleedMm', 'printer',
  '$.values.turn', 0, '$.origins.turn', 'printer',
  '$.values.mirror', json('false'), '$.origins.mirror', 'printer',
  '$.values.place', json('{"kind":"nested"}'), '$.origins.place', 'printer',
  '$.values.separations', json('{"kind":"all inks"}'), '$.origins.separations', 'printer',
  '$.values.pagesAs', 'one job', '$.origins.pagesAs', 'printer');--> statement-breakpoint
UPDATE `jobs` SET `findings` = (SELECT json_group_array(json_set(f.value, '$.mends', json('[]'))) FROM json_each(`findings`) f);--> statement-breakpoint
UPDATE `runs` SET `ticket` = json_insert(`ticket`, '$.edgeToEdge', json('false'));
--> statement-breakpoint
UPDATE `printers` SET `config` = json_insert(`config`, '$.edgeToEdge', json('false'), '$.defaults', json('{}'));
