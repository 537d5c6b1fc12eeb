ALTER TABLE `stocks` ADD `leader_mm` real DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `stocks` ADD `codes` text DEFAULT '[]' NOT NULL;