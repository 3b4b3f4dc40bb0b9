-- Version 5 of the document: nothing that is stored is different, but an older Hillock cannot read what is written now.
SELECT 1;
