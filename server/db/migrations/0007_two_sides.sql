ALTER TABLE `pieces` ADD `side` text DEFAULT 'front' NOT NULL;--> statement-breakpoint
ALTER TABLE `run_pieces` ADD `front_piece_id` text;--> statement-breakpoint
ALTER TABLE `runs` ADD `pair_id` text;--> statement-breakpoint
ALTER TABLE `runs` ADD `side` text;--> statement-breakpoint
CREATE INDEX `run_pair` ON `runs` (`pair_id`);