CREATE TABLE `events` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at_ms` integer NOT NULL,
	`kind` text NOT NULL,
	`subject_type` text NOT NULL,
	`subject_id` text NOT NULL,
	`who` text NOT NULL,
	`text` text NOT NULL,
	`undo` text
);
--> statement-breakpoint
CREATE INDEX `event_subject` ON `events` (`subject_type`,`subject_id`);--> statement-breakpoint
CREATE TABLE `hot_folders` (
	`id` text PRIMARY KEY NOT NULL,
	`queue_id` text NOT NULL,
	`path` text NOT NULL,
	FOREIGN KEY (`queue_id`) REFERENCES `queues`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `ink_ledger` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`printer_id` text NOT NULL,
	`channel_id` text NOT NULL,
	`ml` real NOT NULL,
	`run_id` text,
	`attempt` integer,
	`at_ms` integer NOT NULL,
	FOREIGN KEY (`printer_id`) REFERENCES `printers`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `ink_run` ON `ink_ledger` (`printer_id`,`channel_id`,`run_id`,`attempt`);--> statement-breakpoint
CREATE TABLE `job_pages` (
	`job_id` text NOT NULL,
	`page` integer NOT NULL,
	`width_mm` real NOT NULL,
	`height_mm` real NOT NULL,
	`bleed` text NOT NULL,
	`coverage` text NOT NULL,
	PRIMARY KEY(`job_id`, `page`),
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `jobs` (
	`seq` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`id` text NOT NULL,
	`queue_id` text NOT NULL,
	`hot_folder_id` text,
	`claim_id` text,
	`source_name` text NOT NULL,
	`sha256` text,
	`format` text,
	`bytes` integer NOT NULL,
	`width_mm` real,
	`height_mm` real,
	`pages` integer,
	`pixels_across` integer,
	`assumed_dpi` integer,
	`has_alpha` integer DEFAULT false NOT NULL,
	`state` text NOT NULL,
	`ticket` text NOT NULL,
	`findings` text NOT NULL,
	`arrived_ms` integer NOT NULL,
	FOREIGN KEY (`queue_id`) REFERENCES `queues`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`hot_folder_id`) REFERENCES `hot_folders`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `jobs_id_unique` ON `jobs` (`id`);--> statement-breakpoint
CREATE UNIQUE INDEX `jobs_claim_id_unique` ON `jobs` (`claim_id`);--> statement-breakpoint
CREATE INDEX `job_state` ON `jobs` (`state`);--> statement-breakpoint
CREATE TABLE `pieces` (
	`id` text PRIMARY KEY NOT NULL,
	`job_id` text NOT NULL,
	`page` integer NOT NULL,
	`copy` integer NOT NULL,
	`state` text NOT NULL,
	`run_id` text,
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `piece_job` ON `pieces` (`job_id`);--> statement-breakpoint
CREATE INDEX `piece_run` ON `pieces` (`run_id`);--> statement-breakpoint
CREATE TABLE `printers` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`position` integer NOT NULL,
	`config` text NOT NULL,
	`link_status` text DEFAULT 'off' NOT NULL,
	`link_reason` text
);
--> statement-breakpoint
CREATE TABLE `queues` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`printer_id` text NOT NULL,
	`settings` text NOT NULL,
	`gap_mm` real NOT NULL,
	`arrival_rule` text NOT NULL,
	`warn_below_dpi` integer NOT NULL,
	`note_below_dpi` integer NOT NULL,
	`position` integer NOT NULL,
	FOREIGN KEY (`printer_id`) REFERENCES `printers`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `refusals` (
	`id` text PRIMARY KEY NOT NULL,
	`claim_id` text NOT NULL,
	`queue_id` text NOT NULL,
	`hot_folder_id` text,
	`source_name` text NOT NULL,
	`reason` text NOT NULL,
	`side_path` text NOT NULL,
	`at_ms` integer NOT NULL,
	`dismissed` integer DEFAULT false NOT NULL,
	FOREIGN KEY (`queue_id`) REFERENCES `queues`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `refusals_claim_id_unique` ON `refusals` (`claim_id`);--> statement-breakpoint
CREATE TABLE `run_pieces` (
	`run_id` text NOT NULL,
	`piece_id` text NOT NULL,
	`x_mm` real DEFAULT 0 NOT NULL,
	`y_mm` real DEFAULT 0 NOT NULL,
	`turned` integer DEFAULT false NOT NULL,
	`placed` integer DEFAULT false NOT NULL,
	PRIMARY KEY(`run_id`, `piece_id`),
	FOREIGN KEY (`run_id`) REFERENCES `runs`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`piece_id`) REFERENCES `pieces`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `run_piece_piece` ON `run_pieces` (`piece_id`);--> statement-breakpoint
CREATE TABLE `runs` (
	`seq` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`id` text NOT NULL,
	`printer_id` text NOT NULL,
	`queue_id` text NOT NULL,
	`spool_id` text,
	`state` text NOT NULL,
	`position` integer NOT NULL,
	`attempt` integer DEFAULT 0 NOT NULL,
	`settings` text NOT NULL,
	`ticket` text NOT NULL,
	`media_width_mm` real NOT NULL,
	`length_mm` real DEFAULT 0 NOT NULL,
	`estimate_ms` real DEFAULT 0 NOT NULL,
	`ink_ml` text NOT NULL,
	`reason` text,
	`phase` text,
	`reached_mm` real,
	`fed_mm` real,
	`ms_left` real,
	`progress_ms` integer,
	`created_ms` integer NOT NULL,
	`started_ms` integer,
	`ended_ms` integer,
	FOREIGN KEY (`printer_id`) REFERENCES `printers`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`queue_id`) REFERENCES `queues`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`spool_id`) REFERENCES `spools`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `runs_id_unique` ON `runs` (`id`);--> statement-breakpoint
CREATE INDEX `run_line` ON `runs` (`printer_id`,`state`);--> statement-breakpoint
CREATE TABLE `settings` (
	`key` text PRIMARY KEY NOT NULL,
	`value` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `spool_ledger` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`spool_id` text NOT NULL,
	`kind` text NOT NULL,
	`mm` real NOT NULL,
	`run_id` text,
	`attempt` integer,
	`at_ms` integer NOT NULL,
	FOREIGN KEY (`spool_id`) REFERENCES `spools`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `ledger_spool` ON `spool_ledger` (`spool_id`);--> statement-breakpoint
CREATE UNIQUE INDEX `ledger_run` ON `spool_ledger` (`run_id`,`attempt`);--> statement-breakpoint
CREATE TABLE `spools` (
	`id` text PRIMARY KEY NOT NULL,
	`label` text NOT NULL,
	`lot` text NOT NULL,
	`stock_id` text NOT NULL,
	`printer_id` text,
	`source_id` text,
	FOREIGN KEY (`stock_id`) REFERENCES `stocks`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`printer_id`) REFERENCES `printers`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `spool_place` ON `spools` (`printer_id`,`source_id`);--> statement-breakpoint
CREATE TABLE `stocks` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`width_mm` real NOT NULL,
	`thickness_mm` real NOT NULL,
	`core_mm` real NOT NULL,
	`colour` text NOT NULL,
	`price_per_m2_minor` integer NOT NULL
);
