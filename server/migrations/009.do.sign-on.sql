-- Signing in with an issuer of OpenID Connect. Harmless when run twice, also at once.
CREATE TABLE IF NOT EXISTS identities (
  -- SHA-256 of the issuer's address: addresses are longer than a key may be.
  issuer BINARY(32) NOT NULL,
  subject VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  created_at DATETIME(3) NOT NULL,
  PRIMARY KEY (issuer, subject),
  KEY by_person (person_id)
) ENGINE = InnoDB DEFAULT CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;

-- Sign-ins that have been begun and not come back from the issuer.
CREATE TABLE IF NOT EXISTS sign_ons (
  state_hash BINARY(32) NOT NULL PRIMARY KEY,
  issuer VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  verifier VARCHAR(128) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  nonce VARCHAR(128) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- Who was signed in when it was begun: the identity is added to that account.
  person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL,
  back_to VARCHAR(200) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  begun_at DATETIME(3) NOT NULL,
  KEY by_begun (begun_at)
) ENGINE = InnoDB;

ALTER TABLE sessions
  ADD COLUMN IF NOT EXISTS issuer VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD COLUMN IF NOT EXISTS id_token TEXT CHARACTER SET ascii COLLATE ascii_bin NULL;
