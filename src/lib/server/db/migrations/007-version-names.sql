-- Version 6 of the document. A version of the project, as it was after an edit, can have a name.
ALTER TABLE journal ADD COLUMN name TEXT;
