-- Where records stand in views' own orders.
CREATE TABLE place (
    tracker_id INTEGER NOT NULL,
    view_id INTEGER NOT NULL,
    record_id INTEGER NOT NULL,
    rank TEXT NOT NULL,
    PRIMARY KEY (tracker_id, view_id, record_id)
);
