-- A workspace that was deleted lies in the bin for a while.
ALTER TABLE workspace ADD COLUMN IF NOT EXISTS deleted_at DATETIME(3) NULL, ADD INDEX IF NOT EXISTS workspace_deleted (deleted_at);
