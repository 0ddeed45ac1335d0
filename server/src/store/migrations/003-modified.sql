-- When each file was last written, in milliseconds since 1970: a file that is as it was is not read again.
ALTER TABLE files ADD COLUMN modified REAL NOT NULL DEFAULT 0;
