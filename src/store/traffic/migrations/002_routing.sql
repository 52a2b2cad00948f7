-- What routing decided, and the country where the edge had to know it. Clicks before this have neither.
ALTER TABLE clicks ADD COLUMN country TEXT;
ALTER TABLE clicks ADD COLUMN rule TEXT;
ALTER TABLE clicks ADD COLUMN page TEXT;

-- Clicks let through to an offer's pages by day of its program, for caps; counted in the commit of the clicks.
CREATE TABLE offer_days (
  offer_id INTEGER NOT NULL,
  day      TEXT    NOT NULL,
  clicks   INTEGER NOT NULL,
  PRIMARY KEY (offer_id, day)
) STRICT, WITHOUT ROWID;

-- Who reported: the merchant's server, the page tag, or a pixel. Whoever sees the page can write what the last two send.
ALTER TABLE postbacks ADD COLUMN via TEXT NOT NULL DEFAULT 'server' CHECK (via IN ('server', 'tag', 'pixel'));
