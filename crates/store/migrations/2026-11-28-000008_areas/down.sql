DROP TABLE pin;
DELETE FROM part WHERE tracker_id = 0 AND sort = 'area';
