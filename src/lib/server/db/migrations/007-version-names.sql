-- A version can have a name: of the project as it was after an edit.
ALTER TABLE journal ADD COLUMN name TEXT;
