-- What reviewers have to say of a design, and which pages have it open. Harmless when run twice, also at once.
CREATE TABLE IF NOT EXISTS remarks (
  id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- Which change of the design's remarks this line was made or changed by: what a page has not seen is asked for by it.
  change_number INT UNSIGNED NOT NULL,
  person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- The remark that this one answers; none for the first of its thread.
  answers CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL,
  -- What the first of a thread is about, as JSON.
  subject VARCHAR(4000) NULL,
  body VARCHAR(4000) NOT NULL,
  made_at DATETIME(3) NOT NULL,
  edited_at DATETIME(3) NULL,
  resolved_at DATETIME(3) NULL,
  resolved_by CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL,
  deleted_at DATETIME(3) NULL,
  KEY by_change (design_id, change_number),
  KEY by_thread (answers),
  CONSTRAINT remark_on FOREIGN KEY (design_id) REFERENCES designs (id)
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;

-- How often the remarks of a design have changed.
CREATE TABLE IF NOT EXISTS remark_changes (
  design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  number INT UNSIGNED NOT NULL,
  CONSTRAINT changes_of FOREIGN KEY (design_id) REFERENCES designs (id)
) ENGINE = InnoDB;

-- Pages that have a design open; a server that ends without a word leaves rows that grow old.
CREATE TABLE IF NOT EXISTS presence (
  page_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  server_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  step VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  seen_at DATETIME(3) NOT NULL,
  KEY by_design (design_id, seen_at),
  KEY by_server (server_id),
  KEY by_seen (seen_at)
) ENGINE = InnoDB;
