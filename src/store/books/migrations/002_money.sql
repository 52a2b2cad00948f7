-- Conversions, commissions, the ledger and payouts. Histories and the ledger are append-only; the state columns
-- of conversions, commissions and runs say where their history has led to.
CREATE TABLE conversions (
  id               INTEGER PRIMARY KEY,
  program_id       INTEGER NOT NULL REFERENCES programs,
  offer_id         INTEGER REFERENCES offers,
  event            TEXT    NOT NULL,
  order_ref        TEXT,
  click_id         TEXT,
  match_key        TEXT,
  link_id          INTEGER REFERENCES links,
  partner_id       INTEGER REFERENCES partners,
  channel_id       INTEGER REFERENCES channels,
  time             INTEGER NOT NULL,
  recorded_at      INTEGER NOT NULL,
  day              TEXT    NOT NULL,
  currency         TEXT    NOT NULL,
  amount           INTEGER NOT NULL CHECK (amount >= 0),
  figures          TEXT    NOT NULL CHECK (json_valid(figures)),
  facts            TEXT    NOT NULL CHECK (json_valid(facts)),
  completed        TEXT,
  custom           TEXT    NOT NULL CHECK (json_valid(custom)),
  state            TEXT    NOT NULL CHECK (state IN ('pending', 'approved', 'rejected', 'reversed')),
  unmatched        TEXT,
  receipt_id       TEXT    NOT NULL,
  CHECK ((partner_id IS NULL) = (unmatched IS NOT NULL))
) STRICT;
CREATE INDEX conversions_by_key ON conversions (program_id, match_key);
CREATE INDEX conversions_by_order ON conversions (program_id, order_ref);
CREATE INDEX conversions_by_day ON conversions (program_id, day);
CREATE INDEX conversions_by_click ON conversions (click_id);
CREATE INDEX conversions_by_link ON conversions (link_id, day);
CREATE INDEX conversions_unmatched ON conversions (program_id, unmatched) WHERE unmatched IS NOT NULL;

