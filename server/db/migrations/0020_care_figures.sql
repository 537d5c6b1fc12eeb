-- Printers that were set up before have the figures that held for all of them.
UPDATE `printers` SET `config` = json_set(`config`, '$.care', json('{"exerciseDrops":2000,"check":{"minutes":2,"mlPerHead":0.05,"lengthMm":120},"light":{"minutes":4,"mlPerHead":0.9},"deep":{"minutes":7,"mlPerHead":2.4},"stirMinutes":3}')) WHERE json_extract(`config`, '$.care') IS NULL;
