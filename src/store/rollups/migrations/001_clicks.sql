-- Derived from the traffic by the worker: may be deleted and is rebuilt.
CREATE TABLE click_log (
  seq        INTEGER PRIMARY KEY,
  click_id   TEXT    NOT NULL,
  time       INTEGER NOT NULL,
  day        TEXT    NOT NULL,
  program_id INTEGER NOT NULL,
  link_id    INTEGER NOT NULL,
  partner_id INTEGER NOT NULL,
  channel_id INTEGER NOT NULL,
  offer_id   INTEGER NOT NULL,
  is_unique  INTEGER NOT NULL,
  set_aside  TEXT,
  flags      TEXT    NOT NULL,
  sub1       TEXT,
  sub2       TEXT,
  sub3       TEXT,
  sub4       TEXT,
  sub5       TEXT,
  device     TEXT    NOT NULL,
  os         TEXT    NOT NULL,
  browser    TEXT    NOT NULL
) STRICT;
CREATE INDEX log_by_day ON click_log (program_id, day, seq);
CREATE INDEX log_by_partner ON click_log (partner_id, day, seq);
CREATE INDEX log_by_channel ON click_log (channel_id, offer_id, seq);
CREATE INDEX log_set_aside ON click_log (program_id, day, seq) WHERE set_aside IS NOT NULL;

CREATE TABLE daily_clicks (
  program_id INTEGER NOT NULL,
  day        TEXT    NOT NULL,
  partner_id INTEGER NOT NULL,
  channel_id INTEGER NOT NULL,
  offer_id   INTEGER NOT NULL,
  link_id    INTEGER NOT NULL,
  counted    INTEGER NOT NULL,
  uniques    INTEGER NOT NULL,
  set_aside  INTEGER NOT NULL,
  PRIMARY KEY (program_id, day, partner_id, channel_id, offer_id, link_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX daily_by_link ON daily_clicks (link_id, day, counted, uniques, set_aside);

CREATE TABLE positions (
  name TEXT PRIMARY KEY,
  seq  INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
