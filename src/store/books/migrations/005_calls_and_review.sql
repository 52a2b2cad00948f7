-- Which of a visitor's clicks a conversion is credited to, where it names only the visitor.
ALTER TABLE offers ADD COLUMN credited_click TEXT NOT NULL DEFAULT 'last' CHECK (credited_click IN ('last', 'first'));

-- The page tag's visitor, and a keyed hash of what the merchant knows a card by.
ALTER TABLE conversions ADD COLUMN visitor TEXT;
ALTER TABLE conversions ADD COLUMN card_hash TEXT;
-- A conversion may also find its partner by a visitor or by a call.
ALTER TABLE conversions ADD COLUMN found_by TEXT CHECK (found_by IN ('click', 'coupon', 'visitor', 'call', 'hand'));
UPDATE conversions SET found_by = matched_by WHERE matched_by IS NOT NULL;
ALTER TABLE conversions DROP COLUMN matched_by;
ALTER TABLE conversions RENAME COLUMN found_by TO matched_by;
CREATE INDEX conversions_by_customer ON conversions (program_id, customer_hash) WHERE customer_hash IS NOT NULL;
CREATE INDEX conversions_by_card ON conversions (program_id, card_hash) WHERE card_hash IS NOT NULL;

-- Telephone numbers that calls are counted by: one channel's for good, or shown to one visit at a time.
CREATE TABLE call_numbers (
  id         INTEGER PRIMARY KEY,
  program_id INTEGER NOT NULL REFERENCES programs,
  number     TEXT    NOT NULL,
  offer_id   INTEGER NOT NULL REFERENCES offers,
  use        TEXT    NOT NULL CHECK (use IN ('channel', 'visits')),
  partner_id INTEGER REFERENCES partners,
  channel_id INTEGER REFERENCES channels,
  created_at INTEGER NOT NULL,
  removed_at INTEGER,
  CHECK ((use = 'channel') = (channel_id IS NOT NULL) AND (channel_id IS NULL) = (partner_id IS NULL))
) STRICT;
CREATE UNIQUE INDEX numbers_in_use ON call_numbers (program_id, number) WHERE removed_at IS NULL;
CREATE TRIGGER numbers_move_routes_added AFTER INSERT ON call_numbers BEGIN UPDATE edge_marks SET version = version + 1 WHERE name = 'routes'; END;
CREATE TRIGGER numbers_move_routes_changed AFTER UPDATE ON call_numbers BEGIN UPDATE edge_marks SET version = version + 1 WHERE name = 'routes'; END;

-- Calls as the exchange reported them, with what became of each. Callers are known again by a keyed hash.
CREATE TABLE calls (
  id            INTEGER PRIMARY KEY,
  program_id    INTEGER NOT NULL REFERENCES programs,
  call_id       TEXT    NOT NULL,
  receipt_id    TEXT    NOT NULL,
  number        TEXT    NOT NULL,
  offer_id      INTEGER REFERENCES offers,
  partner_id    INTEGER REFERENCES partners,
  channel_id    INTEGER REFERENCES channels,
  click_id      TEXT,
  time          INTEGER NOT NULL,
  day           TEXT    NOT NULL,
  length        INTEGER NOT NULL CHECK (length >= 0),
  answered      INTEGER NOT NULL CHECK (answered IN (0, 1)),
  caller_hash   TEXT,
  caller_end    TEXT    NOT NULL,
  place         TEXT    NOT NULL,
  outcome       TEXT    NOT NULL,
  detail        TEXT    NOT NULL DEFAULT '',
  conversion_id INTEGER REFERENCES conversions,
  UNIQUE (program_id, call_id)
) STRICT;
CREATE INDEX calls_by_day ON calls (program_id, day);
CREATE INDEX calls_by_caller ON calls (program_id, caller_hash, time) WHERE caller_hash IS NOT NULL;
CREATE INDEX calls_by_offer ON calls (offer_id, time);

-- What looked odd about a conversion, and what a person made of it. Nothing is refused by this.
ALTER TABLE programs ADD COLUMN suspicion TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(suspicion));
CREATE TABLE reviews (
  conversion_id INTEGER PRIMARY KEY REFERENCES conversions,
  program_id    INTEGER NOT NULL REFERENCES programs,
  score         INTEGER NOT NULL,
  signals       TEXT    NOT NULL CHECK (json_valid(signals)),
  state         TEXT    NOT NULL CHECK (state IN ('open', 'cleared', 'rejected')),
  time          INTEGER NOT NULL,
  decided_by    TEXT,
  decided_at    INTEGER,
  reason        TEXT    NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX reviews_open ON reviews (program_id, score) WHERE state = 'open';

-- A report of the merchant or a network, line by line against what is recorded here.
CREATE TABLE reconciliations (
  id         INTEGER PRIMARY KEY,
  program_id INTEGER NOT NULL REFERENCES programs,
  source     TEXT    NOT NULL,
  time       INTEGER NOT NULL,
  actor      TEXT    NOT NULL,
  from_day   TEXT    NOT NULL,
  to_day     TEXT    NOT NULL,
  offer_id   INTEGER REFERENCES offers,
  closed_at  INTEGER
) STRICT;
CREATE INDEX reconciliations_by_program ON reconciliations (program_id, id);
CREATE TABLE reconciliation_lines (
  id                INTEGER PRIMARY KEY,
  reconciliation_id INTEGER NOT NULL REFERENCES reconciliations,
  line              INTEGER,
  finding           TEXT    NOT NULL CHECK (finding IN ('equal', 'differs', 'only_there', 'only_here')),
  conversion_id     INTEGER REFERENCES conversions,
  fields            TEXT    NOT NULL CHECK (json_valid(fields)),
  differences       TEXT    NOT NULL CHECK (json_valid(differences)),
  decision          TEXT,
  decided_by        TEXT,
  decided_at        INTEGER
) STRICT;
CREATE INDEX lines_by_finding ON reconciliation_lines (reconciliation_id, finding, id);

-- From where conversions came, as far as it is kept: a hash of the address, or of the visitor where addresses are cut.
CREATE TABLE conversion_origins (
  conversion_id INTEGER PRIMARY KEY REFERENCES conversions,
  program_id    INTEGER NOT NULL REFERENCES programs,
  origin        TEXT    NOT NULL,
  time          INTEGER NOT NULL
) STRICT;
CREATE INDEX origins_by_time ON conversion_origins (program_id, origin, time);
CREATE INDEX conversions_by_channel ON conversions (channel_id, offer_id, day);

-- What a new row counts and tells is written with it: a trigger would cost half as much as the row. Verify proves both.
DROP TRIGGER conversions_added;
DROP TRIGGER conversions_count;
DROP TRIGGER commissions_added;
DROP TRIGGER commissions_count;
