ALTER TABLE message DROP COLUMN came_by;
