DROP TABLE opt_out_token;
