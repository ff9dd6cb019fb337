-- Harmless when run twice, also at once.
CREATE TABLE IF NOT EXISTS designs (
  id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  revision INT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL,
  saved_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  KEY by_list (deleted_at, saved_at)
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS revisions (
  design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  number INT UNSIGNED NOT NULL,
  save_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(120) NOT NULL,
  document LONGTEXT NOT NULL,
  sketch MEDIUMTEXT NOT NULL,
  saved_at DATETIME(3) NOT NULL,
  PRIMARY KEY (design_id, number),
  UNIQUE KEY one_save (save_id),
  CONSTRAINT revision_of FOREIGN KEY (design_id) REFERENCES designs (id)
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
