DROP TABLE place;
