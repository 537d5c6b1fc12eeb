CREATE TABLE `care_rules` (
	`id` text PRIMARY KEY NOT NULL,
	`printer_ids` text,
	`what` text NOT NULL,
	`over_mm` real,
	`only_important` integer NOT NULL,
	`paused` integer NOT NULL,
	`version` integer DEFAULT 0 NOT NULL
);
--> statement-breakpoint
ALTER TABLE `runs` ADD `important` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `care_items` ADD `rule_id` text;--> statement-breakpoint
ALTER TABLE `care_items` ADD `run_id` text;--> statement-breakpoint
ALTER TABLE `care_items` ADD `early_ms` integer;--> statement-breakpoint
CREATE UNIQUE INDEX `care_of_rule` ON `care_items` (`rule_id`,`run_id`);--> statement-breakpoint
CREATE INDEX `care_before_run` ON `care_items` (`run_id`);--> statement-breakpoint
CREATE INDEX `care_early` ON `care_items` (`early_ms`);