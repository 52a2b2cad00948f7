-- Routing, what is set aside, what the edge must hear of, and what reports must read again.
ALTER TABLE programs ADD COLUMN other_origins TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(other_origins));
ALTER TABLE programs ADD COLUMN unique_hours INTEGER NOT NULL DEFAULT 24 CHECK (unique_hours BETWEEN 1 AND 24);
-- Clicks a minute from one address on one link; more are set aside. 0 is no limit.
ALTER TABLE programs ADD COLUMN flood_most INTEGER NOT NULL DEFAULT 0 CHECK (flood_most >= 0);

-- The merchant's pages do not learn where the visitor came from.
ALTER TABLE offers ADD COLUMN hide_referrer INTEGER NOT NULL DEFAULT 0 CHECK (hide_referrer IN (0, 1));

-- Versions of an offer's routing plan; the newest is in force. None is ever changed.
CREATE TABLE routing_plans (
  offer_id INTEGER NOT NULL REFERENCES offers,
  version  INTEGER NOT NULL,
  plan     TEXT    NOT NULL CHECK (json_valid(plan)),
  actor    TEXT    NOT NULL,
  reason   TEXT    NOT NULL DEFAULT '',
  time     INTEGER NOT NULL,
  PRIMARY KEY (offer_id, version)
) STRICT, WITHOUT ROWID;
CREATE TRIGGER plans_are_kept BEFORE DELETE ON routing_plans BEGIN SELECT RAISE(ABORT, 'plans are append-only'); END;
CREATE TRIGGER plans_stand BEFORE UPDATE ON routing_plans BEGIN SELECT RAISE(ABORT, 'plans are append-only'); END;

-- Addresses to set aside or to mark as a proxy; the ranges are sorted numbers as the edge holds them in memory.
CREATE TABLE address_lists (
  id         INTEGER PRIMARY KEY,
  program_id INTEGER NOT NULL REFERENCES programs,
  name       TEXT    NOT NULL COLLATE NOCASE,
  effect     TEXT    NOT NULL CHECK (effect IN ('set_aside', 'proxy')),
  is_on      INTEGER NOT NULL CHECK (is_on IN (0, 1)),
  ranges     INTEGER NOT NULL,
  four       BLOB    NOT NULL,
  six        BLOB    NOT NULL,
  changed_by TEXT    NOT NULL,
  changed_at INTEGER NOT NULL,
  UNIQUE (program_id, name)
) STRICT;

