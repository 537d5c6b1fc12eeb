CREATE TABLE `care_items` (
	`seq` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`id` text NOT NULL,
	`printer_id` text NOT NULL,
	`what` text NOT NULL,
	`title` text NOT NULL,
	`timer_id` text,
	`due_ms` integer NOT NULL,
	`latest_ms` integer NOT NULL,
	`state` text NOT NULL,
	`attempt` integer DEFAULT 0 NOT NULL,
	`report_seq` integer DEFAULT 0 NOT NULL,
	`reason` text,
	`estimate_ms` real NOT NULL,
	`ink_ml` text NOT NULL,
	`saved_ml` text NOT NULL,
	`fed_mm` real DEFAULT 0 NOT NULL,
	`spool_id` text,
	`ms_left` real,
	`progress_ms` integer,
	`started_ms` integer,
	`ended_ms` integer,
	FOREIGN KEY (`printer_id`) REFERENCES `printers`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `care_items_id_unique` ON `care_items` (`id`);--> statement-breakpoint
CREATE UNIQUE INDEX `care_occurrence` ON `care_items` (`timer_id`,`due_ms`);--> statement-breakpoint
CREATE INDEX `care_line` ON `care_items` (`printer_id`,`state`);--> statement-breakpoint
CREATE INDEX `care_state` ON `care_items` (`state`,`due_ms`);--> statement-breakpoint
CREATE INDEX `care_due` ON `care_items` (`due_ms`);--> statement-breakpoint
CREATE INDEX `care_spool` ON `care_items` (`spool_id`,`state`);--> statement-breakpoint
CREATE TABLE `channel_exercise` (
	`printer_id` text NOT NULL,
	`channel_id` text NOT NULL,
	`exercised_ms` integer NOT NULL,
	PRIMARY KEY(`printer_id`, `channel_id`)
);
--> statement-breakpoint
CREATE TABLE `purge_designs` (
	`id` text PRIMARY KEY NOT NULL,
	`printer_id` text NOT NULL,
	`name` text NOT NULL,
	`sheet` text NOT NULL,
	`mode_id` text NOT NULL,
	`stock_id` text NOT NULL,
	`only_needed` integer DEFAULT false NOT NULL,
	FOREIGN KEY (`printer_id`) REFERENCES `printers`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`stock_id`) REFERENCES `stocks`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `timers` (
	`id` text PRIMARY KEY NOT NULL,
	`group_id` text NOT NULL,
	`printer_id` text NOT NULL,
	`what` text NOT NULL,
	`rrule` text,
	`start_local` text NOT NULL,
	`until_local` text,
	`skip_holidays` integer NOT NULL,
	`missed` text NOT NULL,
	`slack_min` integer NOT NULL,
	`paused` integer NOT NULL,
	`next_ms` integer,
	`version` integer DEFAULT 0 NOT NULL,
	FOREIGN KEY (`printer_id`) REFERENCES `printers`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `timer_next` ON `timers` (`paused`,`next_ms`);--> statement-breakpoint
CREATE INDEX `timer_printer` ON `timers` (`printer_id`);