CREATE TABLE `profiles` (
	`name` text PRIMARY KEY NOT NULL,
	`sha256` text NOT NULL,
	`space` text NOT NULL,
	`channels` integer NOT NULL,
	`bytes` blob NOT NULL
);
