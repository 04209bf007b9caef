-- Each state of a workspace has a mark that no other has, be it of the same revision: after a failure the last revisions may be undone and made anew.
ALTER TABLE workspace
  ADD COLUMN IF NOT EXISTS lineage CHAR(22) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS origin CHAR(22) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '';
UPDATE workspace SET lineage = LEFT(SHA1(CONCAT(id, UUID())), 22) WHERE lineage = '';

-- Whose change it is, as a digest of what only that page knows; and a digest of what was sent, by which the same is known when it is sent again.
ALTER TABLE `change`
  ADD COLUMN IF NOT EXISTS lineage CHAR(22) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS writer CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD COLUMN IF NOT EXISTS digest CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL;
UPDATE `change` c JOIN workspace w ON w.id = c.workspace_id AND w.revision = c.revision SET c.lineage = w.lineage WHERE c.lineage = '';

-- What was found in a workspace at a state on a day: the list of workspaces is read from here.
CREATE TABLE IF NOT EXISTS summary (
  workspace_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  lineage CHAR(22) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  day CHAR(10) CHARACTER SET ascii NOT NULL,
  chapters JSON NOT NULL,
  tally JSON NULL,
  trouble VARCHAR(200) NULL,
  CONSTRAINT summary_workspace FOREIGN KEY (workspace_id) REFERENCES workspace (id) ON DELETE CASCADE
) ENGINE=InnoDB;
