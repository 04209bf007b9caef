-- What people say of facts, of places and of views, in threads; the first of a thread has its own id as that of the thread, and says what it is about.
-- What was said at an address for readers keeps which, so that those who read there see the thread and no other.
CREATE TABLE IF NOT EXISTS comment (
  seq BIGINT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE,
  workspace_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  thread VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  reader_id CHAR(13) CHARACTER SET ascii COLLATE ascii_bin NULL,
  view_id VARCHAR(64) COLLATE utf8mb4_bin NOT NULL,
  fact_id VARCHAR(64) COLLATE utf8mb4_bin NULL,
  x INT NULL,
  y INT NULL,
  author VARCHAR(100) NOT NULL,
  by_reader BOOLEAN NOT NULL,
  mail VARCHAR(254) NULL,
  words TEXT NOT NULL,
  proposal JSON NULL,
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  resolved_at DATETIME(3) NULL,
  resolved_by VARCHAR(100) NULL,
  taken BOOLEAN NOT NULL DEFAULT FALSE,
  gone_at DATETIME(3) NULL,
  PRIMARY KEY (workspace_id, id),
  KEY comment_thread (workspace_id, thread),
  KEY comment_reader (reader_id, made_at),
  CONSTRAINT comment_workspace FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- Counts what happens to the comments of a workspace, as revision counts its changes: who listens asks for it.
ALTER TABLE workspace ADD COLUMN IF NOT EXISTS talk BIGINT UNSIGNED NOT NULL DEFAULT 0;

-- Whether those who read at an address may say something there.
ALTER TABLE reader ADD COLUMN IF NOT EXISTS comments BOOLEAN NOT NULL DEFAULT FALSE;

-- Letters that are still to be sent. One that was sent is gone from here.
CREATE TABLE IF NOT EXISTS letter (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  recipient VARCHAR(254) NOT NULL,
  subject VARCHAR(300) NOT NULL,
  words TEXT NOT NULL,
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  try_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  tries INT UNSIGNED NOT NULL DEFAULT 0,
  KEY letter_due (try_at)
) ENGINE=InnoDB;
