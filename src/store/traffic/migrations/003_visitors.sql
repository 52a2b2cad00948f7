-- Which clicks the page tag saw of the same browser, on the merchant's own site.
CREATE TABLE visits (
  visitor  TEXT    NOT NULL,
  click_id TEXT    NOT NULL,
  time     INTEGER NOT NULL,
  PRIMARY KEY (visitor, click_id)
) STRICT, WITHOUT ROWID;

-- Telephone numbers that were shown to one visit, and for how long.
CREATE TABLE number_leases (
  seq       INTEGER PRIMARY KEY,
  number_id INTEGER NOT NULL,
  click_id  TEXT    NOT NULL,
  from_time INTEGER NOT NULL,
  upto_time INTEGER NOT NULL
) STRICT;
CREATE INDEX leases_by_number ON number_leases (number_id, from_time);
CREATE TRIGGER leases_are_kept BEFORE DELETE ON number_leases BEGIN SELECT RAISE(ABORT, 'leases are append-only'); END;

-- What a report is about: a conversion, or a call that the telephone exchange put through.
ALTER TABLE postbacks ADD COLUMN about TEXT NOT NULL DEFAULT 'conversion' CHECK (about IN ('conversion', 'call'));