CREATE TABLE conversion_history (
  id            INTEGER PRIMARY KEY,
  conversion_id INTEGER NOT NULL REFERENCES conversions,
  time          INTEGER NOT NULL,
  actor         TEXT    NOT NULL,
  what          TEXT    NOT NULL,
  detail        TEXT    NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX history_by_conversion ON conversion_history (conversion_id, id);

-- What became of every postback; the receipt is looked up here.
CREATE TABLE postback_outcomes (
  receipt_id    TEXT    PRIMARY KEY,
  seq           INTEGER NOT NULL,
  program_id    INTEGER NOT NULL REFERENCES programs,
  time          INTEGER NOT NULL,
  outcome       TEXT    NOT NULL CHECK (outcome IN ('recorded', 'unmatched', 'retry', 'ignored', 'changed', 'status', 'waiting', 'refused')),
  detail        TEXT    NOT NULL DEFAULT '',
  conversion_id INTEGER REFERENCES conversions,
  match_key     TEXT,
  fingerprint   TEXT    NOT NULL
) STRICT;
CREATE INDEX outcomes_by_fingerprint ON postback_outcomes (program_id, fingerprint);
CREATE INDEX outcomes_waiting ON postback_outcomes (program_id, match_key) WHERE outcome = 'waiting';

CREATE TABLE commissions (
  id            INTEGER PRIMARY KEY,
  program_id    INTEGER NOT NULL REFERENCES programs,
  conversion_id INTEGER NOT NULL UNIQUE REFERENCES conversions,
  partner_id    INTEGER NOT NULL REFERENCES partners,
  channel_id    INTEGER NOT NULL REFERENCES channels,
  offer_id      INTEGER NOT NULL REFERENCES offers,
  currency      TEXT    NOT NULL,
  amount        INTEGER NOT NULL,
  reversed      INTEGER NOT NULL DEFAULT 0,
  state         TEXT    NOT NULL CHECK (state IN ('needs_rate', 'pending', 'approved', 'in_payout', 'paid', 'rejected', 'reversed')),
  day           TEXT    NOT NULL,
  payable_on    TEXT,
  run_id        INTEGER REFERENCES payout_runs,
  created_at    INTEGER NOT NULL
) STRICT;
CREATE INDEX commissions_by_state ON commissions (program_id, state, payable_on);
CREATE INDEX commissions_by_day ON commissions (program_id, day);
CREATE INDEX commissions_by_partner ON commissions (partner_id, state);
CREATE INDEX commissions_by_run ON commissions (run_id) WHERE run_id IS NOT NULL;

-- Every rating of a commission with all it depended on; the newest is the one that stands.
CREATE TABLE ratings (
  id            INTEGER PRIMARY KEY,
  commission_id INTEGER NOT NULL REFERENCES commissions,
  sheet_id      INTEGER NOT NULL REFERENCES rate_sheets,
  input         TEXT    NOT NULL CHECK (json_valid(input)),
  explanation   TEXT,
  amount        INTEGER,
  time          INTEGER NOT NULL
) STRICT;
CREATE INDEX ratings_by_commission ON ratings (commission_id, id);

-- What a partner reached in a month with a banded row.
CREATE TABLE volumes (
  partner_id INTEGER NOT NULL REFERENCES partners,
  row_id     TEXT    NOT NULL,
  month      TEXT    NOT NULL,
  count      INTEGER NOT NULL,
  base       INTEGER NOT NULL,
  PRIMARY KEY (partner_id, row_id, month)
) STRICT, WITHOUT ROWID;

CREATE TABLE payout_runs (
  id          INTEGER PRIMARY KEY,
  program_id  INTEGER NOT NULL REFERENCES programs,
  number      INTEGER NOT NULL,
  cut_off     TEXT    NOT NULL,
  upto_entry  INTEGER NOT NULL,
  state       TEXT    NOT NULL CHECK (state IN ('drafted', 'approved', 'exported', 'settled', 'abandoned')),
  drafted_by  INTEGER NOT NULL REFERENCES users,
  drafted_at  INTEGER NOT NULL,
  approved_by INTEGER REFERENCES users,
  approved_at INTEGER,
  settled_at  INTEGER,
  UNIQUE (program_id, number)
) STRICT;
CREATE UNIQUE INDEX one_open_run ON payout_runs (program_id) WHERE state IN ('drafted', 'approved', 'exported');

-- One decision a partner. Entries of 'partner_approved' in (from_entry, upto_entry of the run] make up the amount.
CREATE TABLE payout_items (
  id              INTEGER PRIMARY KEY,
  run_id          INTEGER NOT NULL REFERENCES payout_runs,
  partner_id      INTEGER NOT NULL REFERENCES partners,
  out_reason      TEXT,
  from_entry      INTEGER NOT NULL,
  amount          INTEGER NOT NULL,
  currency        TEXT    NOT NULL,
  payout_amount   INTEGER,
  payout_currency TEXT    NOT NULL,
  rate            INTEGER,
  rate_day        TEXT,
  state           TEXT    NOT NULL CHECK (state IN ('out', 'open', 'paid', 'returned', 'abandoned')),
  return_reason   TEXT,
  UNIQUE (run_id, partner_id),
  CHECK ((state = 'out') = (out_reason IS NOT NULL)),
  CHECK (out_reason IS NOT NULL OR (amount > 0 AND payout_amount > 0))
) STRICT;
CREATE INDEX items_by_partner ON payout_items (partner_id, run_id);

CREATE TABLE ledger_transactions (
  id            INTEGER PRIMARY KEY,
  program_id    INTEGER NOT NULL REFERENCES programs,
  kind          TEXT    NOT NULL,
  time          INTEGER NOT NULL,
  actor         TEXT    NOT NULL,
  reason        TEXT    NOT NULL DEFAULT '',
  commission_id INTEGER REFERENCES commissions,
  run_id        INTEGER REFERENCES payout_runs
) STRICT;
CREATE INDEX transactions_by_commission ON ledger_transactions (commission_id) WHERE commission_id IS NOT NULL;

CREATE TABLE ledger_entries (
  id             INTEGER PRIMARY KEY,
  transaction_id INTEGER NOT NULL REFERENCES ledger_transactions,
  account        TEXT    NOT NULL CHECK (account IN ('program_expense', 'partner_pending', 'partner_approved', 'partner_in_payout', 'program_bank')),
  partner_id     INTEGER NOT NULL REFERENCES partners,
  currency       TEXT    NOT NULL,
  amount         INTEGER NOT NULL
) STRICT;
CREATE INDEX entries_by_account ON ledger_entries (partner_id, account, id, amount);
CREATE INDEX entries_by_transaction ON ledger_entries (transaction_id);

CREATE TRIGGER transactions_are_kept BEFORE DELETE ON ledger_transactions BEGIN SELECT RAISE(ABORT, 'the ledger is append-only'); END;
CREATE TRIGGER transactions_stand BEFORE UPDATE ON ledger_transactions BEGIN SELECT RAISE(ABORT, 'the ledger is append-only'); END;
CREATE TRIGGER entries_are_kept BEFORE DELETE ON ledger_entries BEGIN SELECT RAISE(ABORT, 'the ledger is append-only'); END;
CREATE TRIGGER entries_stand BEFORE UPDATE ON ledger_entries BEGIN SELECT RAISE(ABORT, 'the ledger is append-only'); END;
CREATE TRIGGER history_is_kept BEFORE DELETE ON conversion_history BEGIN SELECT RAISE(ABORT, 'the history is append-only'); END;
CREATE TRIGGER history_stands BEFORE UPDATE ON conversion_history BEGIN SELECT RAISE(ABORT, 'the history is append-only'); END;
CREATE TRIGGER ratings_are_kept BEFORE DELETE ON ratings BEGIN SELECT RAISE(ABORT, 'ratings are append-only'); END;
CREATE TRIGGER ratings_stand BEFORE UPDATE ON ratings BEGIN SELECT RAISE(ABORT, 'ratings are append-only'); END;

-- How far the worker has read the traffic; written in the transaction of the effect.
CREATE TABLE positions (
  name TEXT PRIMARY KEY,
  seq  INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
