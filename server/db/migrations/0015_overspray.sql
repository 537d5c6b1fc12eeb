-- Printers that were set up before overspray was known print exactly to the edge of the media.
UPDATE `printers` SET `config` = json_set(`config`, '$.oversprayMm', 0) WHERE json_extract(`config`, '$.oversprayMm') IS NULL;
