CREATE TABLE `stock_settings_changes` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`change_id` text NOT NULL,
	`stock_id` text NOT NULL,
	`printer_id` text NOT NULL,
	`before` text NOT NULL,
	`after` text NOT NULL
);
--> statement-breakpoint
CREATE INDEX `stock_settings_change` ON `stock_settings_changes` (`change_id`);--> statement-breakpoint
ALTER TABLE `runs` ADD `kept_number` integer;--> statement-breakpoint
ALTER TABLE `runs` ADD `number` integer GENERATED ALWAYS AS ((coalesce(kept_number, seq))) VIRTUAL NOT NULL;--> statement-breakpoint
CREATE INDEX `run_number` ON `runs` (`number`);