CREATE TABLE `night_proposals` (
	`id` text PRIMARY KEY NOT NULL,
	`made_ms` integer NOT NULL,
	`from_ms` integer NOT NULL,
	`to_ms` integer NOT NULL,
	`state` text NOT NULL,
	`assignment` text NOT NULL,
	`units` text NOT NULL,
	`undo` text
);
--> statement-breakpoint
CREATE INDEX `night_made` ON `night_proposals` (`made_ms`);