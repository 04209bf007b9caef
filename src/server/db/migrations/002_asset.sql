-- Pictures that facts name, drawn anew when they are uploaded. An identity is the digest of the bytes: the same picture is kept once.
CREATE TABLE IF NOT EXISTS asset (
  workspace_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  id CHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  media_type VARCHAR(40) CHARACTER SET ascii NOT NULL,
  content MEDIUMBLOB NOT NULL,
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (workspace_id, id),
  CONSTRAINT asset_workspace FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE
) ENGINE=InnoDB;
