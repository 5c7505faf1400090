ALTER TABLE draft_line DROP COLUMN place;
DELETE FROM place WHERE is_lines;
ALTER TABLE place DROP COLUMN is_lines;
ALTER TABLE place RENAME COLUMN part_id TO view_id;
