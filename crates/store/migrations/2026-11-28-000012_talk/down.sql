DROP TABLE attention;
DROP TABLE comment;
