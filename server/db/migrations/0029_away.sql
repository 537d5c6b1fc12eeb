CREATE TABLE `away_periods` (
	`id` text PRIMARY KEY NOT NULL,
	`from_ms` integer NOT NULL,
	`to_ms` integer NOT NULL,
	`state` text NOT NULL,
	`plan_hash` text NOT NULL,
	`plan` text NOT NULL,
	`armed_ms` integer NOT NULL,
	`armed_by` text NOT NULL,
	`ended_ms` integer,
	`came` integer,
	`seen_ms` integer
);
--> statement-breakpoint
CREATE INDEX `away_from` ON `away_periods` (`from_ms`);--> statement-breakpoint
CREATE INDEX `away_ended` ON `away_periods` (`ended_ms`);--> statement-breakpoint
CREATE UNIQUE INDEX `away_armed` ON `away_periods` (`state`) WHERE state = 'armed';--> statement-breakpoint
ALTER TABLE `jobs` ADD `price_minor` integer;