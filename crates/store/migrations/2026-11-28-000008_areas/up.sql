-- Areas are parts of the team; until now each tracker held the name of its own.
INSERT INTO part (tracker_id, sort, number, body, format)
SELECT 0, 'area', row_number() OVER (ORDER BY area.name),
       json_build_object('area', json_build_object('id', row_number() OVER (ORDER BY area.name), 'name', area.name, 'trackers', area.trackers)), 2
FROM (
    SELECT btrim(body::json -> 'tracker' ->> 'area') AS name, json_agg(tracker_id ORDER BY tracker_id) AS trackers
    FROM part WHERE sort = 'tracker' AND tracker_id > 0
    GROUP BY 1
) area
WHERE area.name IS NOT NULL AND area.name <> '';

-- What somebody keeps on top at home, for themselves alone.
CREATE TABLE pin (
    person_id   INTEGER NOT NULL,
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    PRIMARY KEY (person_id, tracker_id)
);
