-- What was released: a revision under a letter, with its files in pieces that every server takes. Nothing here is ever changed. Harmless when run twice, also at once.
CREATE TABLE IF NOT EXISTS releases (
  design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  letter VARCHAR(4) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  number INT UNSIGNED NOT NULL,
  person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  released_at DATETIME(3) NOT NULL,
  reason VARCHAR(1000) NULL,
  checklist MEDIUMTEXT NOT NULL,
  PRIMARY KEY (design_id, letter),
  UNIQUE KEY of_revision (design_id, number),
  CONSTRAINT released_design FOREIGN KEY (design_id) REFERENCES designs (id),
  CONSTRAINT released_revision FOREIGN KEY (design_id, number) REFERENCES revisions (design_id, number)
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS release_files (
  id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  letter VARCHAR(4) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(120) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  hash BINARY(32) NOT NULL,
  size INT UNSIGNED NOT NULL,
  UNIQUE KEY by_name (design_id, letter, name),
  CONSTRAINT file_of_release FOREIGN KEY (design_id, letter) REFERENCES releases (design_id, letter)
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS release_pieces (
  file_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  number SMALLINT UNSIGNED NOT NULL,
  body MEDIUMBLOB NOT NULL,
  PRIMARY KEY (file_id, number),
  CONSTRAINT piece_of_file FOREIGN KEY (file_id) REFERENCES release_files (id)
) ENGINE = InnoDB;
