-- Views of equal order keep the order in which they were made.
ALTER TABLE `view` ADD COLUMN seq BIGINT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE;
