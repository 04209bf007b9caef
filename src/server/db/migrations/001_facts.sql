-- Facts of a workspace, their views, and the history of changes. Days are ISO texts: years below 1000 are allowed.
CREATE TABLE IF NOT EXISTS workspace (
  id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  name VARCHAR(200) NOT NULL,
  settings JSON NOT NULL,
  revision BIGINT UNSIGNED NOT NULL DEFAULT 0,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  changed_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
) ENGINE=InnoDB;

-- seq keeps the order in which facts were stated.
CREATE TABLE IF NOT EXISTS entity (
  seq BIGINT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE,
  workspace_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  id VARCHAR(64) COLLATE utf8mb4_bin NOT NULL,
  kind VARCHAR(64) NOT NULL,
  name VARCHAR(400) NOT NULL,
  fields JSON NOT NULL,
  from_day CHAR(10) CHARACTER SET ascii NULL,
  to_day CHAR(10) CHARACTER SET ascii NULL,
  PRIMARY KEY (workspace_id, id),
  CONSTRAINT entity_workspace FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS relation (
  seq BIGINT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE,
  workspace_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  id VARCHAR(64) COLLATE utf8mb4_bin NOT NULL,
  kind VARCHAR(64) NOT NULL,
  source VARCHAR(64) COLLATE utf8mb4_bin NOT NULL,
  target VARCHAR(64) COLLATE utf8mb4_bin NOT NULL,
  fields JSON NOT NULL,
  from_day CHAR(10) CHARACTER SET ascii NULL,
  to_day CHAR(10) CHARACTER SET ascii NULL,
  PRIMARY KEY (workspace_id, id),
  CONSTRAINT relation_workspace FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS `view` (
  workspace_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  id VARCHAR(64) COLLATE utf8mb4_bin NOT NULL,
  definition JSON NOT NULL,
  PRIMARY KEY (workspace_id, id),
  CONSTRAINT view_workspace FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- change_id comes from the browser: a change that is sent twice is made once.
CREATE TABLE IF NOT EXISTS `change` (
  workspace_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision BIGINT UNSIGNED NOT NULL,
  change_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  label VARCHAR(1000) NOT NULL,
  author VARCHAR(100) NOT NULL,
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  steps JSON NOT NULL,
  inverse JSON NOT NULL,
  PRIMARY KEY (workspace_id, revision),
  UNIQUE KEY change_once (workspace_id, change_id),
  CONSTRAINT change_workspace FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE
) ENGINE=InnoDB;
