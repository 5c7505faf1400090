DROP TABLE page_visit;
DROP TABLE page_code;
DROP TABLE page_session;
DROP TABLE page_link;
DELETE FROM part WHERE sort = 'page';
