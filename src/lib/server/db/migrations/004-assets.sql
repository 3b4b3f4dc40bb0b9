-- Pictures and films that projects refer to, by the SHA-256 of their content.
CREATE TABLE asset (
	project TEXT NOT NULL REFERENCES project (id) ON DELETE CASCADE,
	id TEXT NOT NULL,
	name TEXT NOT NULL,
	media_type TEXT NOT NULL,
	content BLOB NOT NULL,
	made_at TEXT NOT NULL,
	PRIMARY KEY (project, id)
) STRICT;
