CREATE TABLE `message_causes` (
	`seq` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`id` text NOT NULL,
	`key` text NOT NULL,
	`kind` text NOT NULL,
	`text` text NOT NULL,
	`way` text NOT NULL,
	`printer_id` text,
	`opened_ms` integer NOT NULL,
	`closed_ms` integer,
	`seen_ms` integer,
	`seen_by` text
);
--> statement-breakpoint
CREATE UNIQUE INDEX `message_causes_id_unique` ON `message_causes` (`id`);--> statement-breakpoint
CREATE INDEX `cause_opened` ON `message_causes` (`opened_ms`);--> statement-breakpoint
CREATE UNIQUE INDEX `cause_open` ON `message_causes` (`key`) WHERE closed_ms IS NULL;--> statement-breakpoint
CREATE TABLE `message_rules` (
	`person_id` text PRIMARY KEY NOT NULL,
	`kinds` text NOT NULL,
	`repeat_min` integer,
	`escalate_after_min` integer,
	`escalate_to_id` text,
	FOREIGN KEY (`person_id`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`escalate_to_id`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `message_sends` (
	`id` text PRIMARY KEY NOT NULL,
	`cause_id` text NOT NULL,
	`person_id` text,
	`webhook_id` text,
	`way` text NOT NULL,
	`escalated` integer NOT NULL,
	`at_ms` integer NOT NULL,
	`state` text NOT NULL,
	`tries` integer DEFAULT 0 NOT NULL,
	`next_real_ms` integer NOT NULL,
	`error` text
);
--> statement-breakpoint
CREATE INDEX `send_cause` ON `message_sends` (`cause_id`);--> statement-breakpoint
CREATE INDEX `send_due` ON `message_sends` (`state`,`next_real_ms`);--> statement-breakpoint
CREATE TABLE `webhooks` (
	`id` text PRIMARY KEY NOT NULL,
	`url` text NOT NULL,
	`secret` text NOT NULL,
	`kinds` text NOT NULL
);
