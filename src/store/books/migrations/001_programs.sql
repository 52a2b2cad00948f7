-- Programs, the people who run them, and what links are made of. Amounts are minor units of the program's currency.
CREATE TABLE programs (
  id               INTEGER PRIMARY KEY,
  name             TEXT    NOT NULL,
  currency         TEXT    NOT NULL,
  time_zone        TEXT    NOT NULL,
  country          TEXT    NOT NULL,
  tracking_origin  TEXT    NOT NULL,
  fallback         TEXT    NOT NULL,
  minimum_payout   INTEGER NOT NULL CHECK (minimum_payout >= 0),
  payout_day       INTEGER NOT NULL CHECK (payout_day BETWEEN 1 AND 28),
  privacy          TEXT    NOT NULL CHECK (privacy IN ('whole', 'cut', 'hash')),
  takes_applications INTEGER NOT NULL CHECK (takes_applications IN (0, 1)),
  postback_key_hash TEXT   NOT NULL UNIQUE,
  created_at       INTEGER NOT NULL
) STRICT;

CREATE TABLE users (
  id              INTEGER PRIMARY KEY,
  program_id      INTEGER NOT NULL REFERENCES programs,
  email           TEXT    NOT NULL UNIQUE COLLATE NOCASE,
  name            TEXT    NOT NULL,
  role            TEXT    NOT NULL CHECK (role IN ('owner', 'manager', 'finance', 'viewer', 'partner')),
  partner_id      INTEGER REFERENCES partners,
  password        TEXT    NOT NULL,
  session_version INTEGER NOT NULL DEFAULT 1,
  created_at      INTEGER NOT NULL,
  CHECK ((role = 'partner') = (partner_id IS NOT NULL))
) STRICT;

CREATE TABLE tokens (
  id           INTEGER PRIMARY KEY,
  user_id      INTEGER NOT NULL REFERENCES users,
  name         TEXT    NOT NULL,
  hash         TEXT    NOT NULL UNIQUE,
  created_at   INTEGER NOT NULL,
  last_used_at INTEGER,
  revoked_at   INTEGER
) STRICT;

-- The terms partners accept; a published version is never changed.
CREATE TABLE terms_versions (
  program_id   INTEGER NOT NULL REFERENCES programs,
  version      INTEGER NOT NULL,
  text         TEXT    NOT NULL,
  published_by INTEGER NOT NULL REFERENCES users,
  published_at INTEGER NOT NULL,
  PRIMARY KEY (program_id, version)
) STRICT, WITHOUT ROWID;

CREATE TABLE partner_groups (
  id         INTEGER PRIMARY KEY,
  program_id INTEGER NOT NULL REFERENCES programs,
  name       TEXT    NOT NULL COLLATE NOCASE,
  UNIQUE (program_id, name)
) STRICT;

CREATE TABLE partners (
  id              INTEGER PRIMARY KEY,
  program_id      INTEGER NOT NULL REFERENCES programs,
  code            TEXT    NOT NULL,
  name            TEXT    NOT NULL,
  kind            TEXT    NOT NULL CHECK (kind IN ('business', 'person')),
  email           TEXT    NOT NULL,
  country         TEXT    NOT NULL,
  payout_currency TEXT    NOT NULL,
  own_minimum     INTEGER CHECK (own_minimum >= 0),
  notes           TEXT    NOT NULL DEFAULT '',
  state           TEXT    NOT NULL CHECK (state IN ('applied', 'active', 'refused', 'paused', 'closed')),
  state_reason    TEXT    NOT NULL DEFAULT '',
  group_id        INTEGER REFERENCES partner_groups,
  referrer_id     INTEGER REFERENCES partners,
  application     TEXT CHECK (json_valid(application)),
  terms_version   INTEGER,
  terms_accepted_at INTEGER,
  created_at      INTEGER NOT NULL,
  state_since     INTEGER NOT NULL,
  UNIQUE (program_id, code)
) STRICT;
CREATE INDEX partners_by_name ON partners (program_id, name COLLATE NOCASE);
CREATE INDEX partners_by_state ON partners (program_id, state, name COLLATE NOCASE);
CREATE INDEX partners_by_email ON partners (program_id, email COLLATE NOCASE);

