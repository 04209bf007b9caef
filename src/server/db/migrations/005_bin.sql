-- A workspace that was deleted lies in the bin for a while.
ALTER TABLE workspace ADD COLUMN deleted_at DATETIME(3) NULL, ADD INDEX workspace_deleted (deleted_at);
