DROP INDEX `jobs_claim_id_unique`;--> statement-breakpoint
CREATE INDEX `job_claim` ON `jobs` (`claim_id`);--> statement-breakpoint
ALTER TABLE `jobs` DROP COLUMN `pixels_across`;--> statement-breakpoint
ALTER TABLE `jobs` DROP COLUMN `assumed_dpi`;--> statement-breakpoint
ALTER TABLE `jobs` DROP COLUMN `has_alpha`;--> statement-breakpoint
ALTER TABLE `queues` DROP COLUMN `warn_below_dpi`;--> statement-breakpoint
ALTER TABLE `queues` DROP COLUMN `note_below_dpi`;