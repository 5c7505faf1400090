-- When something of the inbox reaches its reader elsewhere, too: never, at once, or daily with the morning's message.
ALTER TABLE inbox_wish ADD COLUMN elsewhere text;
UPDATE inbox_wish SET elsewhere = CASE WHEN NOT by_mail THEN 'never' WHEN word = 'morning' THEN 'daily' ELSE 'at_once' END;
ALTER TABLE inbox_wish ALTER COLUMN elsewhere SET NOT NULL;
ALTER TABLE inbox_wish DROP COLUMN by_mail;
