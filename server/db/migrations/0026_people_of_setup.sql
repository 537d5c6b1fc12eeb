-- People were names in the set-up of the shop. From here on they stand by themselves, and can be given something to sign in with.
INSERT INTO people (id, name, does, role)
SELECT 'person-' || lower(hex(randomblob(6))), json_extract(each.value, '$.name'), json_extract(each.value, '$.does'), 'operator'
FROM settings, json_each(settings.value, '$.people') AS each
WHERE settings.key = 'shopSetup';
--> statement-breakpoint
UPDATE settings SET value = json_remove(value, '$.people') WHERE key = 'shopSetup';
