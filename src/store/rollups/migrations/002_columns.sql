-- Clicks column by column, for reports over millions of them. Made anew from the traffic.
DROP TABLE click_log;
DELETE FROM daily_clicks;
DELETE FROM positions;

-- The newest clicks, until there are enough of them for a block.
CREATE TABLE recent_clicks (
  seq INTEGER PRIMARY KEY,
  program    TEXT NOT NULL,
  day        TEXT NOT NULL,
  hour       TEXT NOT NULL,
  partner    TEXT NOT NULL,
  channel    TEXT NOT NULL,
  offer      TEXT NOT NULL,
  link       TEXT NOT NULL,
  sub1       TEXT NOT NULL,
  sub2       TEXT NOT NULL,
  sub3       TEXT NOT NULL,
  sub4       TEXT NOT NULL,
  sub5       TEXT NOT NULL,
  pcid       TEXT NOT NULL,
  one1       TEXT NOT NULL,
  one2       TEXT NOT NULL,
  one3       TEXT NOT NULL,
  country    TEXT NOT NULL,
  device     TEXT NOT NULL,
  os         TEXT NOT NULL,
  browser    TEXT NOT NULL,
  language   TEXT NOT NULL,
  referrer   TEXT NOT NULL,
  via        TEXT NOT NULL,
  rule       TEXT NOT NULL,
  page       TEXT NOT NULL,
  "unique"   TEXT NOT NULL,
  set_aside  TEXT NOT NULL,
  flags      TEXT NOT NULL,
  cost       TEXT NOT NULL
) STRICT;

-- A block is a run of clicks without a gap: row n is the click with the number first_seq + n.
CREATE TABLE click_blocks (
  first_seq INTEGER PRIMARY KEY,
  rows      INTEGER NOT NULL,
  from_day  TEXT    NOT NULL,
  to_day    TEXT    NOT NULL
) STRICT;
CREATE TABLE block_columns (
  id         INTEGER PRIMARY KEY,
  first_seq  INTEGER NOT NULL REFERENCES click_blocks,
  name       TEXT    NOT NULL,
  dictionary BLOB    NOT NULL,
  codes      BLOB    NOT NULL,
  UNIQUE (first_seq, name)
) STRICT;

-- Each matched conversion with what is known of its click; figures follow the books.
CREATE TABLE conversion_facts (
  id         INTEGER PRIMARY KEY,
  program    TEXT NOT NULL,
  day        TEXT NOT NULL,
  hour       TEXT NOT NULL,
  partner    TEXT NOT NULL,
  channel    TEXT NOT NULL,
  offer      TEXT NOT NULL,
  link       TEXT NOT NULL,
  sub1       TEXT NOT NULL,
  sub2       TEXT NOT NULL,
  sub3       TEXT NOT NULL,
  sub4       TEXT NOT NULL,
  sub5       TEXT NOT NULL,
  pcid       TEXT NOT NULL,
  one1       TEXT NOT NULL,
  one2       TEXT NOT NULL,
  one3       TEXT NOT NULL,
  country    TEXT NOT NULL,
  device     TEXT NOT NULL,
  os         TEXT NOT NULL,
  browser    TEXT NOT NULL,
  language   TEXT NOT NULL,
  referrer   TEXT NOT NULL,
  via        TEXT NOT NULL,
  rule       TEXT NOT NULL,
  page       TEXT NOT NULL,
  "unique"   TEXT NOT NULL,
  set_aside  TEXT NOT NULL,
  flags      TEXT NOT NULL,
  cost       TEXT NOT NULL,
  event      TEXT    NOT NULL,
  state      TEXT    NOT NULL,
  commission INTEGER NOT NULL
) STRICT;

-- The same, by runs of IDs, for as long as none of a run changes.
CREATE TABLE conversion_blocks (
  block    INTEGER PRIMARY KEY,
  rows     INTEGER NOT NULL,
  from_day TEXT    NOT NULL,
  to_day   TEXT    NOT NULL
) STRICT;
CREATE TABLE conversion_block_columns (
  id         INTEGER PRIMARY KEY,
  block      INTEGER NOT NULL,
  name       TEXT    NOT NULL,
  dictionary BLOB    NOT NULL,
  codes      BLOB    NOT NULL,
  UNIQUE (block, name)
) STRICT;
