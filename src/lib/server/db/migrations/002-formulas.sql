-- SQLite changes no CHECK: the table is made anew with the type of entity that came.
CREATE TABLE entity_2 (
	project TEXT NOT NULL REFERENCES project (id) ON DELETE CASCADE,
	id TEXT NOT NULL,
	type TEXT NOT NULL CHECK (type IN ('part', 'clip', 'channel', 'formula', 'cue')),
	clip TEXT,
	part TEXT,
	body TEXT NOT NULL,
	PRIMARY KEY (project, id)
) STRICT, WITHOUT ROWID;

INSERT INTO entity_2 SELECT project, id, type, clip, part, body FROM entity;
DROP TABLE entity;
ALTER TABLE entity_2 RENAME TO entity;