-- Holder and account are sealed with the installation's key; the mask is all that screens ever get.
CREATE TABLE payout_details (
  partner_id INTEGER PRIMARY KEY REFERENCES partners,
  sealed     BLOB    NOT NULL,
  mask       TEXT    NOT NULL,
  state      TEXT    NOT NULL CHECK (state IN ('unchecked', 'checked')),
  on_hold    TEXT,
  changed_at INTEGER NOT NULL
) STRICT;

-- How links for one traffic source are written: placeholders, values, parameter names.
CREATE TABLE sources (
  id         INTEGER PRIMARY KEY,
  program_id INTEGER NOT NULL REFERENCES programs,
  name       TEXT    NOT NULL COLLATE NOCASE,
  preset     TEXT    NOT NULL CHECK (json_valid(preset)),
  removed_at INTEGER,
  changed_at INTEGER NOT NULL
) STRICT;
CREATE UNIQUE INDEX sources_by_name ON sources (program_id, name) WHERE removed_at IS NULL;

CREATE TABLE channels (
  id         INTEGER PRIMARY KEY,
  partner_id INTEGER NOT NULL REFERENCES partners,
  code       TEXT    NOT NULL,
  name       TEXT    NOT NULL,
  kind       TEXT    NOT NULL,
  address    TEXT    NOT NULL DEFAULT '',
  source_id  INTEGER REFERENCES sources,
  created_at INTEGER NOT NULL,
  UNIQUE (partner_id, code)
) STRICT;

CREATE TABLE offers (
  id                INTEGER PRIMARY KEY,
  program_id        INTEGER NOT NULL REFERENCES programs,
  code              TEXT    NOT NULL,
  name              TEXT    NOT NULL,
  state             TEXT    NOT NULL CHECK (state IN ('live', 'paused')),
  starts_on         TEXT    NOT NULL DEFAULT '',
  ends_on           TEXT    NOT NULL DEFAULT '',
  landing_pages     TEXT    NOT NULL CHECK (json_valid(landing_pages)),
  landing_hosts     TEXT    NOT NULL CHECK (json_valid(landing_hosts)),
  appended          TEXT    NOT NULL,
  click_window_days INTEGER NOT NULL CHECK (click_window_days > 0),
  hold              TEXT    NOT NULL CHECK (json_valid(hold)),
  auto_approve      INTEGER NOT NULL CHECK (auto_approve IN (0, 1)),
  fallback          TEXT    NOT NULL DEFAULT '',
  events            TEXT    NOT NULL CHECK (json_valid(events)),
  created_at        INTEGER NOT NULL,
  UNIQUE (program_id, code)
) STRICT;

-- `parts` is the link as it was issued and never changes; `destination` is where it leads now.
CREATE TABLE links (
  id          INTEGER PRIMARY KEY,
  program_id  INTEGER NOT NULL REFERENCES programs,
  code        TEXT    NOT NULL UNIQUE,
  alias       TEXT    UNIQUE,
  kind        TEXT    NOT NULL CHECK (kind IN ('referral', 'deep', 'direct', 'manual')),
  partner_id  INTEGER NOT NULL REFERENCES partners,
  channel_id  INTEGER NOT NULL REFERENCES channels,
  offer_id    INTEGER NOT NULL REFERENCES offers,
  source_id   INTEGER REFERENCES sources,
  parts       TEXT    NOT NULL CHECK (json_valid(parts)),
  landing     TEXT    NOT NULL DEFAULT '',
  destination TEXT    NOT NULL DEFAULT '',
  labels      TEXT    NOT NULL CHECK (json_valid(labels)),
  utm         TEXT    NOT NULL CHECK (json_valid(utm)),
  utm_form    TEXT    NOT NULL CHECK (utm_form IN ('short', 'long')),
  identity    TEXT    NOT NULL,
  state       TEXT    NOT NULL CHECK (state IN ('live', 'paused')),
  created_by  INTEGER REFERENCES users,
  created_at  INTEGER NOT NULL,
  -- What a link is found by, in one text.
  find        TEXT    NOT NULL GENERATED ALWAYS AS (lower(code || ' ' || coalesce(alias, '') || ' ' || destination || ' ' || labels)) VIRTUAL
) STRICT;
CREATE INDEX links_by_text ON links (program_id, find);
CREATE INDEX links_by_program ON links (program_id, id);
CREATE INDEX links_by_partner ON links (partner_id, id);
CREATE INDEX links_by_channel ON links (channel_id, id);
CREATE INDEX links_by_offer ON links (offer_id, id);
CREATE INDEX links_by_identity ON links (program_id, identity);
CREATE INDEX links_by_destination ON links (program_id, offer_id, destination, landing, kind);

