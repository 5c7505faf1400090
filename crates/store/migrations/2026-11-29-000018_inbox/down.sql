DROP TABLE inbox_wish;
DROP TABLE notice;
