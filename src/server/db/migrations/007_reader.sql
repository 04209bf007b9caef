-- Addresses at which people read views without changing anything. The secret part is known to those who have the address only: its digest is kept.
-- What is read: one view, a chapter, or all; on a day of its own or on that of reading; until a last day, if there is one.
CREATE TABLE IF NOT EXISTS reader (
  id CHAR(13) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  workspace_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  reach ENUM('view', 'chapter', 'workspace') NOT NULL,
  of_id VARCHAR(64) COLLATE utf8mb4_bin NOT NULL,
  day CHAR(10) CHARACTER SET ascii NULL,
  until CHAR(10) CHARACTER SET ascii NULL,
  findings BOOLEAN NOT NULL,
  digest CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE,
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  read_at DATETIME(3) NULL,
  KEY reader_workspace (workspace_id),
  CONSTRAINT reader_workspace FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE
) ENGINE=InnoDB;
