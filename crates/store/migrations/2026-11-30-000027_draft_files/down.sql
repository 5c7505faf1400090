DROP TABLE draft_file;
