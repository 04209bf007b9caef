-- Addresses at which other programs read a view. The secret part is known to those who have the address only: its digest is kept.
CREATE TABLE IF NOT EXISTS `share` (
  id CHAR(13) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  workspace_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  view_id VARCHAR(64) COLLATE utf8mb4_bin NOT NULL,
  format VARCHAR(64) CHARACTER SET ascii NOT NULL,
  digest CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE,
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  read_at DATETIME(3) NULL,
  KEY share_view (workspace_id, view_id),
  CONSTRAINT share_workspace FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE
) ENGINE=InnoDB;
