DROP TABLE passkey_asked;
DROP TABLE passkey;
DROP TABLE handed;
DROP TABLE pin;
DELETE FROM part WHERE tracker_id = 0 AND sort = 'area';
