CREATE TABLE project (
	id TEXT PRIMARY KEY,
	body TEXT NOT NULL,
	revision INTEGER NOT NULL,
	-- Revision of the edit that undo takes back next; null at the bottom of the line.
	undo_top INTEGER,
	created_at TEXT NOT NULL,
	updated_at TEXT NOT NULL,
	deleted_at TEXT
) STRICT;

CREATE TABLE entity (
	project TEXT NOT NULL REFERENCES project (id) ON DELETE CASCADE,
	id TEXT NOT NULL,
	type TEXT NOT NULL CHECK (type IN ('part', 'clip', 'channel', 'cue')),
	clip TEXT,
	part TEXT,
	body TEXT NOT NULL,
	PRIMARY KEY (project, id)
) STRICT, WITHOUT ROWID;

CREATE TABLE journal (
	project TEXT NOT NULL REFERENCES project (id) ON DELETE CASCADE,
	revision INTEGER NOT NULL,
	-- Made by the client: a retry after a lost answer finds its first answer by it.
	edit_id TEXT NOT NULL,
	kind TEXT NOT NULL CHECK (kind IN ('edit', 'undo', 'redo')),
	label TEXT NOT NULL,
	forward TEXT NOT NULL,
	inverse TEXT NOT NULL,
	-- For an edit: what was on top of the line of undo before it. For undo and redo: the edit concerned.
	below INTEGER,
	made_at TEXT NOT NULL,
	PRIMARY KEY (project, revision),
	UNIQUE (project, edit_id)
) STRICT, WITHOUT ROWID;

CREATE INDEX journal_line ON journal (project, below, revision) WHERE kind = 'edit';

CREATE TABLE export (
	id TEXT PRIMARY KEY,
	project TEXT NOT NULL REFERENCES project (id) ON DELETE CASCADE,
	file_name TEXT NOT NULL,
	media_type TEXT NOT NULL,
	content BLOB NOT NULL,
	report TEXT NOT NULL,
	made_at TEXT NOT NULL
) STRICT;

CREATE INDEX export_of_project ON export (project, made_at);
