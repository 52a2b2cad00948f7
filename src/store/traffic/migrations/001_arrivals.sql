-- Raw clicks and postbacks as they came. Written by the edge alone, append-only: the fact of what happened.
CREATE TABLE clicks (
  seq        INTEGER PRIMARY KEY,
  click_id   TEXT    NOT NULL UNIQUE,
  time       INTEGER NOT NULL,
  link_id    INTEGER NOT NULL,
  partner_id INTEGER NOT NULL,
  channel_id INTEGER NOT NULL,
  offer_id   INTEGER NOT NULL,
  program_id INTEGER NOT NULL,
  visitor    TEXT    NOT NULL,
  is_unique  INTEGER NOT NULL CHECK (is_unique IN (0, 1)),
  set_aside  TEXT,
  flags      TEXT,
  via        TEXT    NOT NULL,
  address    TEXT    NOT NULL,
  query      TEXT    NOT NULL,
  referrer   TEXT,
  agent      TEXT,
  language   TEXT,
  client     TEXT
) STRICT;

CREATE TABLE postbacks (
  seq          INTEGER PRIMARY KEY,
  receipt_id   TEXT    NOT NULL UNIQUE,
  time         INTEGER NOT NULL,
  program_id   INTEGER NOT NULL,
  method       TEXT    NOT NULL,
  content_type TEXT,
  query        TEXT    NOT NULL,
  body         TEXT    NOT NULL,
  client       TEXT
) STRICT;

-- Requests for codes that do not exist, counted by UTC day: bounded, whatever is asked for.
CREATE TABLE unknown_codes (
  day  TEXT PRIMARY KEY,
  hits INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TRIGGER clicks_are_kept BEFORE DELETE ON clicks BEGIN SELECT RAISE(ABORT, 'clicks are append-only'); END;
CREATE TRIGGER clicks_stand BEFORE UPDATE ON clicks BEGIN SELECT RAISE(ABORT, 'clicks are append-only'); END;
CREATE TRIGGER postbacks_are_kept BEFORE DELETE ON postbacks BEGIN SELECT RAISE(ABORT, 'postbacks are append-only'); END;
CREATE TRIGGER postbacks_stand BEFORE UPDATE ON postbacks BEGIN SELECT RAISE(ABORT, 'postbacks are append-only'); END;
