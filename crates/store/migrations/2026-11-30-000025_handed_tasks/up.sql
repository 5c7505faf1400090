-- What was asked of somebody who left, and went to somebody else with that: it goes back with it.
ALTER TABLE task ADD COLUMN handed_with BIGINT, ADD COLUMN handed_from INTEGER, ADD COLUMN handed_to INTEGER;
