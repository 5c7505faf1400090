DROP TABLE morning;
DROP TABLE task;
