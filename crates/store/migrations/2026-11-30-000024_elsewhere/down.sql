ALTER TABLE inbox_wish ADD COLUMN by_mail boolean;
UPDATE inbox_wish SET by_mail = elsewhere <> 'never';
ALTER TABLE inbox_wish ALTER COLUMN by_mail SET NOT NULL;
ALTER TABLE inbox_wish DROP COLUMN elsewhere;
