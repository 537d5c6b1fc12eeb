ALTER TABLE `runs` ADD `series_id` text;--> statement-breakpoint
ALTER TABLE `runs` ADD `series_no` integer;--> statement-breakpoint
ALTER TABLE `runs` ADD `series_of` integer;--> statement-breakpoint
CREATE INDEX `run_series` ON `runs` (`series_id`);