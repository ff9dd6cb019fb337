-- Contents of imported shapes, once each by SHA-256, in pieces that every server takes. Which design has put which one in; which revision refers to which. Harmless when run twice, also at once.
CREATE TABLE IF NOT EXISTS shapes (
  hash BINARY(32) NOT NULL PRIMARY KEY,
  size INT UNSIGNED NOT NULL,
  stored_at DATETIME(3) NOT NULL
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS shape_pieces (
  hash BINARY(32) NOT NULL,
  number SMALLINT UNSIGNED NOT NULL,
  body MEDIUMBLOB NOT NULL,
  PRIMARY KEY (hash, number),
  CONSTRAINT piece_of FOREIGN KEY (hash) REFERENCES shapes (hash) ON DELETE CASCADE
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS design_shapes (
  design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  hash BINARY(32) NOT NULL,
  stored_at DATETIME(3) NOT NULL,
  PRIMARY KEY (design_id, hash),
  KEY by_hash (hash),
  KEY by_time (stored_at),
  CONSTRAINT shape_in FOREIGN KEY (design_id) REFERENCES designs (id),
  CONSTRAINT shape_there FOREIGN KEY (hash) REFERENCES shapes (hash)
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS revision_shapes (
  design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  number INT UNSIGNED NOT NULL,
  hash BINARY(32) NOT NULL,
  PRIMARY KEY (design_id, hash, number),
  KEY by_revision (design_id, number),
  CONSTRAINT shape_of_revision FOREIGN KEY (design_id, number) REFERENCES revisions (design_id, number) ON DELETE CASCADE
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
