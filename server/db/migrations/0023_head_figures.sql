-- What fitness needs of printers that are there already.
UPDATE `printers` SET `config` = json_insert(`config`,
  '$.care.channelShare', 0.95, '$.care.restMinutes', 60, '$.care.serviceMinor', 18000,
  '$.machine.bars', 1, '$.readsChecks', json('false'))
WHERE json_extract(`config`, '$.care') IS NOT NULL AND json_extract(`config`, '$.machine') IS NOT NULL;
--> statement-breakpoint
UPDATE `printers` SET `config` = json_set(`config`, '$.modes', (
  SELECT json_group_array(json(json_insert(value, '$.classShare', 0.5, '$.mostColumns', 2, '$.mostBadShare', 0.005)))
  FROM json_each(`config`, '$.modes')))
WHERE json_extract(`config`, '$.modes') IS NOT NULL;
--> statement-breakpoint
-- Ink that care has fired before months were kept, by months of UTC.
INSERT INTO `care_months` (`printer_id`, `channel_id`, `month`, `ml`)
SELECT `printer_id`, `channel_id`, strftime('%Y-%m', `at_ms` / 1000, 'unixepoch'), -sum(`ml`)
FROM `ink_ledger` WHERE `purpose` IN ('purge', 'check', 'clean', 'care') AND `ml` < 0
GROUP BY 1, 2, 3;
