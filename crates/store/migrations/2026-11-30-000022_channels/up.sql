-- By which way it came to the post room: mail, chat, text, or the call of a web address.
ALTER TABLE message ADD COLUMN came_by text NOT NULL DEFAULT 'mail';
UPDATE message SET came_by = 'call' WHERE message_id LIKE 'call.%';