-- What the edge keeps in memory is dropped when a mark moves, and not on every commit to the books.
CREATE TABLE edge_marks (
  name    TEXT PRIMARY KEY,
  version INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
INSERT INTO edge_marks VALUES ('routes', 1), ('lists', 1);
CREATE TRIGGER links_move_routes AFTER UPDATE OF alias, landing, destination, utm, utm_form, state ON links BEGIN UPDATE edge_marks SET version = version + 1 WHERE name = 'routes'; END;
CREATE TRIGGER partners_move_routes AFTER UPDATE OF code, state ON partners BEGIN UPDATE edge_marks SET version = version + 1 WHERE name = 'routes'; END;
CREATE TRIGGER channels_move_routes AFTER UPDATE ON channels BEGIN UPDATE edge_marks SET version = version + 1 WHERE name = 'routes'; END;
CREATE TRIGGER offers_move_routes AFTER UPDATE ON offers BEGIN UPDATE edge_marks SET version = version + 1 WHERE name = 'routes'; END;
CREATE TRIGGER programs_move_routes AFTER UPDATE ON programs BEGIN UPDATE edge_marks SET version = version + 1 WHERE name = 'routes'; END;
CREATE TRIGGER plans_move_routes AFTER INSERT ON routing_plans BEGIN UPDATE edge_marks SET version = version + 1 WHERE name = 'routes'; END;
CREATE TRIGGER lists_move_added AFTER INSERT ON address_lists BEGIN UPDATE edge_marks SET version = version + 1 WHERE name = 'lists'; END;
CREATE TRIGGER lists_move_changed AFTER UPDATE ON address_lists BEGIN UPDATE edge_marks SET version = version + 1 WHERE name = 'lists'; END;
CREATE TRIGGER lists_move_removed AFTER DELETE ON address_lists BEGIN UPDATE edge_marks SET version = version + 1 WHERE name = 'lists'; END;

-- Conversions and commission of an offer by day, for caps: kept by the rows themselves.
CREATE TABLE offer_days (
  offer_id    INTEGER NOT NULL,
  day         TEXT    NOT NULL,
  conversions INTEGER NOT NULL,
  spend       INTEGER NOT NULL,
  PRIMARY KEY (offer_id, day)
) STRICT, WITHOUT ROWID;
INSERT INTO offer_days
  SELECT offer_id, day, sum(conversions), sum(spend) FROM (
    SELECT offer_id, day, 1 AS conversions, 0 AS spend FROM conversions WHERE partner_id IS NOT NULL AND state NOT IN ('rejected', 'reversed')
    UNION ALL SELECT offer_id, day, 0, amount - reversed FROM commissions WHERE state <> 'rejected'
  ) GROUP BY offer_id, day;
CREATE TRIGGER conversions_count AFTER INSERT ON conversions WHEN NEW.partner_id IS NOT NULL AND NEW.state NOT IN ('rejected', 'reversed') BEGIN
  INSERT INTO offer_days VALUES (NEW.offer_id, NEW.day, 1, 0) ON CONFLICT DO UPDATE SET conversions = conversions + 1;
END;
CREATE TRIGGER conversions_recount AFTER UPDATE OF partner_id, offer_id, day, state ON conversions BEGIN
  UPDATE offer_days SET conversions = conversions - 1
    WHERE offer_id = OLD.offer_id AND day = OLD.day AND OLD.partner_id IS NOT NULL AND OLD.state NOT IN ('rejected', 'reversed');
  INSERT INTO offer_days SELECT NEW.offer_id, NEW.day, 1, 0 WHERE NEW.partner_id IS NOT NULL AND NEW.state NOT IN ('rejected', 'reversed')
    ON CONFLICT DO UPDATE SET conversions = conversions + 1;
END;
CREATE TRIGGER commissions_count AFTER INSERT ON commissions WHEN NEW.state <> 'rejected' BEGIN
  INSERT INTO offer_days VALUES (NEW.offer_id, NEW.day, 0, NEW.amount - NEW.reversed) ON CONFLICT DO UPDATE SET spend = spend + excluded.spend;
END;
CREATE TRIGGER commissions_recount AFTER UPDATE OF amount, reversed, state, day ON commissions BEGIN
  UPDATE offer_days SET spend = spend - iif(OLD.state <> 'rejected', OLD.amount - OLD.reversed, 0) WHERE offer_id = OLD.offer_id AND day = OLD.day;
  INSERT INTO offer_days VALUES (NEW.offer_id, NEW.day, 0, iif(NEW.state <> 'rejected', NEW.amount - NEW.reversed, 0))
    ON CONFLICT DO UPDATE SET spend = spend + excluded.spend;
END;

-- A report of the page is taken over by one of the server.
ALTER TABLE conversions ADD COLUMN reported_by TEXT NOT NULL DEFAULT 'server' CHECK (reported_by IN ('server', 'tag', 'pixel', 'hand', 'file'));

-- Which conversions reports have to read again, in order.
CREATE TABLE conversion_changes (
  seq           INTEGER PRIMARY KEY AUTOINCREMENT,
  conversion_id INTEGER NOT NULL
) STRICT;
INSERT INTO conversion_changes (conversion_id) SELECT id FROM conversions ORDER BY id;
CREATE TRIGGER conversions_added AFTER INSERT ON conversions BEGIN INSERT INTO conversion_changes (conversion_id) VALUES (NEW.id); END;
CREATE TRIGGER conversions_changed AFTER UPDATE ON conversions BEGIN INSERT INTO conversion_changes (conversion_id) VALUES (NEW.id); END;
CREATE TRIGGER commissions_added AFTER INSERT ON commissions BEGIN INSERT INTO conversion_changes (conversion_id) VALUES (NEW.conversion_id); END;
CREATE TRIGGER commissions_changed AFTER UPDATE ON commissions BEGIN INSERT INTO conversion_changes (conversion_id) VALUES (NEW.conversion_id); END;

-- How a person wants a list: its columns in order.
CREATE TABLE list_columns (
  user_id INTEGER NOT NULL REFERENCES users,
  list    TEXT    NOT NULL,
  columns TEXT    NOT NULL CHECK (json_valid(columns)),
  PRIMARY KEY (user_id, list)
) STRICT, WITHOUT ROWID;

-- An address of a screen, kept under a name.
CREATE TABLE saved_views (
  id      INTEGER PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users,
  name    TEXT    NOT NULL COLLATE NOCASE,
  address TEXT    NOT NULL,
  UNIQUE (user_id, name)
) STRICT;
