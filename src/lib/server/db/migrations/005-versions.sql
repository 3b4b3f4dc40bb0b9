-- The version of the document's format in which a body was written: older ones are brought up when they are read.
-- All that is here already was written before there was another one than 4.
ALTER TABLE project ADD COLUMN version INTEGER NOT NULL DEFAULT 4;
ALTER TABLE entity ADD COLUMN version INTEGER NOT NULL DEFAULT 4;
ALTER TABLE journal ADD COLUMN version INTEGER NOT NULL DEFAULT 4;
