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
ALTER TABLE conversions ADD COLUMN matched_by TEXT CHECK (matched_by IN ('click', 'coupon', 'hand'));
CREATE INDEX conversions_by_coupon ON conversions (program_id, coupon) WHERE coupon IS NOT NULL;

-- Where a click and a coupon speak for different partners.
ALTER TABLE offers ADD COLUMN coupon_first INTEGER NOT NULL DEFAULT 0 CHECK (coupon_first IN (0, 1));
