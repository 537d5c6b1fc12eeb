CREATE TABLE `api_tokens` (
	`id` text PRIMARY KEY NOT NULL,
	`digest` text NOT NULL,
	`person_id` text NOT NULL,
	`name` text NOT NULL,
	`scope` text NOT NULL,
	`created_ms` integer NOT NULL,
	`until_ms` integer NOT NULL,
	`used_ms` integer,
	FOREIGN KEY (`person_id`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `api_tokens_digest_unique` ON `api_tokens` (`digest`);--> statement-breakpoint
CREATE INDEX `api_tokens_of_person` ON `api_tokens` (`person_id`);--> statement-breakpoint
CREATE TABLE `failed_sign_ins` (
	`key` text PRIMARY KEY NOT NULL,
	`failures` integer DEFAULT 0 NOT NULL,
	`last_ms` integer NOT NULL
);
--> statement-breakpoint
CREATE INDEX `failed_sign_ins_by_last` ON `failed_sign_ins` (`last_ms`);--> statement-breakpoint
CREATE TABLE `one_time_codes` (
	`digest` text PRIMARY KEY NOT NULL,
	`person_id` text,
	`until_ms` integer NOT NULL,
	FOREIGN KEY (`person_id`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `people` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`does` text DEFAULT '' NOT NULL,
	`role` text NOT NULL,
	`mail` text,
	`hours` text,
	`quiet` text,
	`sign_in_name` text,
	`password` text,
	`totp` text,
	`totp_step` integer,
	`provider_subject` text,
	`preferences` text DEFAULT '{}' NOT NULL,
	`left_ms` integer
);
--> statement-breakpoint
CREATE UNIQUE INDEX `people_sign_in_name_unique` ON `people` (`sign_in_name`);--> statement-breakpoint
CREATE UNIQUE INDEX `people_provider_subject_unique` ON `people` (`provider_subject`);--> statement-breakpoint
CREATE TABLE `sessions` (
	`id` text PRIMARY KEY NOT NULL,
	`digest` text NOT NULL,
	`person_id` text NOT NULL,
	`device` text NOT NULL,
	`created_ms` integer NOT NULL,
	`seen_ms` integer NOT NULL,
	FOREIGN KEY (`person_id`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `sessions_digest_unique` ON `sessions` (`digest`);--> statement-breakpoint
CREATE INDEX `sessions_of_person` ON `sessions` (`person_id`);--> statement-breakpoint
CREATE INDEX `sessions_by_seen` ON `sessions` (`seen_ms`);