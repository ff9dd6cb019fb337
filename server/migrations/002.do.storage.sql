-- Documents compressed, sketches once a design, revisions with who, label and place beside the line. Harmless when run twice, also at once.
ALTER TABLE designs
  ADD COLUMN IF NOT EXISTS owner_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '00000000-0000-4000-8000-000000000000',
  ADD COLUMN IF NOT EXISTS demo TINYINT NOT NULL DEFAULT 0,
  -- The highest number given to any revision, those beside the line included.
  ADD COLUMN IF NOT EXISTS last_number INT UNSIGNED NOT NULL DEFAULT 0,
  -- The whole document from which the newest revisions are told apart.
  ADD COLUMN IF NOT EXISTS key_number INT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS sketch TEXT NULL,
  ADD COLUMN IF NOT EXISTS sketch_revision INT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS thinned_at DATETIME(3) NULL,
  ADD INDEX IF NOT EXISTS by_saved (deleted_at, saved_at, id),
  ADD INDEX IF NOT EXISTS by_created (deleted_at, created_at, id),
  ADD INDEX IF NOT EXISTS by_name (deleted_at, name, id),
  ADD INDEX IF NOT EXISTS by_owner (owner_id);
ALTER TABLE designs DROP INDEX IF EXISTS by_list;
UPDATE designs SET last_number = revision WHERE last_number = 0;

ALTER TABLE revisions
  -- zlib: the whole document, or, with a key number, its difference from that revision.
  ADD COLUMN IF NOT EXISTS body LONGBLOB NULL,
  ADD COLUMN IF NOT EXISTS key_number INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS size INT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD COLUMN IF NOT EXISTS label VARCHAR(120) NULL,
  ADD COLUMN IF NOT EXISTS beside TINYINT NOT NULL DEFAULT 0;
SET @convert = IF (
  (SELECT COUNT(*) FROM information_schema.columns
    WHERE table_schema = DATABASE() AND table_name = 'revisions' AND column_name = 'document') > 0,
  'UPDATE revisions SET body = SUBSTRING(COMPRESS(document), 5), size = LENGTH(document) WHERE body IS NULL',
  'DO 0');
EXECUTE IMMEDIATE @convert;
ALTER TABLE revisions DROP COLUMN IF EXISTS document, DROP COLUMN IF EXISTS sketch;
