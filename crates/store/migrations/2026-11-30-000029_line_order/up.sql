-- Lines stand in an order by hand too: by the link under which they stand. Numbers of views and fields are never the same.
ALTER TABLE place RENAME COLUMN view_id TO part_id;
ALTER TABLE place ADD COLUMN is_lines BOOLEAN NOT NULL DEFAULT false;

-- Where a line of a draft stands among the others: at first in the order in which they came.
ALTER TABLE draft_line ADD COLUMN place INTEGER;
UPDATE draft_line SET place = line_id;
ALTER TABLE draft_line ALTER COLUMN place SET NOT NULL, ALTER COLUMN place SET DEFAULT nextval('draft_line_line_id_seq');
