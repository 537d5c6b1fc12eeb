CREATE TABLE `care_months` (
	`printer_id` text NOT NULL,
	`channel_id` text NOT NULL,
	`month` text NOT NULL,
	`ml` real NOT NULL,
	PRIMARY KEY(`printer_id`, `channel_id`, `month`)
);
--> statement-breakpoint
CREATE TABLE `care_outcomes` (
	`printer_id` text NOT NULL,
	`channel_id` text NOT NULL,
	`action` text NOT NULL,
	`tried` integer NOT NULL,
	`helped` integer NOT NULL,
	PRIMARY KEY(`printer_id`, `channel_id`, `action`)
);
--> statement-breakpoint
CREATE TABLE `channel_heads` (
	`printer_id` text NOT NULL,
	`channel_id` text NOT NULL,
	`faults` text,
	`checked_ms` integer,
	`strain` text NOT NULL,
	`learned` text NOT NULL,
	`counted_ms` integer NOT NULL,
	`longest_h` real DEFAULT 0 NOT NULL,
	`sums` text NOT NULL,
	`done` text NOT NULL,
	`failed` text NOT NULL,
	PRIMARY KEY(`printer_id`, `channel_id`)
);
--> statement-breakpoint
CREATE TABLE `clog_spells` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`printer_id` text NOT NULL,
	`channel_id` text NOT NULL,
	`ended_ms` integer NOT NULL,
	`idle_h` real NOT NULL,
	`clogs` integer NOT NULL
);
--> statement-breakpoint
CREATE INDEX `spell_channel` ON `clog_spells` (`printer_id`,`channel_id`,`id`);--> statement-breakpoint
CREATE TABLE `nozzle_checks` (
	`seq` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`id` text NOT NULL,
	`printer_id` text NOT NULL,
	`care_id` text,
	`channel_ids` text NOT NULL,
	`printed_ms` integer NOT NULL,
	`spells` text NOT NULL,
	`read_ms` integer,
	`by` text,
	`who` text,
	`confidence` real,
	`found` text,
	FOREIGN KEY (`printer_id`) REFERENCES `printers`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `nozzle_checks_id_unique` ON `nozzle_checks` (`id`);--> statement-breakpoint
CREATE UNIQUE INDEX `check_care` ON `nozzle_checks` (`care_id`);--> statement-breakpoint
CREATE INDEX `check_printed` ON `nozzle_checks` (`printer_id`,`printed_ms`);--> statement-breakpoint
ALTER TABLE `stocks` ADD `clear` integer DEFAULT false NOT NULL;