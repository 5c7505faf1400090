DROP TABLE reply_token;
DROP TABLE reply;
