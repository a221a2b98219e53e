-- A part cut out of a recording is an excerpt; a clip is a file that an event plays.
UPDATE `recordings` SET `kind` = 'excerpt' WHERE `kind` = 'clip';
