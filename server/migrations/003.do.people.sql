-- People, their sessions, what they share and what they did. Harmless when run twice, also at once.
CREATE TABLE IF NOT EXISTS people (
  id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  login VARCHAR(120) NOT NULL,
  name VARCHAR(120) NOT NULL,
  role ENUM ('administrator', 'member') NOT NULL,
  passphrase VARCHAR(255) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  disabled_at DATETIME(3) NULL,
  UNIQUE KEY one_login (login)
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS sessions (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  created_at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  KEY by_person (person_id),
  KEY by_seen (seen_at)
) ENGINE = InnoDB DEFAULT CHARACTER SET ascii COLLATE ascii_bin;

-- Invitations and new passphrases: used once, within their time.
CREATE TABLE IF NOT EXISTS invitations (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  role ENUM ('administrator', 'member') NOT NULL,
  -- Whose passphrase is set anew; none for an invitation.
  person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL,
  created_by CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL,
  expires_at DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS counts (
  name VARBINARY(100) NOT NULL,
  window_start DATETIME NOT NULL,
  count INT UNSIGNED NOT NULL,
  PRIMARY KEY (name, window_start),
  KEY by_window (window_start)
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS shares (
  design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  may ENUM ('look', 'edit') NOT NULL,
  link_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL,
  created_at DATETIME(3) NOT NULL,
  PRIMARY KEY (design_id, person_id),
  KEY by_person (person_id),
  CONSTRAINT share_of FOREIGN KEY (design_id) REFERENCES designs (id)
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS links (
  id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  token_hash BINARY(32) NOT NULL,
  may ENUM ('look', 'edit') NOT NULL,
  created_at DATETIME(3) NOT NULL,
  expires_at DATETIME(3) NOT NULL,
  UNIQUE KEY one_token (token_hash),
  KEY by_design (design_id),
  CONSTRAINT link_to FOREIGN KEY (design_id) REFERENCES designs (id)
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;

-- Who did what; the same thing done again within an hour is one line with how often.
CREATE TABLE IF NOT EXISTS audit (
  id BINARY(16) NOT NULL PRIMARY KEY,
  person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  action VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  design_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL,
  detail VARCHAR(200) NOT NULL DEFAULT '',
  first_at DATETIME(3) NOT NULL,
  last_at DATETIME(3) NOT NULL,
  times INT UNSIGNED NOT NULL DEFAULT 1,
  KEY by_time (last_at),
  KEY by_design (design_id, last_at)
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