-- Where a link has led, and who changed it.
CREATE TABLE link_destinations (
  id          INTEGER PRIMARY KEY,
  link_id     INTEGER NOT NULL REFERENCES links,
  time        INTEGER NOT NULL,
  actor       TEXT    NOT NULL,
  destination TEXT    NOT NULL,
  landing     TEXT    NOT NULL,
  reason      TEXT    NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX destinations_by_link ON link_destinations (link_id, id);
CREATE TRIGGER destinations_are_kept BEFORE DELETE ON link_destinations BEGIN SELECT RAISE(ABORT, 'the history is append-only'); END;
CREATE TRIGGER destinations_stand BEFORE UPDATE ON link_destinations BEGIN SELECT RAISE(ABORT, 'the history is append-only'); END;

-- The last answer of every page that links lead to; `failing_since` is empty while it answers well.
CREATE TABLE destination_checks (
  program_id    INTEGER NOT NULL REFERENCES programs,
  address       TEXT    NOT NULL,
  checked_at    INTEGER NOT NULL,
  status        INTEGER,
  problem       TEXT    NOT NULL DEFAULT '',
  failing_since INTEGER,
  PRIMARY KEY (program_id, address)
) STRICT, WITHOUT ROWID;

CREATE TABLE mail_copies (
  id         INTEGER PRIMARY KEY,
  program_id INTEGER NOT NULL REFERENCES programs,
  name       TEXT    NOT NULL,
  subject    TEXT    NOT NULL,
  text       TEXT    NOT NULL,
  offer_id   INTEGER NOT NULL REFERENCES offers,
  page       TEXT    NOT NULL DEFAULT '',
  changed_at INTEGER NOT NULL,
  UNIQUE (program_id, name)
) STRICT;

-- Rate in parts per billion: units of the target's major unit for one of the source.
CREATE TABLE exchange_rates (
  from_currency TEXT    NOT NULL,
  to_currency   TEXT    NOT NULL,
  day           TEXT    NOT NULL,
  rate          INTEGER NOT NULL CHECK (rate > 0),
  PRIMARY KEY (from_currency, to_currency, day)
) STRICT, WITHOUT ROWID;

-- Versions of the terms; a version once in force is never changed.
CREATE TABLE rate_sheets (
  id            INTEGER PRIMARY KEY,
  program_id    INTEGER NOT NULL REFERENCES programs,
  version       INTEGER NOT NULL,
  in_force_from INTEGER NOT NULL,
  rows          TEXT    NOT NULL CHECK (json_valid(rows)),
  created_by    INTEGER REFERENCES users,
  created_at    INTEGER NOT NULL,
  UNIQUE (program_id, version)
) STRICT;

CREATE TABLE audit (
  id         INTEGER PRIMARY KEY,
  time       INTEGER NOT NULL,
  program_id INTEGER,
  actor      TEXT    NOT NULL,
  action     TEXT    NOT NULL,
  object     TEXT    NOT NULL,
  detail     TEXT    NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX audit_by_program ON audit (program_id, id);
CREATE TRIGGER audit_is_kept BEFORE DELETE ON audit BEGIN SELECT RAISE(ABORT, 'the audit is append-only'); END;
CREATE TRIGGER audit_stands BEFORE UPDATE ON audit BEGIN SELECT RAISE(ABORT, 'the audit is append-only'); END;
