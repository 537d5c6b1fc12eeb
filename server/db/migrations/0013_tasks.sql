CREATE TABLE `tasks` (
	`id` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`key` text NOT NULL,
	`input` text,
	`priority` integer NOT NULL,
	`state` text NOT NULL,
	`attempts` integer DEFAULT 0 NOT NULL,
	`lease_by` text,
	`lease_until_ms` integer,
	`progress` real,
	`result` text,
	`reason` text,
	`created_ms` integer NOT NULL,
	`ended_ms` integer
);
--> statement-breakpoint
CREATE INDEX `task_state` ON `tasks` (`state`,`priority`,`created_ms`);--> statement-breakpoint
CREATE INDEX `task_ended` ON `tasks` (`ended_ms`);