-- Which large blocks may have a value in a column of many: a Bloom filter in 256 parts, of which one is read.
-- All blocks' part for a value lie side by side. Blocks without parts are searched.
CREATE TABLE block_values (
  name      TEXT    NOT NULL,
  part      INTEGER NOT NULL,
  first_seq INTEGER NOT NULL,
  bits      BLOB    NOT NULL,
  PRIMARY KEY (name, part, first_seq)
) STRICT, WITHOUT ROWID;
