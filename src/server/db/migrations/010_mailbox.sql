-- Addresses that letters were to be sent to: what each has said to that. The secret part of the way to say it stands in letters to that address alone.
CREATE TABLE IF NOT EXISTS mailbox (
  address VARCHAR(254) COLLATE utf8mb4_bin NOT NULL PRIMARY KEY,
  secret CHAR(43) CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE,
  asked_at DATETIME(3) NULL,
  confirmed_at DATETIME(3) NULL,
  stopped_at DATETIME(3) NULL
) ENGINE=InnoDB;

-- A letter to somebody who has not said yet that they want letters waits for that.
ALTER TABLE letter ADD COLUMN IF NOT EXISTS held BOOLEAN NOT NULL DEFAULT FALSE;

-- Which letters were written lately, by whom and to whom: so many are written in a while, whatever workspaces they come from.
CREATE TABLE IF NOT EXISTS letter_written (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  recipient CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sender CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  written_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY letter_written_at (written_at),
  KEY letter_written_to (recipient, written_at),
  KEY letter_written_by (sender, written_at)
) ENGINE=InnoDB;
