ALTER TABLE `care_rules` ADD `changed_by` text;--> statement-breakpoint
ALTER TABLE `timers` ADD `changed_by` text;