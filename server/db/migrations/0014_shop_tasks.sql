ALTER TABLE `tasks` DROP COLUMN `reason`;--> statement-breakpoint
ALTER TABLE `tasks` ADD `error` text;--> statement-breakpoint
CREATE INDEX `task_key` ON `tasks` (`kind`,`key`);--> statement-breakpoint
INSERT INTO `tasks` (`id`, `kind`, `key`, `input`, `priority`, `state`, `attempts`, `created_ms`)
SELECT 'task-' || lower(hex(randomblob(8))), 'arrival', coalesce(`claim_id`, `id`),
  json_object(
    'jobIds', json_group_array(`id`),
    'rule', json_extract(min(`arrival_todo`), '$.rule'),
    'step', json_extract(min(`arrival_todo`), '$.step')
  ),
  1, 'waiting', 0, 0
FROM `jobs` WHERE `arrival_todo` > '' GROUP BY coalesce(`claim_id`, `id`);--> statement-breakpoint
DROP INDEX `job_todo`;--> statement-breakpoint
ALTER TABLE `jobs` DROP COLUMN `arrival_todo`;
