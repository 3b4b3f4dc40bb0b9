-- What an entity may be is checked before it is written: the table need not be made anew for each type that comes.
CREATE TABLE entity_3 (
	project TEXT NOT NULL REFERENCES project (id) ON DELETE CASCADE,
	id TEXT NOT NULL,
	type TEXT NOT NULL,
	clip TEXT,
	part TEXT,
	body TEXT NOT NULL,
	PRIMARY KEY (project, id)
) STRICT, WITHOUT ROWID;

INSERT INTO entity_3 SELECT project, id, type, clip, part, body FROM entity;
DROP TABLE entity;
ALTER TABLE entity_3 RENAME TO entity;
