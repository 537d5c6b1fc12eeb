ALTER TABLE `run_pieces` ADD `angle_deg` real DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE `run_pieces` SET `angle_deg` = 90 WHERE `turned` = 1;--> statement-breakpoint
ALTER TABLE `run_pieces` DROP COLUMN `turned`;