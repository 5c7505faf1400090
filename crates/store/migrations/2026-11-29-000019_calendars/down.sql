DROP TABLE calendar_address;
