-- The identity of a picture that is kept whole ends with its size in px: what crops it need not ask for its bytes.
ALTER TABLE asset MODIFY COLUMN id VARCHAR(52) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
