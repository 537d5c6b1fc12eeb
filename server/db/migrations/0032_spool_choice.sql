CREATE TABLE `stock_orders` (
	`id` text PRIMARY KEY NOT NULL,
	`stock_id` text NOT NULL,
	`mm` real NOT NULL,
	`received_mm` real DEFAULT 0 NOT NULL,
	`ordered_ms` integer NOT NULL,
	`closed_ms` integer,
	FOREIGN KEY (`stock_id`) REFERENCES `stocks`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `stock_order_stock` ON `stock_orders` (`stock_id`,`closed_ms`);--> statement-breakpoint
CREATE INDEX `stock_order_open` ON `stock_orders` (`ordered_ms`) WHERE closed_ms IS NULL;--> statement-breakpoint
ALTER TABLE `runs` ADD `meant_spool_id` text REFERENCES spools(id);--> statement-breakpoint
ALTER TABLE `stocks` ADD `usable_mm` real DEFAULT 1000 NOT NULL;--> statement-breakpoint
ALTER TABLE `stocks` ADD `part_discount` real DEFAULT 0.15 NOT NULL;--> statement-breakpoint
ALTER TABLE `stocks` ADD `lead_days` integer;--> statement-breakpoint
ALTER TABLE `stocks` ADD `cover_days` integer DEFAULT 10 NOT NULL;--> statement-breakpoint
ALTER TABLE `stocks` ADD `least_mm` real DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `stocks` ADD `pack_mm` real;--> statement-breakpoint
CREATE INDEX `spool_stock` ON `spools` (`stock_id`);