-- Views of equal order keep the order in which they were made.
ALTER TABLE `view` ADD COLUMN IF NOT EXISTS seq BIGINT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE;
