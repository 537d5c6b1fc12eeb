ALTER TABLE `profiles` ADD `before` blob;--> statement-breakpoint
ALTER TABLE `runs` ADD `sent_rendering` text;