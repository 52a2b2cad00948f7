-- Codes that stand for a partner's channel on an offer, for customers who come without a link.
CREATE TABLE coupons (
  id         INTEGER PRIMARY KEY,
  program_id INTEGER NOT NULL REFERENCES programs,
  code       TEXT    NOT NULL COLLATE NOCASE,
  partner_id INTEGER NOT NULL REFERENCES partners,
  channel_id INTEGER NOT NULL REFERENCES channels,
  offer_id   INTEGER NOT NULL REFERENCES offers,
  starts_on  TEXT    NOT NULL DEFAULT '',
  ends_on    TEXT    NOT NULL DEFAULT '',
  created_by TEXT    NOT NULL,
  created_at INTEGER NOT NULL,
  UNIQUE (program_id, code)
) STRICT;
CREATE INDEX coupons_by_partner ON coupons (partner_id, code);

-- Which coupon the customer gave, and by what the conversion found its partner.
ALTER TABLE conversions ADD COLUMN coupon TEXT;
-- A keyed hash of the customer's ID: the same customer is known again, and never who it is.
ALTER TABLE conversions ADD COLUMN customer_hash TEXT;
ALTER TABLE conversions ADD COLUMN matched_by TEXT CHECK (matched_by IN ('click', 'coupon', 'hand'));
CREATE INDEX conversions_by_coupon ON conversions (program_id, coupon) WHERE coupon IS NOT NULL;

-- Where a click and a coupon speak for different partners.
ALTER TABLE offers ADD COLUMN coupon_first INTEGER NOT NULL DEFAULT 0 CHECK (coupon_first IN (0, 1));

-- Everything that was said of a conversion, by postbacks, pages, files and hands: what stands follows from all of it,
-- whatever the order in which it came.
CREATE TABLE conversion_reports (
  id            INTEGER PRIMARY KEY,
  conversion_id INTEGER NOT NULL REFERENCES conversions,
  receipt_id    TEXT    NOT NULL,
  said          TEXT    NOT NULL CHECK (json_valid(said))
) STRICT;
CREATE INDEX reports_by_conversion ON conversion_reports (conversion_id);
CREATE TRIGGER reports_are_kept BEFORE DELETE ON conversion_reports BEGIN SELECT RAISE(ABORT, 'reports are append-only'); END;
CREATE TRIGGER reports_stand BEFORE UPDATE ON conversion_reports BEGIN SELECT RAISE(ABORT, 'reports are append-only'); END;
INSERT INTO conversion_reports (conversion_id, receipt_id, said)
  SELECT id, receipt_id, json_object('receiptId', receipt_id, 'time', time, 'by', reported_by, 'policy', 'ignore', 'figures', json(figures),
    'completed', completed, 'facts', json(facts), 'custom', json(custom)) FROM conversions;
-- What of `reversed` was taken back because of refunds that were reported; the rest was by hand.
ALTER TABLE commissions ADD COLUMN refunded INTEGER NOT NULL DEFAULT 0;
-- The state it had before a refund of the whole, which a late report may undo.
ALTER TABLE commissions ADD COLUMN reversed_from TEXT;
-- Fees of chargebacks that were charged to the partner.
ALTER TABLE commissions ADD COLUMN fees INTEGER NOT NULL DEFAULT 0;

-- Renewing the secret with which postbacks are signed counts this up.
ALTER TABLE programs ADD COLUMN signing_version INTEGER NOT NULL DEFAULT 1;

-- A test postback is taken and explained, and changes nothing.
CREATE TABLE postback_outcomes_new (
  receipt_id    TEXT    PRIMARY KEY,
  seq           INTEGER NOT NULL,
  program_id    INTEGER NOT NULL REFERENCES programs,
  time          INTEGER NOT NULL,
  outcome       TEXT    NOT NULL CHECK (outcome IN ('recorded', 'unmatched', 'retry', 'ignored', 'changed', 'status', 'waiting', 'refused', 'test')),
  detail        TEXT    NOT NULL DEFAULT '',
  conversion_id INTEGER REFERENCES conversions,
  match_key     TEXT,
  fingerprint   TEXT    NOT NULL
) STRICT;
INSERT INTO postback_outcomes_new SELECT receipt_id, seq, program_id, time, outcome, detail, conversion_id, match_key, fingerprint FROM postback_outcomes;
DROP TABLE postback_outcomes;
ALTER TABLE postback_outcomes_new RENAME TO postback_outcomes;
CREATE INDEX outcomes_by_fingerprint ON postback_outcomes (program_id, fingerprint);
CREATE INDEX outcomes_waiting ON postback_outcomes (program_id, match_key) WHERE outcome = 'waiting';

-- Conversions that somebody gave their partner by hand, or dismissed: together, so that it can be undone together.
CREATE TABLE repairs (
  id         INTEGER PRIMARY KEY,
  program_id INTEGER NOT NULL REFERENCES programs,
  time       INTEGER NOT NULL,
  actor      TEXT    NOT NULL,
  what       TEXT    NOT NULL,
  reason     TEXT    NOT NULL,
  undone_at  INTEGER
) STRICT;
CREATE INDEX repairs_by_program ON repairs (program_id, id);
-- What each conversion was before.
CREATE TABLE repair_items (
  repair_id     INTEGER NOT NULL REFERENCES repairs,
  conversion_id INTEGER NOT NULL REFERENCES conversions,
  before        TEXT    NOT NULL CHECK (json_valid(before)),
  PRIMARY KEY (repair_id, conversion_id)
) STRICT, WITHOUT ROWID;

-- Conversions from files; each line has a receipt. One that is taken back is not listened to any more.
CREATE TABLE imports (
  id         INTEGER PRIMARY KEY,
  program_id INTEGER NOT NULL REFERENCES programs,
  source     TEXT    NOT NULL,
  time       INTEGER NOT NULL,
  actor      TEXT    NOT NULL,
  lines      INTEGER NOT NULL,
  undone_at  INTEGER
) STRICT;
CREATE INDEX imports_by_program ON imports (program_id, id);
CREATE TABLE import_receipts (
  receipt_id TEXT    PRIMARY KEY,
  import_id  INTEGER NOT NULL REFERENCES imports
) STRICT, WITHOUT ROWID;
CREATE INDEX receipts_by_import ON import_receipts (import_id);
CREATE TABLE withdrawn_receipts (receipt_id TEXT PRIMARY KEY) STRICT, WITHOUT ROWID;
-- How the files of a source are read.
CREATE TABLE file_readings (
  program_id INTEGER NOT NULL REFERENCES programs,
  source     TEXT    NOT NULL COLLATE NOCASE,
  reading    TEXT    NOT NULL CHECK (json_valid(reading)),
  PRIMARY KEY (program_id, source)
) STRICT, WITHOUT ROWID;
