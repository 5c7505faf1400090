DROP TABLE draft_line;
DELETE FROM draft_file WHERE media = 'text/uri-list';
ALTER TABLE draft_file DROP CONSTRAINT draft_file_pkey, ADD PRIMARY KEY (id);
