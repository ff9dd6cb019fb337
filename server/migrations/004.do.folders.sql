-- In which folder a person keeps a design, his own or one that is shared with him: each has folders of his own. Harmless when run twice, also at once.
CREATE TABLE IF NOT EXISTS filings (
  person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  folder VARCHAR(80) NOT NULL,
  PRIMARY KEY (person_id, design_id),
  KEY by_folder (person_id, folder),
  KEY by_design (design_id),
  CONSTRAINT filing_of FOREIGN KEY (design_id) REFERENCES designs (id)
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
