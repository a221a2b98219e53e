CREATE TABLE `cameras` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`sealed` text NOT NULL,
	`key_made_at` bigint NOT NULL,
	CONSTRAINT `cameras_id` PRIMARY KEY(`id`)
);
